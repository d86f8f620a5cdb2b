import { same } from '../base/same.js';
import type { CalledFunction } from '../model/functions.js';

/** Where `newId()` and `now()` ask. */
export interface Draws {
  newId(): string;
  now(): number;
  random(): number;
}

type Call = (args: readonly unknown[], draws: Draws) => unknown;

const table: Readonly<Record<CalledFunction, Call>> = {
  'Math.abs': ([x]) => Math.abs(x as number),
  'Math.ceil': ([x]) => Math.ceil(x as number),
  'Math.floor': ([x]) => Math.floor(x as number),
  'Math.round': ([x]) => Math.round(x as number),
  'Math.trunc': ([x]) => Math.trunc(x as number),
  'Math.sign': ([x]) => Math.sign(x as number),
  'Math.sqrt': ([x]) => Math.sqrt(x as number),
  'Math.min': (numbers) => Math.min(...(numbers as number[])),
  'Math.max': (numbers) => Math.max(...(numbers as number[])),
  Number: ([x]) => Number(x),
  String: ([x]) => String(x),
  'Number.isFinite': ([x]) => Number.isFinite(x),
  'Number.isInteger': ([x]) => Number.isInteger(x),
  'Number.isNaN': ([x]) => Number.isNaN(x),
  'Object.keys': ([of]) => Object.keys(of as object),
  'Object.values': ([of]): unknown => Object.values(of as object),
  same: ([a, b]) => same(a, b),
  sum: ([items, value]) => total(items as readonly unknown[], value as Measure | undefined),
  newId: (_, draws) => draws.newId(),
  now: (_, draws) => draws.now(),
  random: (_, draws) => draws.random(),
  'Number.isSafeInteger': ([x]) => Number.isSafeInteger(x),
  'Number.parseFloat': ([x]) => Number.parseFloat(x as string),
  'Object.entries': ([of]): unknown => Object.entries(of as object),
  sortBy: ([items, ...by]) => sorted(items as readonly unknown[], by as readonly Order[]),
  groupBy: ([items, keyOf]) =>
    grouped(items as readonly unknown[], keyOf as (item: unknown) => string),
  toMap: ([items, keyOf, valueOf]) =>
    mapped(
      items as readonly unknown[],
      keyOf as (item: unknown) => string,
      valueOf as (item: unknown) => unknown,
    ),
  isoTime: ([ms]) => isoTime(ms as number),
  isoDay: ([ms]) => isoTime(ms as number).split('T', 1)[0],
};

type Order = (item: unknown) => number | string;

function sorted(items: readonly unknown[], by: readonly Order[]): readonly unknown[] {
  return items.toSorted((a, b) => {
    for (const order of by) {
      const [one, other] = [order(a), order(b)];
      if (one !== one || other !== other) {
        if ((one !== one) !== (other !== other)) return one !== one ? 1 : -1;
      } else if (one !== other) return one < other ? -1 : 1;
    }
    return 0;
  });
}

function grouped(items: readonly unknown[], keyOf: (item: unknown) => string): object {
  const groups = new Map<string, unknown[]>();
  for (const item of items) {
    const key = keyOf(item);
    groups.set(key, [...(groups.get(key) ?? []), item]);
  }
  return Object.fromEntries(groups);
}

function mapped(
  items: readonly unknown[],
  keyOf: (item: unknown) => string,
  valueOf: (item: unknown) => unknown,
): object {
  const entries = new Map<string, unknown>();
  for (const item of items) entries.set(keyOf(item), valueOf(item));
  return Object.fromEntries(entries);
}

function isoTime(ms: number): string {
  const time = new Date(ms);
  return Number.isNaN(time.getTime()) ? '' : time.toISOString();
}

type Measure = (item: unknown, position: number) => number;

function total(items: readonly unknown[], value: Measure | undefined): number {
  return items.reduce(
    (before: number, item, i) => before + (value === undefined ? (item as number) : value(item, i)),
    0,
  );
}

/** Calls a function of the expression language. */
export function callFunction(
  name: CalledFunction,
  args: readonly unknown[],
  draws: Draws,
): unknown {
  return table[name](args, draws);
}
