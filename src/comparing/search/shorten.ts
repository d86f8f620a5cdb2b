import { Session } from '../session/session.js';
import type { Script } from '../script.js';
import type { KeptScript, Searching } from '../searching.js';
import { shrink, type Ending } from '../shrinking/shrink.js';

/** Leaves out steps of a script that a point needs not: the first participant alone says whether it is still reached. */
export interface ShortenItem {
  readonly kind: 'shorten';
  readonly script: KeptScript;
  /** The point, by its place. */
  readonly point: number;
}

/** So many shorter scripts are tried. */
const mostTries = 80;

/** A script that reaches a point, with fewer steps if that is found out soon. */
export async function shorten(
  searching: Searching,
  { steps, circumstances = {} }: KeptScript,
  point: number,
): Promise<KeptScript> {
  const reaches = (script: Script) => endOf(searching, script, point);
  const script = { ...circumstances, steps };
  const end = await reaches(script);
  if (end === undefined) return { steps, circumstances, reaches: [] };
  const least = await shrink({ script, difference: end }, reaches, { most: mostTries });
  return { steps: least.script.steps, circumstances, reaches: [] };
}

/** The step of a script that reaches a point, done with the first participant alone; `undefined` if none does. */
async function endOf(
  { participants, observed, reached }: Searching,
  script: Script,
  point: number,
): Promise<Ending | undefined> {
  const { steps, ...circumstances } = script;
  const session = new Session(participants, observed, {
    look: 'nothing',
    watches: false,
    isAlone: true,
    circumstances,
    reached,
  });
  const before = reached.countOf(point);
  const calls: number[] = [];
  let end: Ending | undefined;
  for (const [step, one] of steps.entries()) {
    calls.push(session.outside?.count ?? 0);
    await session.play(one);
    if (reached.countOf(point) === before) continue;
    end = { step, ...(session.isSlow && { calls }) };
    break;
  }
  session.close();
  return end;
}
