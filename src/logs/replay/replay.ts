import { callablesOf, type Callable } from '../../comparing/index.js';
import { Grouping, type LineGroup, type LogPart, type PlacedLine } from '../log/groups.js';
import type { LogHead, LoggedState, LogLine } from '../log/log-lines.js';
import type { LogMapping } from '../log/mapping.js';
import type { NumberedEntry } from '../log/read-log.js';
import type { Application } from '../../model/application.js';
import type { Participant } from '../../model/participant.js';
import { thrownText } from '../../base/thrown-text.js';
import { nextTurn } from '../../base/turn.js';
import { KnownNames } from './known-names.js';
import { DrawsLearner } from './learn-draws.js';
import { causeOf, type MismatchFound } from './mismatch.js';
import {
  ReplayedParticipant,
  type AboutLog,
  type Followed,
  type PassedOver,
} from './replayed-participant.js';
import { StandIns } from './stand-ins.js';
import { oldLine, type OldLine } from './old-lines.js';
import { RecentGroups } from './windows.js';

export interface ReplayOptions {
  /** The first and the last turn; all if not given. */
  readonly from?: number | undefined;
  readonly to?: number | undefined;
  /** How many mismatches of different causes are looked for with each participant; 1 if not given. */
  readonly differences?: number;
  /** SHA-256 of the schema; a log of another is done all the same, and the result says so. */
  readonly digest?: string;
  /** What the names and shapes of an old application's log are in the schema. */
  readonly mapping?: LogMapping | undefined;
  /** Told the first line of a group before it is done. */
  readonly onGroup?: (line: number) => void;
  /** A line from which the last participant did not come back when it was done before, and what is told of that. */
  readonly noReturn?: { readonly line: number; readonly shown: Readonly<Record<string, string>> };
}

/** How it is heard of while a log is read. */
export interface ReplayReading {
  /** Characters read since last time. */
  readonly onRead?: (characters: number) => void;
  readonly isStopped?: () => boolean;
}

/** The outcome of a participant. */
export interface ReplayedResult {
  readonly name: string;
  /** How many lines it did, with those that they set off. */
  readonly lines: number;
  readonly mismatches: readonly MismatchFound[];
  /** The line at which it was left out, since it could not go on after a mismatch. */
  readonly stoppedAt: number | undefined;
}

/** Why a line is not done. */
type NotDone = PassedOver | 'unknown name' | 'incomplete';

/** Lines of an old application's log that lack the same. */
export interface IncompleteLines {
  /** The first, from 1. */
  readonly line: number;
  readonly missing: string;
  readonly times: number;
}

export interface ReplayResult {
  readonly lines: number;
  readonly sessions: number;
  /** Milliseconds from the first line to the last, over all sessions. */
  readonly span: number;
  /** True if a session was logged with another schema. */
  readonly isOtherSchema: boolean;
  /** The title of the schema that a session was logged with, if it is another one; `undefined` if the log does not say it. */
  readonly otherTitle: string | undefined;
  /** The number of lines that were not done, by the reason. */
  readonly passedOver: Readonly<Partial<Record<NotDone, number>>>;
  /** The number of values that are secret, and stand in the log as numbers: at their places anything matches. */
  readonly masked: number;
  /** The number of lines that the mapping says are of nothing in the schema. */
  readonly unmapped: number;
  /** The actions that the schema lacks. */
  readonly unknownNames: readonly string[];
  /** What keeps lines of an old application's log from being done: where first, and how often. */
  readonly incomplete: readonly IncompleteLines[];
  readonly participants: readonly ReplayedResult[];
}

/** The outcome of a log. */
export interface Replayed extends ReplayResult {
  /** The line that was cut off in the middle; it was not replayed. */
  readonly torn: number | undefined;
  readonly isInterrupted: boolean;
}

/** The number of lines that are told where a mismatch shows again. */
const mostLines = 5;

type Writable<T> = { -readonly [Key in keyof T]: T[Key] } & { lines: number[] };

interface Running {
  readonly replayed: ReplayedParticipant;
  readonly found: Map<string, Writable<MismatchFound>>;
  lines: number;
  stoppedAt: number | undefined;
}

/** Does a log again with some participants, entry by entry. */
export class Replay {
  readonly #options: ReplayOptions;
  readonly #application: Application;
  readonly #callables: readonly Callable[];
  readonly #grouping: Grouping;
  readonly #standIns: StandIns | undefined;
  readonly #recent = new RecentGroups();
  readonly #learner: DrawsLearner | undefined;
  readonly #running: readonly Running[];
  readonly #passedOver: Partial<Record<NotDone, number>> = {};
  readonly #unknownNames = new Set<string>();
  readonly #incomplete = new Map<string, IncompleteLines>();
  readonly #known: KnownNames;
  /** The identifiers that the log says were drawn, and those that were found in it. */
  readonly #loggedIds = new Set<string>();
  #hasLoggedTimers = false;
  #sessions = 0;
  #lines = 0;
  #span = 0;
  #lastAt = 0;
  #isOtherSchema = false;
  #otherTitle: string | undefined;
  #began = 0;
  /** True if the participants have begun the session. */
  #hasBegun = false;

  constructor(
    application: Application,
    participants: readonly Participant[],
    options: ReplayOptions = {},
  ) {
    this.#application = application;
    this.#options = options;
    const hasSecrets = [...application.types.values()].some(({ secret }) => secret === true);
    const { mapping } = options;
    this.#standIns = hasSecrets && mapping === undefined ? new StandIns(application) : undefined;
    this.#grouping = new Grouping(mapping ?? this.#standIns);
    const [reference] = participants;
    const callables = (this.#callables = callablesOf(application));
    this.#learner = reference && new DrawsLearner(reference, application, callables);
    this.#running = participants.map((participant) => ({
      replayed: new ReplayedParticipant(participant, application, callables, this.#aboutLog()),
      found: new Map(),
      lines: 0,
      stoppedAt: undefined,
    }));
    this.#known = new KnownNames(application);
  }

  #aboutLog(): AboutLog {
    return { secrets: this.#standIns, loggedIds: this.#loggedIds };
  }

  /** True if there is nothing more to be found. */
  get isOver(): boolean {
    return this.#running.every(({ stoppedAt }) => stoppedAt !== undefined);
  }

  /** Does some entries. Throws `InconsistentLog` for a log that contradicts itself. */
  async feed(entries: readonly NumberedEntry[]): Promise<void> {
    for (const entry of entries)
      for (const part of this.#grouping.add(entry)) {
        const done = this.#do(part);
        // Most of what is done is done at once: waiting would take longer than doing it.
        if (done !== undefined) await done;
      }
  }

  async end(): Promise<ReplayResult> {
    for (const part of this.#grouping.end()) await this.#do(part);
    for (const one of this.#running) if (one.stoppedAt === undefined) one.replayed.close();
    return {
      lines: this.#lines,
      sessions: this.#sessions,
      span: this.#span + this.#lastAt,
      isOtherSchema: this.#isOtherSchema,
      otherTitle: this.#otherTitle,
      passedOver: this.#passedOver,
      unmapped: this.#grouping.unmapped,
      masked: this.#standIns?.count ?? 0,
      unknownNames: [...this.#unknownNames],
      incomplete: [...this.#incomplete.values()],
      participants: this.#running.map(({ replayed, found, lines, stoppedAt }) => ({
        name: replayed.name,
        lines,
        mismatches: [...found.values()],
        stoppedAt,
      })),
    };
  }

  #do(part: LogPart): Promise<void> | undefined {
    if (part.kind === 'session') this.#beginSession(part.head);
    else return this.#doGroup(part.group);
    return undefined;
  }

  #beginSession({ schema, began, state, timers }: LogHead): void {
    this.#sessions += 1;
    this.#span += this.#lastAt;
    this.#lastAt = 0;
    const { digest } = this.#options;
    if (digest !== undefined && schema?.sha256 !== undefined && schema.sha256 !== digest) {
      this.#isOtherSchema = true;
      if (schema.name !== (this.#application.title ?? schema.name)) this.#otherTitle = schema.name;
    }
    this.#began = began === undefined ? 0 : Date.parse(began);
    this.#hasBegun = this.#options.from === undefined;
    this.#recent.clear();
    this.#hasLoggedTimers = timers === true;
    for (const { replayed } of this.#running) {
      replayed.hasLoggedTimers = this.#hasLoggedTimers;
      replayed.begin(this.#began, state);
    }
  }

  #doGroup(logged: LineGroup): Promise<void> | undefined {
    let group = logged;
    const [first] = group.lines;
    if (first === undefined) return undefined;
    const { turn, at } = first.line;
    const { from = -Infinity, to = Infinity } = this.#options;
    if (turn !== undefined && (turn < from || turn > to)) return undefined;
    if (this.#sessions === 0) this.#beginSession({ leeshoreLog: 1 });
    if (!this.#hasBegun) {
      this.#hasBegun = true;
      for (const { replayed } of this.#running) replayed.begin(this.#began, group.before);
    }
    if (at !== undefined) this.#lastAt = at;
    this.#lines += group.lines.length;
    const known = this.#knownGroup(group);
    if (known === undefined) return undefined;
    group = known;
    this.#options.onGroup?.(first.number);
    // A line of an old application does not say what the environment gave.
    const [reference] = this.#running;
    if (turn === undefined && reference !== undefined)
      group = this.#learner?.learn(group, reference.replayed.shown) ?? group;
    for (const { line } of group.lines)
      for (const id of line.draws?.ids ?? []) this.#loggedIds.add(id);
    this.#recent.add(group);
    const late: Promise<void>[] = [];
    for (const one of this.#running) {
      if (one.stoppedAt !== undefined) continue;
      one.lines += group.lines.length;
      const done = one === reference ? one.replayed.follow(group) : this.#attempt(one, group);
      if (done instanceof Promise)
        late.push(done.then((followed) => this.#note(one, group, followed)));
      else {
        const noted = this.#note(one, group, done);
        if (noted !== undefined) late.push(noted);
      }
    }
    return late.length === 0 ? undefined : Promise.all(late).then(() => undefined);
  }

  /** A group in the schema's way; `undefined` for one that cannot be done, which is counted. */
  #knownGroup(group: LineGroup): LineGroup | undefined {
    const lines: PlacedLine[] = [];
    for (const placed of group.lines) {
      const { line, number } = placed;
      if (line.turn !== undefined && this.#known.has(line)) {
        lines.push(placed);
        continue;
      }
      const old: OldLine =
        line.turn === undefined ? oldLine(line, this.#known) : { unknown: nameOf(line) };
      if ('line' in old) lines.push({ ...placed, line: old.line });
      else if ('unknown' in old) this.#unknownNames.add(old.unknown);
      else this.#noteIncomplete(number, old.missing);
      if ('line' in old) continue;
      this.#count('unknown' in old ? 'unknown name' : 'incomplete', group);
      return undefined;
    }
    return { ...group, lines };
  }

  #noteIncomplete(line: number, missing: string): void {
    const { times = 0, line: first = line } = this.#incomplete.get(missing) ?? {};
    this.#incomplete.set(missing, { line: first, missing, times: times + 1 });
  }

  /** Lets a participant do a group whose code may do anything: throw, leave something unhandled, or not come back. */
  #attempt({ replayed }: Running, group: LineGroup): Followed | Promise<Followed> {
    const { noReturn } = this.#options;
    const isLast = replayed === this.#running.at(-1)?.replayed;
    if (isLast && noReturn !== undefined && noReturn.line === group.lines[0]?.number)
      return replayed.failed(group, noReturn.shown);
    const threw = (error: unknown) => replayed.failed(group, { threw: thrownText(error) });
    try {
      const followed = replayed.follow(group);
      if (replayed.participant.leaks === undefined)
        return followed instanceof Promise ? followed.catch(threw) : followed;
      return this.#withLeaks(replayed, group, followed).catch(threw);
    } catch (error) {
      return threw(error);
    }
  }

  /** What a participant has left unhandled by the next turn is of the lines just done. */
  async #withLeaks(
    replayed: ReplayedParticipant,
    group: LineGroup,
    followed: Followed | Promise<Followed>,
  ): Promise<Followed> {
    const done = await followed;
    await nextTurn();
    const [leak] = replayed.participant.leaks?.() ?? [];
    if (leak === undefined || done.mismatch !== undefined) return done;
    return replayed.failed(group, { unhandled: leak.text });
  }

  #count(reason: NotDone, { lines }: LineGroup): void {
    this.#passedOver[reason] = (this.#passedOver[reason] ?? 0) + lines.length;
  }

  #note(
    one: Running,
    group: LineGroup,
    { mismatch, passedOver }: Followed,
  ): Promise<void> | undefined {
    if (passedOver !== undefined && one === this.#running[0]) this.#count(passedOver, group);
    if (mismatch === undefined) return undefined;
    const cause = causeOf(mismatch);
    const known = one.found.get(cause);
    const { differences = 1 } = this.#options;
    const after = group.lines.at(-1)?.state;
    const isLast = known === undefined && one.found.size + 1 >= differences;
    const isStuck = this.#options.noReturn?.line === group.lines[0]?.number;
    if (isLast || isStuck || after === undefined || !goesOn(one.replayed, after))
      one.stoppedAt = group.lines.at(-1)?.number;
    if (known !== undefined) {
      known.times += 1;
      if (known.lines.length < mostLines) known.lines.push(mismatch.line);
      return undefined;
    }
    const found = { first: mismatch, window: undefined, times: 1, lines: [] };
    one.found.set(cause, found);
    return this.#findWindow(one, found);
  }

  async #findWindow(
    { replayed: { participant } }: Running,
    found: Writable<MismatchFound>,
  ): Promise<void> {
    if (participant.has !== undefined) return;
    const { first } = found;
    const [application, callables] = [this.#application, this.#callables];
    const about = { ...this.#aboutLog(), hasLoggedTimers: this.#hasLoggedTimers };
    const make = () => new ReplayedParticipant(participant, application, callables, about);
    found.window = await this.#recent.windowOf(first, make, this.#began);
  }
}

/** What a line is about, as it is told: `deck.admit`, `start of timetable.load`. */
const nameOf = ({ do: name, kind = 'action' }: LogLine): string =>
  kind === 'action' ? name : `${kind} of ${name}`;

/** True if a participant can go on from a state of the log; code of the user's may throw at that. */
function goesOn(replayed: ReplayedParticipant, state: LoggedState): boolean {
  try {
    replayed.goOn(state);
    return true;
  } catch {
    return false;
  }
}
