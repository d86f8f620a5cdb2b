import { isObject } from '../../base/json.js';
import { applyChanges, PatchError } from './apply-changes.js';
import { isHead, type LogHead, type LoggedState, type LogLine } from './log-lines.js';
import type { LineMapping } from './mapping.js';
import type { NumberedEntry } from './read-log.js';

/** A line, with the state of all stores after it; `undefined` where the log does not say. */
export interface PlacedLine {
  /** Its number in the file, from 1. */
  readonly number: number;
  readonly line: LogLine;
  readonly state: LoggedState | undefined;
}

/** Lines that follow from one another without anything from outside: the first was asked for, the others it set off. */
export interface LineGroup {
  /** The state before it; `undefined` where the log does not say. */
  readonly before: LoggedState | undefined;
  readonly lines: readonly PlacedLine[];
}

/** What a log consists of. */
export type LogPart =
  | { readonly kind: 'session'; readonly number: number; readonly head: LogHead }
  | { readonly kind: 'group'; readonly group: LineGroup };

/** A log that contradicts itself. */
export class InconsistentLog extends Error {
  constructor(
    readonly number: number,
    message: string,
  ) {
    super(message);
  }
}

/** True if a line is set off by the one before it, within the same call. */
const isSetOff = ({ by = 'outside', sync }: LogLine): boolean =>
  by === 'step' || by === 'auto' || by === 'watcher' || (by === 'answer' && sync === true);

/** Puts the lines of a log into groups, and finds the state after each. */
export class Grouping {
  /** The state as it is logged, and as the schema has it. */
  #raw: LoggedState | undefined;
  #state: LoggedState | undefined;
  #before: LoggedState | undefined;
  #open: PlacedLine[] = [];
  /** How many lines were of something that the schema does not have. */
  unmapped = 0;
  readonly #mapping: LineMapping | undefined;

  /** `mapping`: what the names and shapes of an old application's log are in the schema. */
  constructor(mapping?: LineMapping) {
    this.#mapping = mapping;
  }

  /** What is complete once an entry is there. Throws {@link InconsistentLog}. */
  add({ line: number, entry }: NumberedEntry): readonly LogPart[] {
    if (isHead(entry)) {
      const parts = this.end();
      this.#raw = entry.state;
      this.#state = this.#before = this.#mapped(entry.state);
      const { state: _, ...rest } = entry;
      const head = this.#state === undefined ? rest : { ...rest, state: this.#state };
      return [...parts, { kind: 'session', number, head }];
    }
    const parts = isSetOff(entry) ? [] : this.end();
    const before = this.#raw;
    this.#raw = stateAfter(before, entry, number);
    if (this.#raw !== before) this.#state = this.#mapped(this.#raw);
    const line = this.#mapping === undefined ? entry : this.#mapping.line(entry);
    if (line !== undefined) this.#open.push({ number, line, state: this.#state });
    else {
      this.unmapped += 1;
      this.#before = this.#state;
    }
    return parts;
  }

  #mapped(state: LoggedState | undefined): LoggedState | undefined {
    return state === undefined || this.#mapping === undefined ? state : this.#mapping.state(state);
  }

  /** What is left at the end. */
  end(): readonly LogPart[] {
    const [lines, before] = [this.#open, this.#before];
    this.#open = [];
    this.#before = this.#state;
    return lines.length === 0 ? [] : [{ kind: 'group', group: { before, lines } }];
  }
}

/** The state after a line. A line with a turn and without changes changes nothing. */
function stateAfter(
  before: LoggedState | undefined,
  { changes, state, turn }: LogLine,
  number: number,
): LoggedState | undefined {
  if (changes === undefined) return state ?? (turn === undefined ? undefined : before);
  if (before === undefined) return state;
  try {
    const after: unknown = applyChanges(before, changes);
    if (isObject(after)) return after;
    throw new InconsistentLog(number, 'its changes leave something that is no state of stores');
  } catch (error) {
    if (!(error instanceof PatchError)) throw error;
    throw new InconsistentLog(
      number,
      `its changes do not fit the state before it: ${error.message}`,
    );
  }
}
