import { differingPlaces } from '../../base/differing-places.js';
import { applyChanges } from '../log/apply-changes.js';
import { judgeEntry } from '../log/judge-entry.js';
import { isHead, type LogHead, type LoggedState, type LogLine } from '../log/log-lines.js';
import { changeText, doneText } from '../log/line-texts.js';
import { hasFailed, storeOfPath, touches } from '../log/timeline.js';

/** A transaction as the page has it. */
export interface Row {
  readonly turn: number;
  readonly line: LogLine;
  /** The number of transactions that it follows from, one from the other. */
  readonly depth: number;
  readonly store: string;
  readonly hasFailed: boolean;
  /** What is searched, in small letters. */
  readonly text: string;
  /** Which session it belongs to. */
  readonly session: number;
}

/** How far apart states are kept. */
const keptEvery = 500;
/** How many changes of a field are looked at to find the last one of a part of it. */
const mostLooked = 2000;
/** The number of places that are told where a log says only what the state was. */
const mostPlaces = 50;

/** The transactions of a log, and the state after each. */
export class LogData {
  readonly rows: Row[] = [];
  /** The stores that something happened in, in that order. */
  readonly stores: string[] = [];
  readonly heads: LogHead[] = [];
  /** What could not be read. */
  readonly faults: string[] = [];
  readonly #kept = new Map<number, LoggedState>();
  readonly #byTurn = new Map<number, number>();
  /** The rows that changed something in a field: `/deck/vehicles`. */
  readonly #changing = new Map<string, number[]>();

  /** Adds lines as texts; what is no line of a log is noted. */
  addText(text: string): void {
    for (const line of text.split('\n')) {
      if (line.trim() === '') continue;
      try {
        this.add(JSON.parse(line));
      } catch {
        this.faults.push('A line is not valid JSON; it is left out.');
      }
    }
  }

  add(value: unknown): void {
    const entry = judgeEntry(value);
    if (typeof entry === 'string') this.faults.push(`A line is left out: ${entry}.`);
    else if (isHead(entry)) this.#addHead(entry);
    else this.#addLine(entry);
  }

  /** Forgets all. */
  clear(): void {
    for (const list of [this.rows, this.stores, this.heads, this.faults]) list.length = 0;
    for (const map of [this.#kept, this.#byTurn, this.#changing]) map.clear();
  }

  #addHead(head: LogHead): void {
    this.heads.push(head);
    this.#byTurn.clear();
  }

  #addLine(line: LogLine): void {
    const at = this.rows.length;
    const turn = line.turn ?? at + 1;
    const cause = line.cause === undefined ? undefined : this.#byTurn.get(line.cause);
    const depth = cause === undefined ? 0 : (this.rows[cause]?.depth ?? -1) + 1;
    const store = line.do.split('.')[0] || storeOfPath(line.changes?.[0]?.path ?? '') || 'all';
    if (!this.stores.includes(store)) this.stores.push(store);
    const texts = [doneText(line), line.outcome ?? '', line.reason ?? ''];
    texts.push(...(line.changes ?? []).map(changeText));
    this.rows.push({
      turn,
      line,
      depth,
      store,
      hasFailed: hasFailed(line),
      text: texts.join(' ').toLowerCase(),
      session: this.heads.length - 1,
    });
    this.#byTurn.set(turn, at);
    for (const field of new Set((line.changes ?? []).map(({ path }) => fieldOf(path)))) {
      const changing = this.#changing.get(field);
      if (changing === undefined) this.#changing.set(field, [at]);
      else changing.push(at);
    }
    if (line.state !== undefined) this.#kept.set(at, line.state);
  }

  /** The state after a row; -1 for that before the first. */
  stateAt(at: number): LoggedState | undefined {
    const row = this.rows[at];
    if (row === undefined) return this.heads[0]?.state;
    let from = at;
    while (from >= 0 && !this.#kept.has(from) && this.rows[from]?.session === row.session)
      from -= 1;
    const isInSession = this.rows[from]?.session === row.session;
    let state = isInSession ? this.#kept.get(from) : this.heads[row.session]?.state;
    for (let i = from + 1; i <= at; i++) {
      const { changes } = this.rows[i]?.line ?? {};
      if (changes !== undefined && state !== undefined) state = this.#changed(state, i, changes);
      if (i % keptEvery === 0 && state !== undefined) this.#kept.set(i, state);
    }
    return state;
  }

  #changed(state: LoggedState, at: number, changes: NonNullable<LogLine['changes']>): LoggedState {
    try {
      return applyChanges(state, changes);
    } catch {
      this.faults.push(
        `The changes of turn ${this.rows[at]?.turn ?? 0} do not fit the state before it.`,
      );
      return state;
    }
  }

  /** The state before a row. */
  stateBefore(at: number): LoggedState | undefined {
    const row = this.rows[at];
    if (row !== undefined && this.rows[at - 1]?.session !== row.session)
      return this.heads[row.session]?.state;
    return this.stateAt(at - 1);
  }

  /** The places that a row changed, as JSON Pointers. */
  placesOf(at: number): readonly string[] {
    const { changes, turn } = this.rows[at]?.line ?? {};
    if (changes !== undefined) return changes.map(({ path }) => path);
    if (turn !== undefined) return [];
    const [before, after] = [this.stateBefore(at), this.stateAt(at)];
    return before === undefined || after === undefined
      ? []
      : differingPlaces(before, after, mostPlaces);
  }

  /**
   * The newest row up to one that changed a place, or something in it or around it; `undefined` if there is none in the session.
   * Of what is deep in a field that changes all the time, only so many changes are looked at.
   */
  lastChangeOf(place: string, at: number): number | undefined {
    const session = this.rows[at]?.session;
    const changing = this.#changing.get(fieldOf(place)) ?? [];
    let i = changing.length - 1;
    while (i >= 0 && (changing[i] ?? 0) > at) i -= 1;
    for (const last = i - mostLooked; i >= 0 && i > last; i--) {
      const row = changing[i] ?? 0;
      if (this.rows[row]?.session !== session) return undefined;
      const changes = this.rows[row]?.line.changes ?? [];
      if (changes.some((change) => touches(change, place))) return row;
    }
    return undefined;
  }

  /** The rows that a row set off. */
  causedBy(at: number): readonly number[] {
    const row = this.rows[at];
    const caused: number[] = [];
    for (let i = at + 1; i < this.rows.length && this.rows[i]?.session === row?.session; i++)
      if (this.rows[i]?.line.cause === row?.turn) caused.push(i);
    return caused;
  }

  /** The row that set a row off. */
  causeOf(at: number): number | undefined {
    const row = this.rows[at];
    if (row?.line.cause === undefined) return undefined;
    for (let i = at - 1; i >= 0 && this.rows[i]?.session === row.session; i--)
      if (this.rows[i]?.turn === row.line.cause) return i;
    return undefined;
  }
}

/** The field that a path leads into; the store of one that is a single value. */
const fieldOf = (path: string): string => path.split('/').slice(0, 3).join('/');
