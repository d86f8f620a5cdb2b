// A store around one pure function from state and action to state.
import {
  Draw,
  environmentOf,
  Turns,
  type Options,
  type Outcome,
} from '../../common/transaction.js';
import { freeze, keep, same } from '../../common/values.js';
import { Watchers } from '../../common/watchers.js';

/** An action as plain data: its name, and what it is about. */
export interface ActionValue {
  readonly type: string;
  readonly payload?: unknown;
}

/** A store whose state is replaced by what a reducer makes of it. */
export interface ReducerStore<S, A extends ActionValue> {
  /** Does an action: all of it or nothing. */
  dispatch(action: A): Outcome;
  /** The state of now; it never changes. */
  snapshot(): S;
  /** Calls back after every change. */
  subscribe(changed: (now: S, before: S) => void): () => void;
  /** Calls back after every change of what `select` gives. */
  watch<T>(select: (state: S) => T, changed: (now: T, before: T) => void): () => void;
}

/** `reduce` is pure: what it asks of the environment comes in with the action. */
export function createReducerStore<S extends object, A extends ActionValue>(
  initial: S,
  types: ReadonlySet<string>,
  reduce: (state: S, action: A, draw: Draw) => S,
  options: Options,
): ReducerStore<S, A> {
  const environment = environmentOf(options);
  const guarded: <T>(value: T) => T = environment.guard ? freeze : (value) => value;
  const turns = new Turns(environment);
  const watchers = new Watchers(turns);
  let state = guarded(initial);
  const work = (action: A) => () => {
    state = guarded(keep(state, reduce(state, action, new Draw(environment))));
    return () => {
      watchers.round();
    };
  };
  const watch = <T>(select: (state: S) => T, changed: (now: T, before: T) => void) =>
    watchers.add('watch', () => select(state), changed);
  return {
    dispatch(action) {
      if (!types.has(action.type)) throw new TypeError(`There is no action '${action.type}'.`);
      return turns.take(action.type, work(action));
    },
    snapshot: () => state,
    subscribe: (changed) => watch((now) => now, changed),
    watch,
  };
}

/** Makes selectors that remember: for a state of type `S`. */
export function selectFrom<S>() {
  /**
   * A selector that computes anew only if one of its sources gives something else than last time, and
   * gives out the same object as long as the result is equal.
   */
  return function select<V extends readonly unknown[], T>(
    sources: readonly [...{ [K in keyof V]: (state: S) => V[K] }],
    compute: (...values: V) => T,
  ): (state: S) => T {
    let last: { readonly values: V; readonly result: T } | undefined;
    return (state) => {
      const before = last;
      const values = sources.map((source) => source(state)) as unknown as V;
      if (before !== undefined && values.every((value, i) => Object.is(value, before.values[i]))) {
        return before.result;
      }
      const result = compute(...values);
      last = {
        values,
        result: before !== undefined && same(before.result, result) ? before.result : result,
      };
      return last.result;
    };
  };
}
