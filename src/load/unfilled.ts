import { isObject } from '../base/json.js';
import type { BroughtStores } from '../model/brought.js';

/** A line of a participant file as it was written for its user: all that it does is to call `missing`; it may be counted. */
const blankLine =
  /^\(?[^()]*\)?\s*=>\s*(?:\(leeshore\$seen\[\d+\]\|\|leeshore\$see\(\d+\),)?\s*missing\d*\(\s*["'`]/;

const isBlank = (line: unknown): boolean =>
  typeof line === 'function' && blankLine.test(Function.prototype.toString.call(line));

type Table = Readonly<Record<string, unknown>>;

const parts = ['actions', 'tasks', 'state', 'derived'] as const;

/** Stores without the lines of their tables that are not filled in yet. */
export function withoutBlanks(stores: BroughtStores): BroughtStores {
  const filled = parts.flatMap((part) => {
    const table: Table | undefined = stores[part];
    return table === undefined ? [] : [[part, filledIn(table)]];
  });
  return { ...stores, ...(Object.fromEntries(filled) as Partial<BroughtStores>) };
}

function filledIn(table: Table): Table {
  return Object.fromEntries(
    Object.entries(table).flatMap(([name, own]) => {
      if (isBlank(own)) return [];
      if (!isObject(own)) return [[name, own]];
      const lines = Object.entries(own).filter(([, line]) => !isBlankLine(line));
      return lines.length === 0 && Object.keys(own).length > 0
        ? []
        : [[name, Object.fromEntries(lines.map(([key, line]) => [key, withoutBlankParts(line)]))]];
    }),
  );
}

/** Whether a line, or all parts of a task, are not filled in. */
function isBlankLine(line: unknown): boolean {
  if (!isObject(line)) return isBlank(line);
  const all = Object.values(line);
  return all.length > 0 && all.every(isBlank);
}

/** What is filled in of a task: what cancels it, and says whether it goes on, may be left for later. */
const withoutBlankParts = (line: unknown): unknown =>
  isObject(line)
    ? Object.fromEntries(Object.entries(line).filter(([, part]) => !isBlank(part)))
    : line;

/** The names of what is not filled in yet: `deck.admit`, `timetable.load cancel`. */
export function blanksIn(stores: BroughtStores): readonly string[] {
  return parts.flatMap((part) =>
    Object.entries((stores[part] ?? {}) as Table).flatMap(([store, own]) => {
      if (isBlank(own)) return [store];
      if (!isObject(own)) return [];
      return Object.entries(own).flatMap(([name, line]) => {
        const at = `${store}.${name}`;
        if (isBlankLine(line)) return [at];
        if (!isObject(line)) return [];
        return Object.entries(line).flatMap(([key, part]) =>
          isBlank(part) ? [`${at} ${key}`] : [],
        );
      });
    }),
  );
}
