// Lazy stores, which are attached after the others were made.
import type { Outcome } from './transaction.js';

/** Stores of which one, which may be null, is attached. */
export type With<Of, Name extends keyof Of> = Of & {
  readonly [Key in Name]: NonNullable<Of[Key]>;
};

/** Why an action of a store is refused that is not attached. */
export const notAttached = 'not attached';

/** The outcome of attaching a store that is attached already. */
export const attached: Outcome = Object.freeze({ status: 'done' });

/** Inserts an item at its place in a sorted list. */
export function insert<T>(all: T[], one: T, placeOf: (item: T) => number): void {
  const at = all.findIndex((other) => placeOf(other) > placeOf(one));
  all.splice(at < 0 ? all.length : at, 0, one);
}

/** Sorts the properties of an object, such as `deck.load`, by the order of their stores. */
export function reorder(object: Record<string, unknown>, order: readonly string[]): void {
  const placeOf = ([name]: readonly [string, unknown]): number =>
    order.indexOf(name.split('.')[0] ?? '');
  const entries = Object.entries(object).sort((a, b) => placeOf(a) - placeOf(b));
  for (const name of Object.keys(object)) delete object[name];
  for (const [name, value] of entries) object[name] = value;
}

/** The attached stores, in the order of the schema. */
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
