import type { Random } from '../../base/random.js';
import type { Store } from '../../model/application.js';
import { wellFormed } from '../inputs/odd-values.js';
import { placeOf, type Bound } from '../../model/bounds.js';
import type { Target } from '../../model/participant.js';
import type { Session } from '../session/session.js';
import { choicesOf, drawnInput, smallInputs, startsOf, type Choice } from '../inputs/inputs.js';
import { PayloadSource } from '../inputs/payloads.js';
import { drawnStorage, lazyStores, savedStores } from '../inputs/storage-inputs.js';
import { TaskInputs } from '../inputs/task-inputs.js';
import {
  isSend,
  waysToFollow,
  waysToPass,
  type ScriptStep,
  type SendStep,
  type StartStep,
} from '../script.js';
import type { Searching } from '../searching.js';
import type { Aim, PlannedScript } from './planned-script.js';
import { sizeOf } from './state-key.js';
import type { PlannedStep } from './vary.js';

/** The chance that a script is made of a few payloads only, and then of the actions of one store. */
const shareOfSmall = 0.35;
const shareOfOneStore = 0.6;
/** The chance that a script sends some of the actions only: what puts things back is missing then, and states grow. */
const shareOfFew = 0.3;
/** The chance that a script mostly passes over actions that only put back or take away, and that it passes over one. */
const shareOfGrowing = 0.6;
const shareOfPassedOver = 0.85;
/** The chance that a script that is to get to an action does that one. */
const shareOfAim = 0.2;
/** A script ends when the state, as text, is longer than that. */
const longestState = 20_000;
/** The chance that a script has watchers of its own. */
const shareOfWatching = 0.2;
/** The chance that a script fills a history and then goes through all of it; that an undo is the first of several. */
const shareOfDeep = 0.2;
const shareOfRows = 0.3;
/** The chance that something is done to the storage, where something is saved. */
const shareOfStorage = 0.06;
/** The chance that a script is about that above all, and that it is done then. */
const shareOfKeeping = 0.2;
const shareOfStorageThen = 0.35;
/** The chance that a lazy store is attached that is not there, and one that is. */
const shareOfAttaching = 0.12;
const shareOfAgain = 0.01;
/** A history is filled if it takes no more changes than that. */
const mostFilled = 60;
/** The chance that a watching script adds or stops a watcher in place of sending. */
const shareOfWatchers = 0.2;

/** The chance that an object is passed in another way than usual. */
const shareOfPassed = 0.06;
/** How many draws in a row may come to nothing before a script ends early. */
const patience = 60;

/** Draws the steps of one script. */
export class Drawing {
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
  readonly #aim: Aim | undefined;
  /** The actions of which several in a row are undone at once. */
  readonly #together: ReadonlySet<string>;
  /** The store whose history is being filled. */
  #filled: Store | undefined;
  #idle = 0;

  constructor(
    searching: Searching,
    random: Random,
    { odd, without = [], aim }: Pick<PlannedScript, 'odd' | 'without' | 'aim'>,
  ) {
    this.#searching = searching;
    this.#random = random;
    this.#payloads = new PayloadSource(
      searching.application.types,
      random,
      odd && { ...odd, text: textFor(searching, odd.text) },
      searching.constants,
      hasMetBounds(searching),
    );
    const { application, participants } = searching;
    this.#without = new Set(without);
    this.#aim = aim;
    this.#tasks = new TaskInputs(application, participants, this.#payloads, (name) =>
      this.#isMeant(name),
    );
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
    const isOfOne = this.#isSmall && random.chance(shareOfOneStore);
    // There may be tasks alone.
    const one = all.length === 0 ? undefined : random.pick(all).store;
    const some = isOfOne ? all.filter(({ store }) => store === one) : all;
    this.#isGrowing = random.chance(shareOfGrowing);
    this.#isOfFew = random.chance(shareOfFew);
    const few = this.#isOfFew ? some.filter(() => random.chance(0.5)) : some;
    const leading = aim === undefined ? few : all.filter(({ name }) => isPartOf(aim, name));
    this.#choices = leading.length > 0 ? leading : few.length > 0 ? few : some;
    this.#together = new Set(application.stores.flatMap(({ history }) => history?.together ?? []));
    const stores = all.flatMap(({ store, action }) => (action.move === 'undo' ? [store] : []));
    const shallow = stores.filter(({ history }) => (history?.limit ?? Infinity) <= mostFilled);
    if (random.chance(shallow.length > 0 ? shareOfDeep : 0)) this.#filled = random.pick(shallow);
  }

  /** True if a step goes through a history: what cannot be undone any more tells as much as what can. */
  isMove(step: ScriptStep): boolean {
    return (
      isSend(step) &&
      this.#choices.some(({ name, action }) => action.move !== undefined && name === step.send)
    );
  }

  /** True if the state has grown so much that going on would take too long. */
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
    const aimed = this.#aim && this.#starts.find(({ name }) => name === this.#aim?.name);
    if (aimed !== undefined && outside !== undefined && this.#random.chance(shareOfAim))
      return this.#started(aimed, state);
    const ofTask = outside && this.#tasks.draw({ state, outside, tasks });
    if (ofTask !== undefined) return ofTask;
    if (this.#isWatching && this.#random.chance(shareOfWatchers)) return this.#watcher(state);
    if (this.#choices.length === 0) return this.#started(this.#random.pick(this.#starts), state);
    return this.#input(state);
  }

  done(step: ScriptStep): void {
    this.#idle = 0;
    if (isSend(step)) this.#times.set(step.send, (this.#times.get(step.send) ?? 0) + 1);
  }

  /** True if nothing comes of anything any more. */
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

  /** True if what a step is about, '' if nothing, belongs to what this script is for. */
  #isMeant(name: string): boolean {
    if (name === '') return true;
    return !this.#without.has(name) && (this.#aim === undefined || isPartOf(this.#aim, name));
  }

  #pick(): Choice {
    if (this.#aim !== undefined && this.#random.chance(shareOfAim)) {
      const aimed = this.#choices.find(({ name }) => name === this.#aim?.name);
      if (aimed !== undefined) return aimed;
    }
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
    if (!isWhole) return { watch, as };
    if (kind < 0.18) return { watch, as };
    if (kind < 0.3) return { watch, as, by: this.#random.pick(waysToFollow) };
    if (kind < 0.36) return { watch, as, then: 'throw' };
    if (kind < 0.42) return { watch, as, by: 'observer', then: 'throw' };
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
    return start === undefined ? undefined : this.#started(start, state);
  }

  #started(start: Choice, state: Readonly<Record<string, unknown>>): StartStep {
    const { send, ...given } = this.#drawn(start, state);
    return { start: send, ...given };
  }
}

const isPartOf = ({ name, by }: Aim, deed: string): boolean => deed === name || by.includes(deed);

/** True if bounds of payloads were not kept already; always if somebody is sent only what fits. */
function hasMetBounds({
  participants,
  reached,
}: Searching): (name: string, bound: Bound) => boolean {
  if (participants.some(({ refusesMisfits }) => refusesMisfits === false)) return () => true;
  return (name, bound) =>
    reached.isReached(`${name}.payload${placeOf(bound)}`, `${bound.what}-refused`);
}

/** A text for all who take part: half a character becomes a whole one if somebody takes none. */
function textFor({ participants }: Searching, text: string): string {
  const isWhole = participants.some(({ takesHalfCharacters }) => takesHalfCharacters === false);
  return isWhole ? wellFormed(text) : text;
}
