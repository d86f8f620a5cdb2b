import { Grouping, type LineGroup } from './groups.js';
import { changesBetween } from './changes-between.js';
import type { PatchOperation, LoggedState, LogHead, LogLine } from './log-lines.js';
import type { LogMapping } from './mapping.js';
import type { NumberedEntry } from './read-log.js';

/** A transaction in a timeline. */
export interface TimelineRow {
  /** The line in the file, from 1. */
  readonly number: number;
  /** Its turn; in a log without turns, how many lines came before, from 1. */
  readonly turn: number;
  readonly line: LogLine;
  /** The number of transactions that it follows from, one from the other. */
  readonly depth: number;
}

/** Which transactions are wanted; all if nothing is said. */
export interface TimelineFilter {
  /** Names of stores: transactions of theirs, and those that changed something in them. */
  readonly stores?: readonly string[] | undefined;
  /** Names of actions and tasks: `deck.admit`. */
  readonly actions?: readonly string[] | undefined;
  /** A field or a part of it: `deck.hold`, `deck.vehicles.3.plate`. */
  readonly field?: string | undefined;
  /** What was refused, what broke and what failed. */
  readonly failed?: boolean | undefined;
}

/** One transaction, with the states around it and at the end. */
export interface Moment {
  readonly row: TimelineRow;
  readonly head: LogHead | undefined;
  readonly before: LoggedState | undefined;
  readonly after: LoggedState | undefined;
  readonly end: LoggedState | undefined;
  /** The transactions that it set off. */
  readonly caused: readonly TimelineRow[];
  /** What set it off. */
  readonly cause: TimelineRow | undefined;
}

/** How much a timeline has. */
export interface TimelineCounts {
  /** Transactions in all, and of those that are wanted. */
  readonly count: number;
  readonly shown: number;
  /** Of those that are wanted, what was refused, broke or failed. */
  readonly failed: number;
  readonly sessions: number;
}

/** What a timeline is made of. */
export interface TimelineReading {
  /** Told of each row that is wanted, in order. */
  readonly onRow?: (row: TimelineRow) => void;
  /** The turn to be seen in full. */
  readonly at?: number | undefined;
}

/** Reads the transactions of a log. Throws `InconsistentLog` where its changes do not fit. */
export class Timeline implements TimelineCounts {
  readonly #grouping: Grouping;
  readonly #filter: TimelineFilter;
  readonly #reading: TimelineReading;
  #head: LogHead | undefined;
  /** Depths by turn, of the newest turns. */
  #depths = new Map<number, number>();
  #count = 0;
  #state: LoggedState | undefined;
  #moment:
    | { row: TimelineRow; before: LoggedState | undefined; after: LoggedState | undefined }
    | undefined;
  #momentHead: LogHead | undefined;
  #cause: TimelineRow | undefined;
  readonly #caused: TimelineRow[] = [];
  readonly #seen = new Map<number, TimelineRow>();
  sessions = 0;
  shown = 0;
  failed = 0;
  /** The stores that there are, as far as the log says it, and the actions and tasks of which there is a line. */
  readonly stores = new Set<string>();
  readonly actions = new Set<string>();

  constructor(filter: TimelineFilter, reading: TimelineReading, mapping?: LogMapping) {
    this.#grouping = new Grouping(mapping);
    this.#filter = filter;
    this.#reading = reading;
  }

  /** The number of transactions that were read. */
  get count(): number {
    return this.#count;
  }

  add(entries: readonly NumberedEntry[]): void {
    for (const entry of entries)
      for (const part of this.#grouping.add(entry)) {
        if (part.kind === 'group') this.#addGroup(part.group);
        else {
          this.sessions += 1;
          this.#head = part.head;
          for (const store of Object.keys(part.head.state ?? {})) this.stores.add(store);
          this.#state = part.head.state;
          this.#depths.clear();
        }
      }
  }

  /** The rest, and the transaction that was to be seen in full. */
  end(): Moment | undefined {
    for (const part of this.#grouping.end()) if (part.kind === 'group') this.#addGroup(part.group);
    if (this.#moment === undefined) return undefined;
    return {
      ...this.#moment,
      head: this.#momentHead,
      end: this.#state,
      caused: this.#caused,
      cause: this.#cause,
    };
  }

  #addGroup({ lines }: LineGroup): void {
    for (const { number, line: told, state } of lines) {
      const line = withChanges(told, this.#state, state);
      this.#count += 1;
      this.actions.add(line.do);
      for (const store of [
        storeIn(line.do),
        ...(line.changes ?? []).map(({ path }) => storeOfPath(path)),
      ])
        this.stores.add(store);
      const turn = line.turn ?? this.#count;
      const above = line.cause === undefined ? undefined : this.#depths.get(line.cause);
      const depth = above === undefined ? 0 : above + 1;
      this.#depths.set(turn, depth);
      const row = { number, turn, line, depth };
      this.#note(row, state);
      this.#state = state;
      if (!isWanted(line, this.#filter)) continue;
      this.shown += 1;
      if (hasFailed(line)) this.failed += 1;
      this.#reading.onRow?.(row);
    }
  }

  #note(row: TimelineRow, after: LoggedState | undefined): void {
    const { at } = this.#reading;
    if (at === undefined) return;
    if (this.#moment === undefined) this.#seen.set(row.turn, row);
    else if (row.line.cause === at) this.#caused.push(row);
    if (row.turn !== at || this.#moment !== undefined) return;
    this.#moment = { row, before: this.#state, after };
    this.#momentHead = this.#head;
    this.#cause = row.line.cause === undefined ? undefined : this.#seen.get(row.line.cause);
  }
}

/** A line that has the state only tells what has changed in it, too. */
function withChanges(
  line: LogLine,
  before: LoggedState | undefined,
  after: LoggedState | undefined,
): LogLine {
  if (line.changes !== undefined || line.state === undefined) return line;
  if (before === undefined || after === undefined) return line;
  return { ...line, changes: changesBetween(before, after) };
}

const storeIn = (name: string): string => name.split(/[./]/)[0] ?? '';

/** The store in a path: `/deck/hold` is of `deck`. */
export const storeOfPath = (path: string): string => path.split('/')[1] ?? '';

export const hasFailed = ({ outcome, kind }: LogLine): boolean =>
  outcome === 'refused' || outcome === 'broken' || kind === 'fail' || kind === 'retry';

/** Whether a change is of a place, or of something in it or around it. */
export const touches = ({ path }: PatchOperation, place: string): boolean =>
  path === place || path.startsWith(`${place}/`) || place.startsWith(`${path}/`);

/** The JSON Pointer to a field that people write with points: `deck.vehicles.3`. */
export const pointerOf = (field: string): string => `/${field.replaceAll('.', '/')}`;

export function isWanted(line: LogLine, filter: TimelineFilter): boolean {
  const { stores, actions, field, failed = false } = filter;
  const { changes = [] } = line;
  if (failed && !hasFailed(line)) return false;
  if (actions !== undefined && !actions.includes(line.do)) return false;
  if (field !== undefined && !changes.some((change) => touches(change, pointerOf(field))))
    return false;
  return (
    stores === undefined ||
    stores.includes(storeIn(line.do)) ||
    changes.some(({ path }) => stores.includes(storeOfPath(path)))
  );
}
