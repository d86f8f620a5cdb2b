// What the engines of all styles have in common: what is handed over to them builds on that.
import type { Fields } from './stored-fields.js';
import type { Capability, Transaction, Turns } from './transaction.js';
import type { StoreChecks } from './value-types.js';
import type { Watchers } from './watchers.js';

/** A function of a plan; how it reads the stores is up to the style. */
export type Ask = (...given: never[]) => unknown;

/** The fields of a store that do not begin with their defaults. One that is one value has one field here, `value`. */
export type Begin = (store: string, isValue: boolean) => Fields;

/** The stores of a style, as capabilities use them. A field that is not named is the one value of a store. */
export interface Engine {
  readonly turns: Turns;
  readonly watchers: Watchers;
  /** What fits the stores that are there. */
  readonly checks: Record<string, StoreChecks>;
  /** Asked for each store that is made; of what several give for a field the last counts. */
  readonly begins: Begin[];
  /** The committed value of a field. */
  read(store: string, field: string | undefined): unknown;
  /** Stores a field, within a transaction. */
  put(store: string, field: string | undefined, value: unknown): void;
  /** A transaction that does something. */
  transaction<P>(act: (payload: P) => void): Transaction<P>;
  /** Does an action, or a moment such as `timetable.load.finish`, with the reactions to it; gives what it binds. */
  perform(name: string, payload: unknown, given?: object): unknown;
  /** Asks a function of a plan. */
  ask(of: Ask, payload: unknown, given: object): unknown;
  /** What can be read beside the states of stores is not what it was. */
  renew(): void;
}

/** Has an engine tell a capability of transactions. */
export function handOver({ turns }: Pick<Engine, 'turns'>, capability: Capability): void {
  turns.capabilities.push(capability);
}

/** The fields of a store that do not begin with their defaults, from all who know of some. */
export function begunFields(begins: readonly Begin[], store: string, isValue: boolean): Fields {
  return Object.assign({}, ...begins.map((begin) => begin(store, isValue))) as Fields;
}

/** The state that a store begins with. */
export function begun(
  begins: readonly Begin[],
  store: string,
  initial: unknown,
  isValue = false,
): unknown {
  if (begins.length === 0) return initial;
  const fields = begunFields(begins, store, isValue);
  if (!isValue) return { ...(initial as Fields), ...fields };
  return Object.hasOwn(fields, 'value') ? fields['value'] : initial;
}
