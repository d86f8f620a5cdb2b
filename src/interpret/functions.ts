import { same } from '../base/same.js';

/** Where `newId()` and `now()` ask. */
export interface Draws {
  newId(): string;
  now(): number;
}

type Call = (args: readonly unknown[], draws: Draws) => unknown;

const table: Readonly<Record<string, Call>> = {
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
};

type Measure = (item: unknown, position: number) => number;

function total(items: readonly unknown[], value: Measure | undefined): number {
  return items.reduce(
    (before: number, item, i) => before + (value === undefined ? (item as number) : value(item, i)),
    0,
  );
}

/** Calls a function of the expression language. */
export function callFunction(name: string, args: readonly unknown[], draws: Draws): unknown {
  const run = table[name];
  if (run === undefined) throw new Error(`the interpreter has no function '${name}'`);
  return run(args, draws);
}
