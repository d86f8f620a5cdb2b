import { Random } from '../../base/random.js';
import type { Store } from '../../model/application.js';
import type { Target } from '../../model/participant.js';
import { choicesOf, drawnInput, smallInputs, startsOf, type Choice } from '../inputs/inputs.js';
import { causeOf } from '../comparing/late.js';
import { deedOf } from '../deed-of.js';
import { drawOdd, type Odd } from '../inputs/odd-values.js';
import { PayloadSource } from '../inputs/payloads.js';
import { drawnStorage, lazyStores, savedStores } from '../inputs/storage-inputs.js';
import { TaskInputs } from '../inputs/task-inputs.js';
import {
  idKinds,
  isAsked,
  isSend,
  waysToPass,
  type Circumstances,
  type Script,
  type ScriptStep,
  type SendStep,
} from '../script.js';
import { fullEvery, Session } from '../comparing/session.js';
import { sizeOf } from './state-key.js';
import type { Traits } from './traits.js';
import { variation, type PlannedStep } from './vary.js';
import type { Finding, KeptScript, Searching } from '../searching.js';

/** How many steps the first participant may be ahead of the others in a random script, and in a short one. */
export const mostAhead = 5 * fullEvery;
const mostAheadInShort = 2 * fullEvery;

/** How many steps a script has that is new, and how many more one has that is a variation: its last step is compared in full. */
const shortLength = 4 * fullEvery;
const usualLength = 10 * fullEvery;
const greatLength = 60 * fullEvery;
const mostAfter = 4 * fullEvery;

/** How often a script is a variation of one that was kept; of the others, how often one is short, or long. */
const shareOfVaried = 0.6;
const shareOfShort = 0.4;
const shareOfLong = 0.25;
/** How often the script that is varied is one of the newest, and how many these are. */
const shareOfNewest = 0.5;
const newest = 40;
/** How often a script is a quiet one, one with watchers of its own. */
const shareOfQuiet = 0.12;
const shareOfWatching = 0.2;
/** How often a script has something odd. */
const shareOfOdd = 0.1;
/** How often a script is made of a few payloads only, and then of the actions of one store. */
const shareOfSmall = 0.35;
const shareOfOneStore = 0.6;
/** How often a script sends some of the actions only: what puts things back is missing then, and states grow. */
const shareOfFew = 0.3;
/** How often a script mostly passes over actions that only put back or take away, and how often it passes over one. */
const shareOfGrowing = 0.6;
const shareOfPassedOver = 0.85;
/** A script ends when the state, as text, is longer than that. */
const longestState = 20_000;
/** How often a script does without what has shown a difference: what others show would be hidden by it. */
const shareOfWithout = 0.75;
/** How often a step that comes to nothing is done with all participants all the same. */
const shareOfIdle = 0.15;
/** How often a script fills a history and then goes through all of it; how often an undo is the first of several. */
const shareOfDeep = 0.2;
const shareOfRows = 0.3;
/** How often something is done to the storage, where something is saved. */
const shareOfStorage = 0.06;
/** How often a script is about that above all, and how often it is done then. */
const shareOfKeeping = 0.2;
const shareOfStorageThen = 0.35;
/** How often a lazy store is attached that is not there, and one that is. */
const shareOfAttaching = 0.12;
const shareOfAgain = 0.01;
/** A history is filled if it takes no more changes than that. */
const mostFilled = 60;
/** How often a watching script adds or stops a watcher in place of sending. */
const shareOfWatchers = 0.2;

/** How often an object is passed in another way than usual. */
const shareOfPassed = 0.06;
/** How often identifiers are alike, or numbers; how often each participant has a second instance. */
const shareOfIds = 0.2;
const shareOfBeside = 0.06;

/** Under which circumstances a script is done. */
function drawnCircumstances(random: Random): Circumstances {
  return {
    ...(random.chance(shareOfIds) && { ids: random.pick(idKinds) }),
    ...(random.chance(shareOfBeside) && { beside: true }),
  };
}

/** What is settled of a script before it is drawn. */
export interface PlannedScript {
  /** Its number: with the seed, it says what is drawn. */
  readonly number: number;
  /** The most steps. */
  readonly length: number;
  /** The steps of a script that reached something, varied; none if it is a new one. */
  readonly varied: readonly PlannedStep[];
  /** What its payloads are made of again and again; nothing odd if not given. */
  readonly odd?: Odd | undefined;
  /** The actions and tasks that it does not have: what is wrong with them is told already. */
  readonly without?: readonly string[];
  /** The circumstances of the script that it varies. */
  readonly circumstances?: Circumstances;
}

/** Plans a script, by its number and the seed, and what was kept so far. */
export function plannedScript(
  seed: number,
  number: number,
  kept: readonly KeptScript[],
  told: readonly string[] = [],
): PlannedScript {
  const random = new Random(mixed(seed, number) ^ planning);
  const odd = random.chance(shareOfOdd) ? drawOdd(random) : undefined;
  const without = told.length > 0 && random.chance(shareOfWithout) ? told : [];
  const isMeant = (step: PlannedStep) => 'again' in step || !without.includes(deedOf(step));
  if (kept.length === 0 || !random.chance(shareOfVaried))
    return { number, length: newLength(random), varied: [], odd, without };
  const base = pickKept(kept, random);
  const steps = variation(base.steps, random.pick(kept).steps, random).filter(isMeant);
  const { circumstances } = base;
  const length = steps.length + fullEvery + random.below(mostAfter);
  return { number, length, varied: steps, odd, without, ...(circumstances && { circumstances }) };
}

function newLength(random: Random): number {
  if (random.chance(shareOfShort)) return shortLength;
  return random.chance(shareOfLong) ? greatLength : usualLength;
}

const pickKept = (kept: readonly KeptScript[], random: Random): KeptScript =>
  random.pick(random.chance(shareOfNewest) ? kept.slice(-newest) : kept);

/** What is planned is drawn from another source than what is done. */
const planning = 0x5bd1e995;

/** A seed for each script, so that it does not matter who runs it, and after which others. */
function mixed(seed: number, number: number): number {
  let mix = Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(number + 1, 0xc2b2ae35);
  mix = Math.imul(mix ^ (mix >>> 15), 0x2c1b3c6d);
  return mix ^ (mix >>> 12);
}

/** Draws and runs one script; what it found, and the steps after which it reached something new. */
export async function randomScript(
  searching: Searching,
  seed: number,
  { number, length, varied, odd, without = [], circumstances: given }: PlannedScript,
  traits: Traits,
): Promise<Finding & { readonly kept: readonly KeptScript[]; readonly steps: number }> {
  const random = new Random(mixed(seed, number));
  const drawing = new Drawing(searching, random, odd, without);
  const isQuiet = random.chance(shareOfQuiet);
  const circumstances = { ...given, ...drawnCircumstances(random) };
  const session = new Session(searching.participants, searching.observed, {
    look: isQuiet ? 'unasked' : 'new',
    watches: !isQuiet,
    circumstances,
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
  let [points, gone, met] = [reached.added.length, ways?.added.length ?? 0, traits.added.length];
  /** Keeps the script so far if it reached something new. */
  const keepNews = () => {
    const after = [reached.added.length, ways?.added.length ?? 0, traits.added.length] as const;
    if (after[0] === points && after[1] === gone && after[2] === met) return;
    news.push({
      steps: [...steps],
      circumstances,
      reaches: reached.added.slice(points),
      gone: ways?.added.slice(gone) ?? [],
      traits: traits.added.slice(met),
    });
    [points, gone, met] = after;
  };
  const ahead = [...varied];
  /** How many steps in a row have changed nothing. */
  let dull = 0;
  while (steps.length < length) {
    const planned = ahead.shift();
    const next = planned === undefined ? drawing.next(session) : drawing.known(planned, session);
    if (next === undefined) continue;
    const keepsIdle = !isAsked(next) || drawing.isMove(next) || random.chance(shareOfIdle);
    const options = { skipIdle: !keepsIdle };
    const { done, changed, difference } = session.isSlow
      ? await session.play(next, options)
      : session.step(next, options);
    if (!done) {
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
    if (changed) traits.look(session.state);
    keepNews();
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

/** How many draws in a row may come to nothing before a script ends early. */
const patience = 60;

/** Draws the steps of one script. */
class Drawing {
  readonly #searching: Searching;
  readonly #random: Random;
  readonly #payloads: PayloadSource;
  readonly #choices: readonly Choice[];
  readonly #every: readonly Choice[];
  readonly #starts: readonly Choice[];
  readonly #targets: readonly Target[];
  readonly #isSmall: boolean;
  readonly #isWatching: boolean;
  readonly #isOfFew: boolean;
  readonly #isGrowing: boolean;
  readonly #times = new Map<string, number>();
  readonly #watchers: string[] = [];
  readonly #tasks: TaskInputs;
  readonly #saved: ReturnType<typeof savedStores>;
  readonly #lazy: readonly string[];
  readonly #shareOfStorage: number;
  /** The steps that are drawn already. */
  readonly #ahead: ScriptStep[] = [];
  readonly #without: ReadonlySet<string>;
  /** The actions of which several in a row are undone at once. */
  readonly #together: ReadonlySet<string>;
  /** The store whose history is being filled. */
  #filled: Store | undefined;
  #idle = 0;

  constructor(
    searching: Searching,
    random: Random,
    odd: Odd | undefined,
    without: readonly string[],
  ) {
    this.#searching = searching;
    this.#random = random;
    this.#payloads = new PayloadSource(
      searching.application.types,
      random,
      odd,
      searching.constants,
    );
    const { application, participants } = searching;
    this.#tasks = new TaskInputs(application, participants, this.#payloads);
    this.#saved = savedStores(application, participants);
    this.#lazy = lazyStores(application, participants);
    const keeps = this.#saved.length > 0 && random.chance(shareOfKeeping);
    this.#shareOfStorage = keeps ? shareOfStorageThen : shareOfStorage;
    this.#isSmall = random.chance(shareOfSmall);
    // A script's own watchers are there for everybody, or for nobody: what they send is.
    this.#targets = searching.observed.targets.filter((target) =>
      searching.participants.every(({ has }) => has?.targets.has(target) !== false),
    );
    this.#every = choicesOf(application, participants);
    this.#starts = startsOf(application, participants);
    this.#isWatching = random.chance(shareOfWatching) && this.#targets.length > 0;
    const every = this.#every;
    const meant = every.filter(({ name }) => !without.includes(name));
    const all = meant.length === 0 ? every : meant;
    this.#without = new Set(without);
    const isOfOne = this.#isSmall && random.chance(shareOfOneStore);
    const { store } = random.pick(all);
    const some = isOfOne ? all.filter((choice) => choice.store === store) : all;
    this.#isGrowing = random.chance(shareOfGrowing);
    this.#isOfFew = random.chance(shareOfFew);
    const few = this.#isOfFew ? some.filter(() => random.chance(0.5)) : some;
    this.#choices = few.length === 0 ? some : few;
    this.#together = new Set(application.stores.flatMap(({ history }) => history?.together ?? []));
    const stores = all.flatMap(({ store, action }) => (action.move === 'undo' ? [store] : []));
    const shallow = stores.filter(({ history }) => (history?.limit ?? Infinity) <= mostFilled);
    if (random.chance(shallow.length > 0 ? shareOfDeep : 0)) this.#filled = random.pick(shallow);
  }

  /** Whether a step goes through a history: what cannot be undone any more tells as much as what can. */
  isMove(step: ScriptStep): boolean {
    return (
      isSend(step) &&
      this.#choices.some(({ name, action }) => action.move !== undefined && name === step.send)
    );
  }

  /** Whether the state has grown so much that going on would take too long. */
  isTooMuch(state: Readonly<Record<string, unknown>>): boolean {
    return (this.#isOfFew || this.#isGrowing) && sizeOf(state) > longestState;
  }

  next(session: Pick<Session, 'state' | 'outside' | 'tasks' | 'histories'>): ScriptStep {
    const { state, outside, tasks } = session;
    const drawn = this.#ahead.shift();
    if (drawn !== undefined) return drawn;
    this.#goThrough(session);
    const lazy = this.#lazy.length === 0 ? undefined : this.#random.pick(this.#lazy);
    if (lazy !== undefined) {
      const share = state[lazy] === null ? shareOfAttaching : shareOfAgain;
      if (this.#random.chance(share)) return { attach: lazy };
    }
    if (this.#saved.length > 0 && this.#random.chance(this.#shareOfStorage)) {
      const { application } = this.#searching;
      const [first, ...others] = drawnStorage(application, this.#saved, this.#payloads, state);
      this.#ahead.push(...others);
      if (first !== undefined) return first;
    }
    const ofTask = outside && this.#tasks.draw({ state, outside, tasks });
    if (ofTask !== undefined && !this.#without.has(deedOf(ofTask))) return ofTask;
    if (this.#isWatching && this.#random.chance(shareOfWatchers)) return this.#watcher(state);
    return this.#input(state);
  }

  done(step: ScriptStep): void {
    this.#idle = 0;
    if (isSend(step)) this.#times.set(step.send, (this.#times.get(step.send) ?? 0) + 1);
  }

  /** Whether nothing comes of anything any more. */
  isTired(): boolean {
    return ++this.#idle > patience;
  }

  /** Once a history is full, and one change more, all of it is undone, and some of that redone. */
  #goThrough({ histories }: Pick<Session, 'histories'>): void {
    const { name = '', history } = this.#filled ?? {};
    if (history === undefined) return;
    const { past = [] } = histories?.get(name) ?? {};
    if (past.length < history.limit || this.#random.chance(0.5)) return;
    this.#filled = undefined;
    this.#ahead.push(...this.#moves(name, history.limit + 1));
  }

  /** Several times undo, then some times redo. */
  #moves(store: string, undos: number): SendStep[] {
    const redos = this.#random.below(undos + 1);
    return [
      ...Array.from({ length: undos }, () => ({ send: `${store}.undo` })),
      ...Array.from({ length: redos }, () => ({ send: `${store}.redo` })),
    ];
  }

  #input(state: Readonly<Record<string, unknown>>): SendStep {
    const choice = this.#choice();
    if (choice.action.move === 'undo' && this.#random.chance(shareOfRows)) {
      const [first, ...others] = this.#moves(choice.store.name, 1 + this.#random.below(6));
      this.#ahead.push(...others);
      return first as SendStep;
    }
    // Of several in a row that are undone at once.
    if (this.#together.has(choice.name) && this.#random.chance(shareOfRows))
      this.#ahead.push(this.#drawn(choice, state));
    return this.#drawn(choice, state);
  }

  #drawn(choice: Choice, state: Readonly<Record<string, unknown>>): SendStep {
    const { application } = this.#searching;
    const drawn = this.#isSmall
      ? this.#random.pick(smallInputs(application, choice, state))
      : drawnInput(application, choice, this.#payloads, state);
    const isObject = typeof drawn.payload === 'object' && drawn.payload !== null;
    if (!isObject || !this.#random.chance(shareOfPassed)) return drawn;
    return { ...drawn, passed: this.#random.pick(waysToPass) };
  }

  /** Of two, mostly the one that was done less often. */
  #choice(): Choice {
    const [one, other] = [this.#pick(), this.#pick()];
    const times = ({ name }: Choice) => this.#times.get(name) ?? 0;
    return this.#random.chance(0.5) && times(other) < times(one) ? other : one;
  }

  #pick(): Choice {
    const choice = this.#random.pick(this.#choices);
    const isGrowing = this.#isGrowing || this.#filled !== undefined;
    const isPassedOver = isGrowing && choice.isUndoing && this.#random.chance(shareOfPassedOver);
    return isPassedOver ? this.#random.pick(this.#choices) : choice;
  }

  #watcher(state: Readonly<Record<string, unknown>>): ScriptStep {
    if (this.#watchers.length > 0 && this.#random.chance(0.35))
      return { stop: this.#random.pick(this.#watchers) };
    const as = `w${this.#watchers.length + 1}`;
    this.#watchers.push(as);
    const watch = this.#random.pick(this.#targets);
    const kind = this.#random.fraction();
    // Old stores have no turns, and nobody who tells what a watcher throws.
    const isWhole = this.#searching.participants.every(({ has }) => has === undefined);
    if (kind < 0.3 || !isWhole) return { watch, as };
    if (kind < 0.42) return { watch, as, then: 'throw' };
    if (kind < 0.58) return { watch, as, then: { stop: this.#random.pick(this.#watchers) } };
    if (kind > 0.7) return { watch, as, then: this.#input(state) };
    // What is added looks at the same, mostly: who is told of it now?
    const other = this.#random.chance(0.6) ? watch : this.#random.pick(this.#targets);
    return { watch, as, then: { watch: other, as: `${as}a` } };
  }

  /** A planned step: one whose action is drawn anew, or as it is; `undefined` if that cannot be sent. */
  known(
    planned: PlannedStep,
    { state, outside }: Pick<Session, 'state' | 'outside'>,
  ): ScriptStep | undefined {
    // Other calls were made meanwhile: one that waits is answered in place of one that does not.
    const [open] = outside?.open ?? [];
    if ('answer' in planned && open !== undefined && !outside?.open.includes(planned.answer))
      return { ...planned, answer: open };
    if (!('again' in planned)) return planned;
    const choice = this.#every.find(({ name }) => name === planned.again);
    if (choice !== undefined) return this.#drawn(choice, state);
    const start = this.#starts.find(({ name }) => name === planned.again);
    if (start === undefined) return undefined;
    const { send, ...given } = this.#drawn(start, state);
    return { start: send, ...given };
  }
}
