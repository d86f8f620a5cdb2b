import { Random } from '../../base/random.js';
import { causeOf } from '../session/late.js';
import { fullEvery, Session } from '../session/session.js';
import { isAsked, type Script, type ScriptStep } from '../script.js';
import type { Finding, KeptScript, Searching } from '../searching.js';
import { Drawing } from './drawing.js';
import { drawnCircumstances, mixed, usualLength, type PlannedScript } from './planned-script.js';
import type { Traits } from './traits.js';

/** The number of steps that the first participant may be ahead of the others in a random script, and in a short one. */
export const mostAhead = 5 * fullEvery;
const mostAheadInShort = 2 * fullEvery;

/** The chance that a script is a quiet one. */
const shareOfQuiet = 0.12;
/** The chance that a step that comes to nothing is done with all participants all the same. */
const shareOfIdle = 0.15;

/** Draws and runs one script, with the first participant alone if that is wanted; what it found, and the steps after which it reached something new. */
export async function randomScript(
  searching: Searching,
  seed: number,
  planned: PlannedScript,
  traits: Traits,
  isAlone = false,
): Promise<Finding & { readonly kept: readonly KeptScript[]; readonly steps: number }> {
  const { number, length, varied, circumstances: given } = planned;
  const random = new Random(mixed(seed, number));
  const drawing = new Drawing(searching, random, planned);
  const isQuiet = random.chance(shareOfQuiet);
  const circumstances = given ?? drawnCircumstances(random);
  const session = new Session(searching.participants, searching.observed, {
    look: isQuiet ? 'unasked' : 'new',
    watches: !isQuiet,
    circumstances,
    isAlone,
    reached: searching.reached,
    ahead: length < usualLength ? mostAheadInShort : mostAhead,
  });
  const steps: ScriptStep[] = [];
  const script: Script = { ...(isQuiet && { quiet: true }), ...circumstances, steps };
  const result = (difference?: Finding['difference']) => ({
    difference,
    script,
    notReported: session.notReported,
    steps: session.steps,
    kept: news,
  });
  const news: KeptScript[] = [];
  const { reached, ways } = searching;
  const counts = () =>
    [reached.added, ways?.added ?? [], traits.added, reached.nearer, reached.led].map(
      ({ length }) => length,
    );
  let before = counts();
  /** Keeps the script so far if it reached something new. */
  const keepNews = () => {
    const after = counts();
    if (after.every((count, i) => count === before[i])) return;
    const [points = 0, gone = 0, met = 0, near = 0, led = 0] = before;
    news.push({
      steps: [...steps],
      circumstances,
      reaches: reached.added.slice(points),
      gone: ways?.added.slice(gone) ?? [],
      traits: traits.added.slice(met),
      near: reached.nearer.slice(near),
      led: reached.led.slice(led),
    });
    before = after;
  };
  let again = planned.aim?.point;
  /** Keeps the script so far if it was the first to reach again what it was to reach. */
  const keepAgain = () => {
    if (again === undefined || reached.countOf(again) === 0) return;
    news.push({ steps: [...steps], circumstances, reaches: [], again });
    again = undefined;
  };
  const ahead = [...varied];
  /** How many steps in a row have changed nothing. */
  let dull = 0;
  while (steps.length < length) {
    const step = ahead.shift();
    const next = step === undefined ? drawing.next(session) : drawing.known(step, session);
    if (next === undefined) continue;
    const keepsIdle = !isAsked(next) || drawing.isMove(next) || random.chance(shareOfIdle);
    const options = { skipIdle: !keepsIdle };
    const { done, changed, difference } = session.isSlow
      ? await session.play(next, options)
      : session.step(next, options);
    if (!done) {
      keepNews();
      if (drawing.isTired()) break;
      continue;
    }
    drawing.done(next);
    steps.push(next);
    if (difference !== undefined) {
      session.close();
      steps.length = difference.step + 1;
      return result(difference);
    }
    dull = changed ? 0 : dull + 1;
    if (changed) traits.look(session.state, session.tasks?.running);
    keepNews();
    keepAgain();
    if (steps.length % fullEvery > 0) continue;
    if (dull >= mostDull || drawing.isTooMuch(session.state)) break;
  }
  const difference = await session.settled();
  session.close();
  keepNews();
  if (difference?.cause !== undefined) return { ...result(), ...causeOf(difference) };
  if (difference !== undefined) steps.length = difference.step + 1;
  return result(difference);
}

/** How many steps in a row may change nothing before a script ends early. */
const mostDull = 4 * fullEvery;
