// Lazy stores, which are attached after the others were made.
import type { Engine } from './engine.js';
import type { Outcome } from './transaction.js';

/** Stores of which one, which may be null, is attached. */
export type With<Of, Name extends keyof Of> = Of & {
  readonly [Key in Name]: NonNullable<Of[Key]>;
};

/** The outcome of attaching a store that is attached already. */
const attached: Outcome = Object.freeze({ status: 'done' });

/**
 * Attaches a store in a turn of its own: `make` makes it and gives what it begins with. `isThere`: whether it is attached
 * already. `order`: all stores, in the order of the schema.
 */
export function attachTo(
  { turns }: Engine,
  name: string,
  order: readonly string[],
  isThere: () => boolean,
  make: () => unknown,
): Outcome {
  if (isThere()) return attached;
  return turns.take(`${name}.attach`, undefined, undefined, {
    act: () => turns.does?.(`${name}.attach`),
    commit() {
      if (isThere()) return false;
      const begun = make();
      turns.does?.(`${name}.attach`, begun);
      for (const capability of turns.capabilities)
        capability.attached?.((one) => order.indexOf(one.split('.')[0] ?? ''));
      return true;
    },
  });
}
