import { isObject } from '../base/json.js';
import { same } from '../base/same.js';
import type { ObservedClass, Participant } from '../model/participant.js';
import { derivedWithin, stateWithin } from './abilities.js';
import { narrowed, type Difference } from './difference.js';
import { lostIdentity, regivenDerived } from './identity.js';
import { asTold, isMisfit, isSameNotice } from './likeness.js';
import type { Observed } from './observed.js';
import { Player, type Notice } from './player.js';
import type { Question } from './questions.js';
import type { Reached } from './reached.js';
import { isSend, payloadIn, type ScriptStep } from './script.js';

/** Every so many steps everything is compared in full, whatever has kept its identity; the last of a script is one. */
export const fullEvery = 6;

/**
 * How closely it is looked at what is shown after a step: `fully`, at what is `new` since the step before, at what
 * comes `unasked` (outcomes, notices, problems), or not at all.
 */
export type Look = 'fully' | 'new' | 'unasked' | 'nothing';

export interface SessionOptions {
  /** How closely it is looked after most steps; at every sixth it is looked fully. `new` if not given. */
  readonly look?: Look;
  /** Whether all targets are watched; true if not given. */
  readonly watches?: boolean;
  /** Told what the first participant reaches; what only it was asked does not count. */
  readonly reached?: Reached | undefined;
}

export interface StepOptions {
  /** Whether the others are left out if the first came to nothing, and to nothing new; false if not given. */
  readonly skipIdle?: boolean;
  /** How closely it is looked; as the session says if not given. */
  readonly look?: Look;
}

/** What became of a step. */
export interface StepResult {
  /** Whether the other participants were asked too. */
  readonly done: boolean;
  /** Whether it changed the state of the first. */
  readonly changed: boolean;
  readonly difference: Difference | undefined;
}

/** A state of the first participant, and what another showed at the same moment. */
interface Pair {
  readonly expected: unknown;
  readonly actual: unknown;
}

const skipped: StepResult = { done: false, changed: false, difference: undefined };

/** One run of a script: all participants side by side, the first of them being what the others are held against. */
export class Session {
  readonly #first: Player;
  readonly #others: readonly Player[];
  /** For each of the others, snapshots that were found equal: at the start, and when last looked at in full. */
  readonly #snapshots: (readonly [Pair, Pair])[];
  readonly #observed: Observed;
  readonly #look: Look;
  readonly #reached: Reached | undefined;
  /** Whether somebody is sent only what fits. */
  readonly #isPicky: boolean;
  #steps = 0;
  /** Whether states were read after the step before. */
  #wasRead = true;

  constructor(
    participants: readonly Participant[],
    observed: Observed,
    { look = 'new', watches = true, reached }: SessionOptions = {},
  ) {
    this.#observed = observed;
    this.#look = look;
    this.#reached = reached;
    // Who does not have everything asks for fewer names and times.
    const byStep = participants.some(({ has }) => has !== undefined);
    const [first, ...others] = participants.map(
      (participant) => new Player(participant, watches ? observed.targets : [], byStep),
    );
    this.#first = first as Player;
    this.#others = others;
    this.#isPicky = participants.some(({ has }) => has?.refusesMisfits === false);
    this.#snapshots = others.map(({ state, has }) => {
      const pair = { expected: stateWithin(this.#first.state, has), actual: state };
      return [pair, pair];
    });
    reached?.drop();
    if (observed.classes.includes('derived')) {
      const asked = this.#deriveFirst();
      // What has been read once can be out of date later.
      for (const player of others) player.derived = player.derive(asked);
    }
    reached?.keep();
  }

  /** The state of the first participant. */
  get state(): Readonly<Record<string, unknown>> {
    const { state } = this.#first;
    return isObject(state) ? state : {};
  }

  /** How many outcomes each participant said nothing of. */
  get untold(): ReadonlyMap<string, number> {
    return new Map(this.#others.map(({ name, untold }) => [name, untold]));
  }

  /** How many steps all participants were asked. */
  get steps(): number {
    return this.#steps;
  }

  /** Does a step with every participant and compares what they show. */
  step(step: ScriptStep, { skipIdle = false, look }: StepOptions = {}): StepResult {
    const players = [this.#first, ...this.#others];
    const takeBack = this.#first.mark();
    if (!isSend(step)) {
      for (const player of players) player.begin();
      for (const player of players)
        if ('watch' in step) player.watch(step);
        else player.stop(step.stop);
      return this.#compared(undefined, [], false, look);
    }
    const payload = payloadIn(step, this.state);
    this.#first.begin();
    const outcome = this.#first.send(step, payload);
    const changed = this.#readFirst();
    const isIdle = !changed && this.#first.reports.length === 0;
    const isSkipped = skipIdle && this.#reached?.hasNews !== true;
    if (isIdle && (isSkipped || (this.#isPicky && isMisfit(outcome)))) {
      takeBack();
      this.#reached?.drop();
      return skipped;
    }
    const outcomes = this.#others.map((player) => {
      player.begin();
      return player.send(step, payload);
    });
    return this.#compared(outcome, outcomes, changed, look);
  }

  /** Reads the state of the first; whether it is another. */
  #readFirst(): boolean {
    const before = this.#first.state;
    const now = this.#first.read();
    this.#first.state = now;
    return now !== before;
  }

  /** Waits for the final outcomes of actions that were queued, and for what is left unhandled, and compares them. */
  async settled(): Promise<Difference | undefined> {
    const players = [this.#first, ...this.#others];
    if (players.every(({ finals, leaks }) => finals.length === 0 && leaks === undefined))
      return undefined;
    await new Promise((resume) => setImmediate(resume));
    for (const player of this.#others) {
      const actual = player.leaks?.() ?? [];
      if (actual.length > 0)
        return this.#difference(player, 'problems', { at: '/unhandled', expected: [], actual });
    }
    if (!this.#observed.classes.includes('outcome')) return undefined;
    for (const player of this.#others) {
      if (!player.takesPart('outcome') || same(this.#first.finals, player.finals)) continue;
      const found = narrowed(this.#first.finals, player.finals, '/queued');
      return this.#difference(player, 'outcome', found);
    }
    return undefined;
  }

  close(): void {
    for (const player of this.#others) player.close();
  }

  #difference(
    { name }: Player,
    what: ObservedClass,
    found: Pick<Difference, 'at' | 'expected' | 'actual'>,
  ): Difference {
    return { step: this.#steps - 1, participant: name, what, ...found };
  }

  #compared(
    outcome: unknown,
    outcomes: readonly unknown[],
    changed: boolean,
    wanted: Look | undefined,
  ): StepResult {
    const isSixth = this.#steps++ % fullEvery === fullEvery - 1;
    const look = wanted ?? (isSixth ? 'fully' : this.#look);
    const result = (difference?: Difference) => ({ done: true, changed, difference });
    this.#reached?.keep();
    const wasRead = this.#wasRead;
    const isFull = look === 'fully';
    const looks = (this.#wasRead = isFull || look === 'new');
    // What was derived before is of another moment now.
    if (changed && !looks)
      for (const player of [this.#first, ...this.#others]) player.derived = undefined;
    if (look === 'nothing') return result();
    // What is derived is a function of the state: nothing new unless that is another.
    const derives = looks && (changed || isFull) && this.#observed.classes.includes('derived');
    const before = this.#first.derived;
    const asked = derives ? this.#deriveFirst() : [];
    if (derives && changed) this.#noteDerived(before);
    this.#reached?.keep();
    for (const [i, player] of this.#others.entries()) {
      const found =
        this.#ofOutcome(player, outcome, outcomes[i]) ??
        (looks
          ? this.#ofState(player, i, { isFull, wasRead }, derives ? asked : undefined)
          : undefined) ??
        this.#ofNotices(player, isFull) ??
        this.#ofProblems(player);
      if (found !== undefined) return result(found);
    }
    return result();
  }

  /** Asks the first for what is derived; gives the questions that the others are to be asked too. */
  #deriveFirst(): readonly Question[] {
    const asked = this.#observed.questions(this.state);
    this.#first.derived = this.#first.derive(asked);
    return asked;
  }

  #noteDerived(before: unknown): void {
    const now = this.#first.derived;
    if (this.#reached === undefined || !isObject(now) || !isObject(before)) return;
    for (const [store, values] of Object.entries(now)) {
      const old = before[store];
      if (!isObject(values) || !isObject(old)) continue;
      for (const [name, value] of Object.entries(values))
        this.#reached.point(
          `${store}.${name} ${Object.is(value, old[name]) ? 'unchanged' : 'changed'}`,
        );
    }
  }

  #compares(player: Player, what: ObservedClass): boolean {
    return this.#observed.classes.includes(what) && player.takesPart(what);
  }

  #ofOutcome(player: Player, expected: unknown, actual: unknown): Difference | undefined {
    if (!this.#compares(player, 'outcome')) return undefined;
    const told = player.has === undefined ? actual : asTold(expected, actual);
    if (!same(expected, told)) return this.#difference(player, 'outcome', narrowed(expected, told));
    if (same(this.#first.sent, player.sent)) return undefined;
    return this.#difference(player, 'outcome', narrowed(this.#first.sent, player.sent, '/sent'));
  }

  /** Compares the state and what belongs to it: derived values if there are questions, old snapshots, identity. */
  #ofState(
    player: Player,
    place: number,
    { isFull, wasRead }: { readonly isFull: boolean; readonly wasRead: boolean },
    asked: readonly Question[] | undefined,
  ): Difference | undefined {
    const before = player.state;
    const derivedBefore = player.derived;
    player.state = player.read();
    const expected = stateWithin(this.#first.state, player.has);
    if (
      !player.equal.state.isEqual(expected, player.state, isFull) &&
      this.#compares(player, 'state')
    )
      return this.#difference(player, 'state', narrowed(expected, player.state));
    if (asked !== undefined) {
      player.derived = player.derive(asked);
      const wanted = derivedWithin(this.#first.derived, player.has);
      if (
        this.#compares(player, 'derived') &&
        !player.equal.derived.isEqual(wanted, player.derived, isFull)
      )
        return this.#difference(player, 'derived', narrowed(wanted, player.derived));
    }
    if (!isFull) return undefined;
    return (
      (wasRead ? this.#ofIdentity(player, before, derivedBefore) : undefined) ??
      this.#ofSnapshots(player, place, expected)
    );
  }

  /** What is promised of identity holds from one step to the next, and from one reading to the next. */
  #ofIdentity(player: Player, before: unknown, derivedBefore: unknown): Difference | undefined {
    // What a watcher sends is a transaction of its own.
    if (!this.#compares(player, 'identity') || player.sent.length > 0) return undefined;
    const lost = [
      ...lostIdentity(before, player.state),
      ...regivenDerived(derivedBefore, player.derived),
    ];
    if (lost.length === 0) return undefined;
    return this.#difference(player, 'identity', { at: '', expected: [], actual: lost });
  }

  #ofSnapshots(player: Player, place: number, expected: unknown): Difference | undefined {
    const [start, last] = this.#snapshots[place] as readonly [Pair, Pair];
    if (this.#compares(player, 'snapshots'))
      for (const old of [last, start])
        if (!same(old.expected, old.actual))
          return this.#difference(player, 'snapshots', narrowed(old.expected, old.actual));
    this.#snapshots[place] = [start, { expected, actual: player.state }];
    return undefined;
  }

  #ofNotices(player: Player, isFull: boolean): Difference | undefined {
    if (!this.#compares(player, 'notices')) return undefined;
    const { has } = player;
    const expected =
      has === undefined
        ? this.#first.notices
        : this.#first.notices.filter(({ target }) => has.targets.has(target));
    if (expected.length === player.notices.length) {
      const isEqual = expected.every((notice, i) =>
        isSameNotice(notice, player.notices[i] as Notice, isFull, player.known),
      );
      if (isEqual) return undefined;
    }
    return this.#difference(player, 'notices', narrowed(expected, [...player.notices]));
  }

  #ofProblems(player: Player): Difference | undefined {
    const { reports } = this.#first;
    if (!this.#compares(player, 'problems') || same(reports, player.reports)) return undefined;
    return this.#difference(player, 'problems', narrowed([...reports], [...player.reports]));
  }
}
