import { isObject } from '../base/json.js';
import type { ExternalStores } from '../model/external.js';

/** A line of a participant file as it was written for its user: all that it does is to call `missing`; it may be counted. */
const blankLine =
  /^\(?[^()]*\)?\s*=>\s*(?:\(leeshore\$seen\[\d+\]\|\|leeshore\$see\(\d+\),)?\s*missing\d*\(\s*["'`]([^"'`]*)/;

/** True if a line is not filled in: it says its own name, as `deck.admit`, or `timetable.load cancel`. */
const isBlank = (line: unknown, name: string): boolean =>
  typeof line === 'function' &&
  blankLine.exec(Function.prototype.toString.call(line))?.[1] === name;

type Table = Readonly<Record<string, unknown>>;

const parts = ['actions', 'tasks', 'state', 'derived'] as const;

/** A table of stores without the lines that are not filled in yet, and their names. */
function splitTable(table: Table) {
  const blanks: string[] = [];
  /** What is left of a line; nothing of one that is not filled in. */
  const filled = (line: unknown, name: string): unknown => {
    if (isBlank(line, name)) {
      blanks.push(name);
      return undefined;
    }
    if (!isObject(line)) return line;
    const before = blanks.length;
    const left = withParts(line, (part) => `${name} ${part}`);
    // A task of which nothing is filled in goes by its own name.
    if (left === undefined) blanks.splice(before, Infinity, name);
    return left;
  };
  /** What is left of a table; nothing of one in which nothing is filled in. */
  const withParts = (own: Table, nameOf: (key: string) => string): unknown => {
    const all = Object.entries(own);
    const left = all.flatMap(([key, line]) => {
      const part = filled(line, nameOf(key));
      return part === undefined && line !== undefined ? [] : [[key, part] as const];
    });
    return left.length === 0 && all.length > 0 ? undefined : Object.fromEntries(left);
  };
  const left = Object.entries(table).flatMap(([store, own]) => {
    const rest =
      isObject(own) && !isBlank(own, store)
        ? withParts(own, (name) => `${store}.${name}`)
        : filled(own, store);
    return rest === undefined ? [] : [[store, rest] as const];
  });
  return { left: Object.fromEntries(left) as Table, blanks };
}

/** Stores without the lines of their tables that are not filled in yet, and the names of these: `deck.admit`. */
export function withoutBlanks(stores: ExternalStores): {
  readonly stores: ExternalStores;
  readonly blanks: readonly string[];
} {
  const split = parts.flatMap((part) => {
    const table: Table | undefined = stores[part];
    return table === undefined ? [] : [{ part, ...splitTable(table) }];
  });
  const tables = Object.fromEntries(split.map(({ part, left }) => [part, left]));
  return {
    stores: { ...stores, ...(tables as Partial<ExternalStores>) },
    blanks: split.flatMap(({ blanks }) => blanks),
  };
}
