// Selectors that take arguments besides the state.
import { answering } from '../../common/arguments.js';
import type { Selector } from './runtime.js';

/** A selector that takes arguments: what it selects for equal ones is the same object as long as it is equal. */
export function answered<S, A extends readonly unknown[], T>(
  selector: Selector<S, (...args: A) => T>,
): ((state: S, ...args: A) => T) & { readonly within: (state: S, ...args: A) => T } {
  const kept = answering<A, T>();
  const within = (state: S, ...args: A) => selector.within(state)(...args);
  return Object.assign((state: S, ...args: A) => kept(args, within(state, ...args)), { within });
}
