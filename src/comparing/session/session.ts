import { isObject } from '../../base/json.js';
import { same } from '../../base/same.js';
import { nextTurn, pause } from '../../base/turn.js';
import type { Histories, Participant } from '../../model/participant.js';
import { someTellLater } from './abilities.js';
import type { Difference } from './difference.js';
import { ComparedParticipant, type Found } from './compared-participant.js';
import { isRefused } from './outcome-match.js';
import { PossibleSteps } from './possible-steps.js';
import { looksAtState, type Look, type StepRecord } from './step-record.js';
import type { Observed } from './observed.js';
import type { Outside } from '../playing/outside.js';
import { Player, type TasksShown } from '../playing/player.js';
import type { StoredTexts } from '../playing/virtual-storage.js';
import type { Reached } from '../reached.js';
import {
  isAsked,
  isAttach,
  isOfStorage,
  isSend,
  isStart,
  payloadIn,
  type AttachStep,
  type Circumstances,
  type PassStep,
  type ScriptStep,
} from '../script.js';

/** Every so many steps everything is compared in full, whatever has kept its identity; the last of a script is one. */
export const fullEvery = 6;

export interface SessionOptions {
  /** How closely it is looked after most steps; at every sixth it is looked fully. `new` if not given. */
  readonly look?: Look;
  /** True if all targets are watched; true if not given. */
  readonly watches?: boolean;
  /** Told what the first participant reaches; what only it was asked does not count. */
  readonly reached?: Reached | undefined;
  /**
   * The number of steps that the first may be ahead of the others, which then do them one after the other: that is faster, and
   * a difference shows so much later. 1 if not given: all do each step before the next.
   */
  readonly ahead?: number;
  /** How identifiers are drawn, and whether there are second instances; as usual if not given. */
  readonly circumstances?: Circumstances;
  /** True if the first does it alone, as it would with the others; false if not given. */
  readonly isAlone?: boolean;
}

export interface StepOptions {
  /** True if the others are left out if the first came to nothing, and to nothing new; false if not given. */
  readonly skipIdle?: boolean;
  /** How closely it is looked; as the session says if not given. */
  readonly look?: Look;
}

/** The outcome of a step. */
export interface StepResult {
  /** True if the other participants are asked too. */
  readonly done: boolean;
  /** True if it changed the state of the first. */
  readonly changed: boolean;
  /** The first difference that has shown by now; it may be of an earlier step. */
  readonly difference: Difference | undefined;
}

/** The outcome of a step with the first participant. */
interface FirstShown {
  readonly payload?: StepRecord['payload'];
  readonly outcome?: unknown;
  readonly changed?: boolean;
  readonly wanted: Look | undefined;
  readonly ms?: number;
}

/** True if nothing has happened to tasks. */
function isQuiet(before: TasksShown | undefined, now: TasksShown | undefined): boolean {
  if (now === undefined) return true;
  return (
    now.calls.length + now.aborted.length + now.stopped.length + now.ends.length === 0 &&
    before !== undefined &&
    same(before.running, now.running)
  );
}

const skipped: StepResult = { done: false, changed: false, difference: undefined };

/** How often it is looked whether something late has come, in milliseconds. */
const betweenLooks = 5;

/** One run of a script: all participants do the same, and the first of them is what the others are held against. */
export class Session {
  readonly #first: Player;
  readonly #others: readonly ComparedParticipant[];
  readonly #observed: Observed;
  readonly #look: Look;
  readonly #reached: Reached | undefined;
  readonly #ahead: number;
  readonly #possible: PossibleSteps;
  /** What the first has done, and the others not yet. */
  readonly #records: StepRecord[] = [];
  #steps = 0;
  /** True if what starts by itself has begun, and what differs before the first step. */
  #isReady = false;
  #early: Difference | undefined;
  /** True if the first has refused what others do not judge: from then on they differ, and nothing is compared. */
  #isApart = false;

  constructor(
    participants: readonly Participant[],
    observed: Observed,
    options: SessionOptions = {},
  ) {
    const { look = 'new', watches = true, reached, ahead = 1, circumstances = {} } = options;
    this.#observed = observed;
    this.#look = look;
    this.#reached = reached;
    this.#ahead = ahead;
    // Who does not have everything asks for fewer names and times.
    const byStep = participants.some(({ has }) => has !== undefined);
    this.#possible = new PossibleSteps(participants, observed);
    const { isWhole } = this.#possible;
    const [first, ...others] = participants as [Participant, ...Participant[]];
    this.#first = new Player(
      first,
      watches ? observed.targets : [],
      byStep,
      observed,
      isWhole,
      // It is what the others are held against: a second one would only count what nobody compares.
      { ...circumstances, beside: false },
    );
    this.isSlow = this.#first.outside !== undefined || someTellLater(participants);
    reached?.drop();
    if (observed.classes.includes('derived')) this.#deriveFirst();
    reached?.keep();
    const followers = options.isAlone === true ? [] : others;
    this.#others = followers.map(
      (other) =>
        new ComparedParticipant(
          other,
          observed,
          { watches, byStep, isWhole, circumstances },
          this.#first,
        ),
    );
  }

  /** The state of the first participant. */
  get state(): Readonly<Record<string, unknown>> {
    const { state } = this.#first;
    return isObject(state) ? state : {};
  }

  /** The identifiers that the first has drawn by now, in that order. */
  get made(): ReadonlySet<string> {
    return this.#first.made;
  }

  /** How many outcomes each participant said nothing of. */
  get notReported(): ReadonlyMap<string, number> {
    return new Map(this.#others.map(({ player: { name, notReported } }) => [name, notReported]));
  }

  /** How many steps all participants are asked. */
  get steps(): number {
    return this.#steps;
  }

  /** True if steps take their time: then they are done by {@link play}. */
  readonly isSlow: boolean;

  /** What the first keeps in storage, and whether that works. */
  get stored(): StoredTexts | undefined {
    return this.#first.stored();
  }

  /** What can be undone with the first. */
  get histories(): Histories | undefined {
    return this.#first.histories();
  }

  /** The world outside, as the first participant has made use of it. */
  get outside(): Outside | undefined {
    return this.#first.outside;
  }

  /** What goes on of the tasks of the first. */
  get tasks(): TasksShown | undefined {
    return this.#first.tasks;
  }

  /** Does a step as {@link step} does, and waits each time until nothing moves any more. */
  async play(step: ScriptStep, options: StepOptions = {}): Promise<StepResult> {
    if (!this.isSlow) return this.step(step, options);
    const first = this.#first;
    await this.ready();
    if (this.#early !== undefined) return { done: true, changed: false, difference: this.#early };
    if (!this.#isPossible(step)) return skipped;
    const mark = first.mark();
    first.begin();
    const ms = 'pass' in step ? this.#msOf(step) : 0;
    const payload = isSend(step) || isStart(step) ? payloadIn(step, this.state) : undefined;
    const [histories, misfits] = [first.histories(), first.misfits];
    const outcome = await first.play(step, payload, ms);
    const { state: before, tasks: old } = first;
    first.state = first.read();
    first.tasks = first.lookAtTasks();
    // What is derived may depend on what goes on, and on what can be undone.
    const changed =
      'reopen' in step ||
      first.state !== before ||
      first.histories() !== histories ||
      !same(old?.running, first.tasks?.running);
    // What is done may have set a timer anew, which nobody sees yet: only what is refused comes to nothing.
    const isIdle = isRefused(outcome) && first.reports.length === 0 && isQuiet(old, first.tasks);
    const isSkipped = options.skipIdle === true && this.#reached?.hasNews !== true;
    if (isAsked(step) && ((isIdle && isSkipped) || this.#possible.sparesMisfit(outcome))) {
      first.back(mark);
      this.#reached?.drop();
      return skipped;
    }
    if (this.#possible.onlyFitting && first.misfits > misfits) {
      this.#possible.noteSpared();
      this.#isApart = true;
      return skipped;
    }
    this.#note(step, { payload, outcome, changed, wanted: options.look, ms });
    const difference = await this.#followSlowly();
    return { done: true, changed, difference };
  }

  /** Waits until what starts by itself has begun; a difference in that shows with the first step. */
  async ready(): Promise<void> {
    if (!this.isSlow || this.#isReady) return;
    this.#isReady = true;
    this.#early = await this.#created();
  }

  /** What was called when the stores were made, by what starts by itself. */
  async #created(): Promise<Difference | undefined> {
    await nextTurn();
    const first = this.#first;
    const tasks = (first.tasks = first.lookAtTasks());
    const operations = first.outside?.operations ?? [];
    let found: Found | undefined;
    for (const other of this.#others) found ??= other.ofTasks({ tasks, operations });
    return found && { step: 0, ...found };
  }

  #isPossible(step: ScriptStep): boolean {
    return !this.#isApart && this.#possible.has(step, this.outside, () => this.stored);
  }

  #msOf({ pass }: PassStep): number {
    return pass === 'next' ? (this.outside?.next ?? 0) : pass;
  }

  async #followSlowly(): Promise<Difference | undefined> {
    const [record] = this.#records.splice(0);
    let found: Found | undefined;
    for (const other of this.#others) found ??= record && (await other.followSlowly(record));
    return found && { step: this.#steps - 1, ...found };
  }

  /** Does a step, with every participant unless it came to nothing, and compares what they show. */
  step(step: ScriptStep, { skipIdle = false, look }: StepOptions = {}): StepResult {
    const first = this.#first;
    if (!this.#isPossible(step)) return skipped;
    const mark = first.mark();
    first.begin();
    if (!isSend(step)) {
      if (isAttach(step)) return this.#attach(step, look);
      if ('watch' in step || 'stop' in step) first.changeWatchers(step);
      if (!isOfStorage(step)) return this.#done(step, { wanted: look });
      const before = first.state;
      first.changeStorage(step);
      first.state = first.read();
      const changed = 'reopen' in step || first.state !== before;
      return this.#done(step, { wanted: look, changed });
    }
    const payload = payloadIn(step, this.state);
    const histories = first.histories();
    const outcome = first.send(step, payload);
    const before = first.state;
    first.state = first.read();
    const changed = first.state !== before || first.histories() !== histories;
    const isIdle = !changed && first.reports.length === 0;
    const isSkipped = skipIdle && this.#reached?.hasNews !== true;
    if ((isIdle && isSkipped) || this.#possible.sparesMisfit(outcome)) {
      first.back(mark);
      this.#reached?.drop();
      return skipped;
    }
    return this.#done(step, { payload, outcome, changed, wanted: look });
  }

  #attach(step: AttachStep, look: Look | undefined): StepResult {
    const first = this.#first;
    const before = first.state;
    const outcome = first.attach(step);
    first.state = first.read();
    return this.#done(step, { outcome, changed: first.state !== before, wanted: look });
  }

  /**
   * Waits for the final outcomes of actions that were queued, and for what is left unhandled, for which it waits up to
   * `lateMs` milliseconds; and compares them.
   */
  async settled(lateMs = 0): Promise<Difference | undefined> {
    if (this.#isApart) return undefined;
    const early = this.#follow();
    if (early !== undefined) return early;
    const players = [this.#first, ...this.#others.map(({ player }) => player)];
    const isWaiting = players.some(
      ({ finals, iterated, leaks }) => finals.length + iterated.size > 0 || leaks !== undefined,
    );
    if (isWaiting) await nextTurn();
    const late = isWaiting ? ((await this.#leaked(lateMs)) ?? this.#ofFinals()) : undefined;
    // With no step there is none after which it could show.
    const leaked = late ?? (this.#steps === 0 ? undefined : this.#ofOpenProtocols());
    return leaked && { step: this.#steps - 1, ...leaked };
  }

  #ofFinals(): Found | undefined {
    for (const other of this.#others) {
      const found = other.ofFinals(this.#first.finals);
      if (found !== undefined) return found;
    }
    return undefined;
  }

  #ofOpenProtocols(): Found | undefined {
    for (const other of this.#others) {
      const found = other.ofOpenProtocols(this.#first);
      if (found !== undefined) return found;
    }
    return undefined;
  }

  async #leaked(lateMs: number): Promise<Found | undefined> {
    for (let waited = 0; ; waited += betweenLooks) {
      for (const other of this.#others) {
        const found = other.ofLeaks();
        if (found !== undefined) return found;
      }
      if (waited >= lateMs) return undefined;
      await pause(betweenLooks);
    }
  }

  close(): void {
    for (const { player } of this.#others) player.close();
  }

  /** Notes what the first shows; the others follow at once, or when there is enough to follow. */
  #done(step: ScriptStep, shown: FirstShown): StepResult {
    this.#note(step, shown);
    const isBehind = this.#records.length >= this.#ahead;
    const difference = isBehind ? this.#follow() : undefined;
    return { done: true, changed: shown.changed === true, difference };
  }

  /** Notes what the first shows. */
  #note(step: ScriptStep, { payload, outcome, changed = false, wanted, ms = 0 }: FirstShown): void {
    const first = this.#first;
    const isSixth = this.#steps++ % fullEvery === fullEvery - 1;
    const look = wanted ?? (isSixth ? 'fully' : this.#look);
    this.#reached?.keep();
    const looks = looksAtState({ look });
    if (changed && !looks) first.derived = undefined;
    // What is derived is a function of the state: nothing new unless that is another.
    const derives =
      looks && (changed || look === 'fully') && this.#observed.classes.includes('derived');
    const before = first.derived;
    if (derives) this.#deriveFirst();
    if (derives && changed) this.#reached?.noteDerived(before?.values, first.derived?.values);
    this.#reached?.keep();
    this.#records.push({
      step,
      payload,
      look,
      changed,
      outcome,
      state: first.state,
      derived: first.derived,
      derives,
      notices: [...first.notices],
      reports: [...first.reports],
      sent: [...first.sent],
      tasks: first.tasks,
      changes: 'reopen' in step ? 2 : first.outside === undefined ? 0 : (first.changes ?? 2),
      stored: first.stored(),
      operations: first.outside?.operations ?? [],
      ms,
    });
  }

  /** The others do what the first has done; the difference that shows after the fewest steps. */
  #follow(): Difference | undefined {
    let found: Found | undefined;
    let left = this.#records.length;
    for (const other of this.#others)
      for (let i = 0; i < left; i++) {
        const shown = other.follow(this.#records[i] as StepRecord);
        if (shown === undefined) continue;
        [found, left] = [shown, i];
      }
    const step = this.#steps - this.#records.length + left;
    this.#records.length = 0;
    return found && { step, ...found };
  }

  /** Asks the first for what is derived. */
  #deriveFirst(): void {
    this.#first.derived = this.#first.derive(this.#observed.questions(this.state));
  }
}
