// A store around one pure function from state and action to state.
import {
  Draw,
  environmentOf,
  Turns,
  type Options,
  type Outcome,
} from '../../common/transaction.js';
import type { Followed } from '../../common/followed.js';
import { Following } from '../../common/following.js';
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
  readonly dispatch: (action: A) => Outcome;
  /** The state of now; it never changes. */
  readonly snapshot: () => S;
  /** Calls back after every change. */
  readonly subscribe: (changed: (now: S, before: S) => void) => () => void;
  /** Calls back after every change of what `select` gives. */
  readonly watch: <T>(select: (state: S) => T, changed: (now: T, before: T) => void) => () => void;
  /** What `select` gives, to be subscribed to or iterated over. */
  readonly follow: <T>(select: (state: S) => T) => Followed<T>;
  /** The state of now, as JSON data. */
  readonly toJSON: () => S;
}

/** `reduce` is pure: what it asks of the environment comes in with the action. */
export function createReducerStore<S extends object, A extends ActionValue>(
  initial: S,
  types: ReadonlySet<string>,
  reduce: (state: S, action: A, draw: Draw) => S,
  options: Options,
): ReducerStore<S, A> {
  const environment = environmentOf(options);
  const { guard } = environment;
  const watchers = new Watchers((problem) => {
    turns.report(problem);
  });
  const turns = new Turns(environment, () => {
    watchers.round();
  });
  let state = guard ? freeze(initial) : initial;
  const watch = <T>(select: (state: S) => T, changed: (now: T, before: T) => void) =>
    watchers.add('watch', () => select(state), changed);
  return {
    dispatch(action) {
      if (!types.has(action.type)) throw new TypeError(`There is no action '${action.type}'.`);
      return turns.take(action.type, () => {
        const before = state;
        // Three levels: the stores, their fields, and what stands in a field.
        state = keep(before, reduce(before, action, new Draw(environment)), guard, 3);
        return state !== before;
      });
    },
    snapshot: () => state,
    subscribe: (changed) => watch((now) => now, changed),
    watch,
    follow: <T>(select: (state: S) => T) =>
      new Following<T>(
        () => select(state),
        (changed) => watch(select, changed),
        (problem) => {
          turns.report(problem);
        },
      ),
    toJSON: () => state,
  };
}

/** What a selector remembers: what it gave for some values of its sources, and the state they were last seen in. */
interface Memory<S, T> {
  state: S;
  readonly values: readonly unknown[];
  readonly result: T;
}

/** Reads a part of a state, or computes something from it. */
type Read<S, T> = (state: S) => T;

/** A selector that remembers. */
export interface Selector<S, T> {
  /** What is selected; the same object as long as it is equal. */
  (state: S): T;
  /** The same for a state in the middle of an action: nothing is given out. */
  readonly within: Read<S, T>;
}

/** Makes selectors that remember: for a state of type `S`. */
export function selectFrom<S>() {
  /** A selector that computes anew only if one of its sources gives something else than last time. */
  return function select<V extends readonly unknown[], T>(
    sources: readonly [...{ [K in keyof V]: Read<S, V[K]> | Selector<S, V[K]> }],
    compute: (...values: V) => T,
  ): Selector<S, T> {
    const reads = sources.map((source) => ('within' in source ? source.within : source));
    let last: Memory<S, T> | undefined;
    let given: (Memory<S, T> & { readonly out: T }) | undefined;

    const isOf = (memory: Memory<S, T>, state: S): boolean => {
      for (let i = 0; i < reads.length; i++)
        if (!Object.is(reads[i]?.(state), memory.values[i])) return false;
      memory.state = state;
      return true;
    };
    const recall = (state: S): Memory<S, T> => {
      if (last !== undefined && (last.state === state || isOf(last, state))) return last;
      if (given !== undefined && isOf(given, state)) return given;
      const values = reads.map((read) => read(state));
      const computed = compute(...(values as unknown as V));
      const result = last !== undefined && same(last.result, computed) ? last.result : computed;
      return (last = { state, values, result });
    };
    const select = (state: S): T => {
      if (given !== undefined && (given.state === state || isOf(given, state))) return given.out;
      const { values, result } = recall(state);
      const out = given !== undefined && same(given.out, result) ? given.out : result;
      given = { state, values, result, out };
      return out;
    };
    return Object.assign(select, { within: (state: S) => recall(state).result });
  };
}
