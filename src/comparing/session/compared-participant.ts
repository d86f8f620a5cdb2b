import { isObject } from '../../base/json.js';
import { same } from '../../base/same.js';
import type { Participant, Target } from '../../model/participant.js';
import type { ObservedClass } from '../../model/observed-class.js';
import { derivedWithin, stateWithin } from './abilities.js';
import { MatchedCalls } from './matched-calls.js';
import { ownWithin, stepWithin, tasksWithin } from './tasks-within.js';
import { asObject, isSameDerived, type DerivedShown } from '../playing/derived-shown.js';
import { narrowed, type Difference } from './difference.js';
import type { EnvironmentMark } from '../playing/environment.js';
import { FollowEqual } from '../playing/follow-equal.js';
import { deedOf } from '../deed-of.js';
import { Leniency } from './leniency.js';
import { lostIdentity, regivenDerived } from './identity.js';
import { asTold, isSameNotice } from './outcome-match.js';
import { Reloads } from './reloads.js';
import { looksAtState, type StepRecord } from './step-record.js';
import type { Observed } from './observed.js';
import { Player, type TasksShown } from '../playing/player.js';
import type { Notice } from '../playing/player-watchers.js';
import { leakedBy } from './late.js';
import { isAsked, isAttach, isOfStorage, isSend, type Circumstances } from '../script.js';

/** A difference, but for the step after which it showed. */
export type Found = Omit<Difference, 'step'>;

/** A state of the first participant, and what another showed after the same step. */
export interface Pair {
  readonly expected: unknown;
  readonly actual: unknown;
}

/** What was shown of state and derived values. */
interface ShownValues {
  readonly state: unknown;
  readonly derived: DerivedShown | undefined;
}

/** A participant that does what the first has done, and is held against what that showed. */
export class ComparedParticipant {
  readonly player: Player;
  readonly #observed: Observed;
  readonly #equal = new FollowEqual();
  /** Values of the first that notices told, with those of this one that are known to be equal. */
  readonly #known = new WeakMap<object, unknown>();
  /** What is passed over with it; nothing if not given. */
  readonly #leniency: Leniency | undefined;
  /** Snapshots that were found equal: at the start, and when last looked at in full. */
  readonly #start: Pair;
  #last: Pair;
  /** What the first showed when it was last looked at. */
  #expected: ShownValues;
  /** How what it keeps is read, of old code. */
  readonly #reloads: Reloads | undefined;
  /** Which of its calls are which of the first, where they may have other numbers. */
  readonly #calls: MatchedCalls | undefined;
  /** True if the schema's identifiers are of an odd kind, and those that old code makes by itself are not. */
  readonly #hasOddIds: boolean;
  /** True if states were read after the step before, and what was shown then is known to be equal. */
  #wasRead = true;
  /** The number of transactions that have changed something since what is derived was read. */
  #sinceDerived = 0;
  #isKnown = false;

  constructor(
    participant: Participant,
    observed: Observed,
    {
      watches,
      byStep,
      isWhole = false,
      circumstances = {},
    }: {
      readonly watches: boolean;
      readonly byStep: boolean;
      readonly isWhole?: boolean;
      readonly circumstances?: Circumstances;
    },
    first: ShownValues & Pick<Player, 'made'>,
  ) {
    this.#observed = observed;
    this.player = new Player(
      participant,
      watches ? observed.targets : [],
      byStep,
      observed,
      isWhole,
      circumstances,
      first.made,
    );
    this.#expected = first;
    const { ids } = this.player;
    if (participant.has?.reopens === true) this.#reloads = new Reloads(observed, participant.has);
    if (participant.has !== undefined)
      this.#calls = new MatchedCalls(participant.has, (expected, actual) =>
        ids === undefined ? actual : ids.settled(expected, actual),
      );
    this.#hasOddIds = circumstances.ids !== undefined;
    const { has: own } = participant;
    if (own?.tolerance !== undefined || (own?.known?.length ?? 0) > 0)
      this.#leniency = new Leniency(own ?? {}, (known) => participant.passedOver?.note(known));
    const { state, has } = this.player;
    this.#start = this.#last = { expected: stateWithin(first.state, has), actual: state };
    // What has been read once can be out of date later.
    if (first.derived !== undefined) this.player.derived = this.player.derive(first.derived.asked);
  }

  /** Does what the first has done; what differs then. */
  follow(record: StepRecord): Found | undefined {
    const { player } = this;
    const { step } = record;
    player.begin();
    this.#learn(record);
    let outcome: unknown;
    if (isSend(step)) outcome = player.send(step, record.payload);
    else if (isAttach(step)) outcome = player.attach(step);
    else if ('watch' in step || 'stop' in step) player.changeWatchers(step);
    else if (isOfStorage(step)) player.changeStorage(step);
    return this.#followed(record, outcome);
  }

  /** Does what the first has done, until nothing moves any more; what differs then. */
  async followSlowly(record: StepRecord): Promise<Found | undefined> {
    const { player } = this;
    player.begin();
    this.#learn(record);
    const step = this.#calls === undefined ? record.step : stepWithin(record.step, this.#calls);
    const outcome = step && (await player.play(step, record.payload, record.ms));
    const leaked = leakedBy(player);
    if (leaked !== undefined) {
      const { participant, what, at, expected, actual } = leaked;
      return { participant, what, at, expected, actual };
    }
    // What is not looked at is not looked at later either.
    if (record.look === 'nothing' && record.tasks !== undefined)
      this.#tasksOf(record.tasks, record.operations);
    return this.#followed(record, outcome);
  }

  /** Looks for its own identifiers before it is sent one of the schema's that it may have under another name. */
  #learn({ payload, step }: StepRecord): void {
    const { ids, has } = this.player;
    if (ids === undefined || !(ids.lacks(payload) || ids.lacks(step))) return;
    ids.settled(stateWithin(this.#expected.state, has), this.player.read());
  }

  #followed(record: StepRecord, outcome: unknown): Found | undefined {
    const { player } = this;
    const { step } = record;
    this.#leniency?.begin(deedOf(step));
    this.#reloads?.note(step);
    const looks = looksAtState(record);
    this.#sinceDerived += record.changes;
    // What was derived before belongs to an earlier step now.
    if (record.changed && !looks) player.derived = undefined;
    const shown = record.look === 'nothing' ? undefined : this.#compared(record, outcome, looks);
    // Its own are sorted in another way, and found in other texts.
    const found = this.#hasOddIds && player.ids?.areMade === true ? undefined : shown;
    this.#wasRead = looks;
    if (looks && record.derives) this.#sinceDerived = 0;
    this.#isKnown = looks && this.#compares('state') && this.#compares('derived');
    this.#expected = record;
    return found;
  }

  /** Is put back to where it showed what is equal to what the first showed there. */
  restore(pair: Pair, mark: EnvironmentMark): void {
    this.player.restore(pair.actual, mark);
    this.#wasRead = false;
    this.#isKnown = false;
    this.#expected = { state: pair.expected, derived: undefined };
    this.#equal.assume(pair.expected, pair.actual);
  }

  /** What differs of the final outcomes of actions that were queued. */
  ofFinals(expected: readonly unknown[]): Found | undefined {
    const { finals } = this.player;
    if (
      !this.#compares('outcome') ||
      this.#isEqual('outcome', { queued: expected }, { queued: finals })
    )
      return undefined;
    return this.#found('outcome', narrowed(expected, finals, '/queued'));
  }

  /** What differs of the values that watchers took by iterating, and of the state as JSON text. */
  ofOpenProtocols(first: Player): Found | undefined {
    const [wanted, told] = [first, this.player].map(({ iterated }) => Object.fromEntries(iterated));
    if (this.#compares('notices') && !this.#isEqual('notices', wanted, told))
      return this.#found('notices', narrowed(wanted, told, '/iterated'));
    const json = this.player.json();
    if (json === undefined || !this.#compares('state')) return undefined;
    const expected: unknown = JSON.parse(JSON.stringify(first.read()));
    // No store has such a name.
    return this.#isEqual('state', expected, json)
      ? undefined
      : this.#found('state', narrowed(expected, json, '/as JSON'));
  }

  /** What was left unhandled. */
  ofLeaks(): Found | undefined {
    return leakedBy(this.player);
  }

  /** True if both count as equal. */
  #isEqual(what: ObservedClass, expected: unknown, actual: unknown): boolean {
    return same(expected, actual) || this.#isLenient(what, expected, actual);
  }

  /** True if they count as equal though they are not. */
  #isLenient(what: ObservedClass, expected: unknown, actual: unknown): boolean {
    if (this.#leniency === undefined && this.player.ids === undefined) return false;
    return same(expected, this.#settled(what, expected, actual));
  }

  /** What it showed, with the schema's identifiers, and with what is passed over as it was expected. */
  #settled(what: ObservedClass, expected: unknown, actual: unknown): unknown {
    const { ids } = this.player;
    const named = ids === undefined ? actual : ids.settled(expected, actual);
    if (this.#leniency === undefined) return named;
    return this.#leniency.settled(what, { expected, actual: named });
  }

  /** The innermost part that differs, apart from what is passed over. */
  #narrowed(what: ObservedClass, expected: unknown, actual: unknown) {
    return narrowed(expected, this.#settled(what, expected, actual));
  }

  #found(what: ObservedClass, found: Pick<Difference, 'at' | 'expected' | 'actual'>): Found {
    return { participant: this.player.name, what, ...found };
  }

  #compares(what: ObservedClass): boolean {
    return this.#observed.classes.includes(what) && this.player.takesPart(what);
  }

  #compared(record: StepRecord, outcome: unknown, looks: boolean): Found | undefined {
    const before: ShownValues = { state: this.player.state, derived: this.player.derived };
    return (
      (isAsked(record.step) ? this.#ofOutcome(record, outcome) : undefined) ??
      (looks ? this.#ofState(record, before) : undefined) ??
      this.#ofNotices(record, before) ??
      this.ofTasks(record) ??
      this.#ofStorage(record) ??
      this.#ofProblems(record)
    );
  }

  #ofOutcome({ outcome: expected, sent }: StepRecord, actual: unknown): Found | undefined {
    if (!this.#compares('outcome')) return undefined;
    const { player } = this;
    const told = player.has === undefined ? actual : asTold(expected, actual);
    if (!this.#isEqual('outcome', expected, told))
      return this.#found('outcome', narrowed(expected, told));
    if (this.#isEqual('outcome', { sent }, { sent: player.sent })) return undefined;
    return this.#found('outcome', narrowed(sent, player.sent, '/sent'));
  }

  /** Compares the state and what belongs to it: derived values if there are any, old snapshots, identity. */
  #ofState(record: StepRecord, before: ShownValues): Found | undefined {
    const { player } = this;
    const isFull = record.look === 'fully';
    player.state = player.read();
    const expected = stateWithin(record.state, player.has);
    if (
      !this.#equal.isEqual(expected, player.state, isFull) &&
      this.#compares('state') &&
      !this.#isLenient('state', expected, player.state)
    )
      return this.#found('state', this.#narrowed('state', expected, player.state));
    if (record.derives && record.derived !== undefined) {
      player.derived = player.derive(record.derived.asked);
      const found = this.#ofDerived(record.derived, player.derived, before.derived, isFull);
      if (found !== undefined) return found;
    }
    if (!isFull) return undefined;
    return (
      (this.#wasRead ? this.#ofIdentity(record, before) : undefined) ?? this.#ofSnapshots(expected)
    );
  }

  #ofDerived(
    expected: DerivedShown,
    actual: DerivedShown,
    before: DerivedShown | undefined,
    isFull: boolean,
  ): Found | undefined {
    if (!this.#compares('derived')) return undefined;
    const { has } = this.player;
    if (has === undefined) {
      // Nothing is known where everything is compared.
      const known = this.#isKnown && !isFull ? this.#expected.derived : undefined;
      if (isSameDerived([expected, known], [actual, known && before])) return undefined;
    }
    const wanted = derivedWithin(asObject(expected), has);
    const shown = asObject(actual);
    return this.#isEqual('derived', wanted, shown)
      ? undefined
      : this.#found('derived', this.#narrowed('derived', wanted, shown));
  }

  /** What is promised of identity holds from one step to the next, and from one reading to the next. */
  #ofIdentity({ changes }: StepRecord, before: ShownValues): Found | undefined {
    const { player } = this;
    // What a watcher sends is a transaction of its own.
    if (!this.#compares('identity') || player.sent.length > 0) return undefined;
    const lost = changes > 1 ? [] : lostIdentity(before.state, player.state);
    if (this.#sinceDerived <= 1 && before.derived !== undefined && player.derived !== undefined)
      lost.push(...regivenDerived(before.derived, player.derived));
    if (this.#isEqual('identity', [], lost)) return undefined;
    return this.#found('identity', { at: '', expected: [], actual: lost });
  }

  #ofSnapshots(expected: unknown): Found | undefined {
    if (this.#compares('snapshots'))
      for (const old of [this.#last, this.#start])
        if (
          !this.#isEqual('state', old.expected, old.actual) &&
          !this.#isLenient('snapshots', old.expected, old.actual)
        )
          return this.#found('snapshots', narrowed(old.expected, old.actual));
    this.#last = { expected, actual: this.player.state };
    return undefined;
  }

  #ofNotices(record: StepRecord, before: ShownValues): Found | undefined {
    if (!this.#compares('notices')) return undefined;
    const { has, notices } = this.player;
    const expected =
      has === undefined
        ? record.notices
        : record.notices.filter(({ target }) => has.targets.has(target));
    if (expected.length === notices.length) {
      const isSame = (a: Notice, i: number) => {
        const b = notices[i] as Notice;
        return this.#isAsShown(a, b, record, before) || this.#isSame(a, b, record);
      };
      if (expected.every(isSame)) return undefined;
    }
    return this.#isLenient('notices', expected, [...notices])
      ? undefined
      : this.#found('notices', this.#narrowed('notices', expected, [...notices]));
  }

  /** True if both told the very objects that both showed, which are known to be equal. */
  #isAsShown(a: Notice, b: Notice, record: StepRecord, before: ShownValues): boolean {
    if (!looksAtState(record) || !this.#isKnown || a.watcher !== b.watcher) return false;
    const read = readerOf(a.target);
    if (read(record) !== a.now || read(this.player) !== b.now) return false;
    // What was shown before may have been changed in place since.
    if (record.look === 'fully') return same(a.before, b.before);
    return read(this.#expected) === a.before && read(before) === b.before;
  }

  #isSame(a: Notice, b: Notice, { look }: StepRecord): boolean {
    return isSameNotice(a, b, look === 'fully', this.#known);
  }

  /** Calls, aborted signals, ends of runs; and what goes on, where it is looked at. */
  ofTasks({ tasks, operations }: Pick<StepRecord, 'tasks' | 'operations'>): Found | undefined {
    if (tasks === undefined) return undefined;
    const { expected, actual } = this.#tasksOf(tasks, operations);
    if (!this.#compares('tasks') || this.#isEqual('tasks', expected, actual)) return undefined;
    return this.#found('tasks', this.#narrowed('tasks', expected, actual));
  }

  #tasksOf(tasks: TasksShown, operations: readonly string[]): Pair {
    const { player } = this;
    const { has, outside } = player;
    const shown = (player.tasks = player.lookAtTasks());
    if (this.#calls === undefined || has === undefined || shown === undefined)
      return { expected: tasks, actual: shown };
    const numbered = (all: number, { calls }: TasksShown) => ({
      from: all - calls.length + 1,
      calls,
    });
    const matched = this.#calls.match(
      numbered(operations.length, tasks),
      numbered(outside?.count ?? 0, shown),
    );
    return {
      expected: tasksWithin({ ...tasks, calls: matched.first }, this.#calls, has),
      actual: ownWithin({ ...shown, calls: matched.own }, player),
    };
  }

  #ofStorage({ stored }: StepRecord): Found | undefined {
    const own = this.player.stored();
    const isKept = this.#reloads !== undefined || this.player.takesPart('storage');
    if (stored === undefined || !isKept || !this.#observed.classes.includes('storage'))
      return undefined;
    const both =
      this.#reloads === undefined || own === undefined
        ? { expected: stored.kept, actual: own?.kept }
        : this.#reloads.read(stored, own);
    if (both === undefined || (this.#reloads === undefined && same(stored, own))) return undefined;
    return this.#isEqual('storage', both.expected, both.actual)
      ? undefined
      : this.#found('storage', this.#narrowed('storage', both.expected, both.actual));
  }

  #ofProblems({ reports }: StepRecord): Found | undefined {
    const { reports: own } = this.player;
    if (!this.#compares('problems') || this.#isEqual('problems', reports, own)) return undefined;
    return this.#found('problems', narrowed(reports, [...own]));
  }
}

const readers = new Map<Target, (shown: ShownValues) => unknown>();

/** What stands at a target, where it is shown as it stands. */
function readerOf(target: Target): (shown: ShownValues) => unknown {
  let read = readers.get(target);
  if (read === undefined) readers.set(target, (read = makeReader(target)));
  return read;
}

function makeReader(target: Target): (shown: ShownValues) => unknown {
  if (target === '*') return ({ state }) => state;
  const [store = '', name, reading] = target.split('.');
  // What goes on of tasks is told as it is.
  if (reading !== undefined) return () => undefined;
  if (name === undefined) return ({ state }) => (isObject(state) ? state[store] : undefined);
  return ({ state, derived }) => {
    const own = isObject(state) ? state[store] : undefined;
    if (isObject(own) && Object.hasOwn(own, name)) return own[name];
    const values = isObject(derived?.values) ? derived.values[store] : undefined;
    return isObject(values) ? values[name] : undefined;
  };
}
