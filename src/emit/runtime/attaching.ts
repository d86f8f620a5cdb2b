// Stores that are attached later.
import type { Outcome } from './transaction.js';

/** Some stores, of which one is attached. */
export type With<Of, Name extends keyof Of> = Of & {
  readonly [Key in Name]: NonNullable<Of[Key]>;
};

/** What becomes of what is asked of a store that is not attached. */
export const notAttached = 'not attached';

/** The outcome of attaching a store once more. */
export const attached: Outcome = Object.freeze({ status: 'done' });

/** Puts something where it belongs among others that are in order. */
export function insert<T>(all: T[], one: T, placeOf: (item: T) => number): void {
  const at = all.findIndex((other) => placeOf(other) > placeOf(one));
  all.splice(at < 0 ? all.length : at, 0, one);
}

/** Puts the properties of an object into the order of the stores that they belong to: `deck.load`. */
export function reorder(object: Record<string, unknown>, order: readonly string[]): void {
  const placeOf = ([name]: readonly [string, unknown]): number =>
    order.indexOf(name.split('.')[0] ?? '');
  const entries = Object.entries(object).sort((a, b) => placeOf(a) - placeOf(b));
  for (const name of Object.keys(object)) delete object[name];
  for (const [name, value] of entries) object[name] = value;
}

/** The stores that are there, in the order of the schema. */
export function inOrder<T>(
  order: readonly string[],
  stores: Readonly<Record<string, T>>,
): Readonly<Record<string, T>> {
  return Object.fromEntries(
    order.flatMap((name) => {
      const store = stores[name];
      return store === undefined ? [] : [[name, store] as const];
    }),
  );
}
