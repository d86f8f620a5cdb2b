import type { Json } from '../base/json.js';
import type { Span } from '../base/source.js';
import type { Expr } from './expressions.js';
import type { History, Move } from './history.js';
import { exprOf, type Requirement } from './requirements.js';
import { madeOf, type Saved } from './saved.js';
import type { Binding, Step } from './steps.js';
import {
  exprsOfTask,
  moments,
  type Operation,
  type OperationName,
  type Service,
  type Task,
} from './tasks.js';
import type { Type, TypeTable } from './types.js';

export { exprOf, type Requirement };

/** The checked, read-only model of an application. */
export interface Application {
  readonly title: string | undefined;
  readonly about: string | undefined;
  readonly types: TypeTable;
  /** In schema order. */
  readonly functions: readonly NamedFunction[];
  /** In schema order. */
  readonly services: readonly Service[];
  /** In schema order. */
  readonly stores: readonly Store[];
}

/** The stores of an application, whatever else belongs to it. */
export type Stores = Pick<Application, 'stores'>;

interface Named {
  readonly name: string;
  readonly about: string | undefined;
  readonly span: Span;
}

/** An expression under a name, of nothing but its parameters. */
export interface NamedFunction extends Named {
  readonly params: readonly Parameter[];
  readonly value: Expr;
}

export interface Parameter {
  readonly name: string;
  readonly type: Type;
}

export interface Store extends Named {
  /** True if it is attached later: until then it is null. */
  readonly lazy: boolean;
  /** True if the whole state is one value; its only field is then named `value`. */
  readonly single: boolean;
  readonly constants: readonly Constant[];
  readonly fields: readonly Field[];
  /** In schema order. */
  readonly derived: readonly Derived[];
  readonly actions: readonly Action[];
  /** In schema order. */
  readonly tasks: readonly Task[];
  /** In schema order. */
  readonly reactions: readonly Reaction[];
  /** The history of the store; `undefined` if nothing can be undone. */
  readonly history: History | undefined;
  /** The part that is kept in storage; `undefined` if nothing is. */
  readonly saved: Saved | undefined;
}

export interface Constant extends Named {
  readonly value: Json;
  readonly type: Type;
}

export interface Field extends Named {
  readonly type: Type;
  readonly default: Json;
}

export interface Derived extends Named {
  /** Not empty: it is a value for each combination of arguments. */
  readonly params: readonly Parameter[];
  readonly value: Expr;
}

export interface Action extends Named {
  readonly payload: Type | undefined;
  /** The payload if none is given; `undefined` if one must be. */
  readonly payloadDefault: Json | undefined;
  /** True if the payload may come as text, from a form field. */
  readonly acceptsText: boolean;
  /** Given if properties that the payload's type does not have are taken off. */
  readonly dropsExtra?: true;
  readonly requires: readonly Requirement[];
  readonly let: readonly Binding[];
  readonly steps: readonly Step[];
  /** True if it goes through the history of the store, in place of steps. */
  readonly move?: Move;
}

/**
 * Steps of a store that follow the last step of another store's action, each time it is done, or of a moment of a task.
 */
export interface Reaction {
  readonly to: readonly ActionName[];
  /** The names that it can read of the deeds it reacts to: the payload and bound names, as far as all of `to` have them. */
  readonly given: readonly Parameter[];
  readonly steps: readonly Step[];
  /** Where it stands in the schema: `deck.reacts[0]`. */
  readonly at: string;
  readonly span: Span;
}

export interface ActionName {
  readonly store: string;
  /** `admit`; for the moment of a task `loadSailings.finish`. */
  readonly action: string;
}

/** Steps that are done together, with what comes before them. */
export interface Deed {
  /** `deck.admit`, `deck.reacts[0]`, `timetable.loadSailings.finish`. */
  readonly at: string;
  readonly span: Span;
  readonly requires: readonly Requirement[];
  readonly let: readonly Binding[];
  readonly steps: readonly Step[];
}

/** Everything in a store that does steps: its actions, the moments of its tasks, its reactions. */
export function deedsOf({ name: store, actions, tasks, reactions }: Store): readonly Deed[] {
  return [
    ...actions.map((action) => ({ ...action, at: `${store}.${action.name}` })),
    ...tasks.flatMap(({ name, span, requires, let: bindings, steps }) =>
      moments.map((moment) => ({
        at: `${store}.${name}.${moment}`,
        span,
        requires: moment === 'start' ? requires : [],
        let: moment === 'start' ? bindings : [],
        steps: steps[moment],
      })),
    ),
    ...reactions.map(({ at, span, steps }) => ({ at, span, requires: [], let: [], steps })),
  ];
}

/** The expressions of a store that stand in no step: of derived values, requirements, `let` and tasks. */
export function exprsBesideSteps(store: Store): readonly Expr[] {
  return [
    ...store.derived.map(({ value }) => value),
    ...deedsOf(store).flatMap(({ requires, let: bindings }) => [
      ...requires.map(exprOf),
      ...bindings.map(({ value }) => value),
    ]),
    ...store.tasks.flatMap(exprsOfTask),
    ...(store.saved === undefined ? [] : madeOf(store.saved)),
  ];
}

/** The state of a store at the start. */
export function initialState(store: Store): unknown {
  if (store.single) return store.fields[0]?.default;
  return Object.fromEntries(store.fields.map((field) => [field.name, field.default]));
}

/** True if an application has tasks. */
export const hasTasks = ({ stores }: Stores): boolean =>
  stores.some(({ tasks }) => tasks.length > 0);

/** True if anything can be undone. */
export const hasHistory = ({ stores }: Stores): boolean =>
  stores.some(({ history }) => history !== undefined);

/** True if any store is attached later. */
export const hasLazy = ({ stores }: Stores): boolean => stores.some(({ lazy }) => lazy);

/** True if anything is kept in storage. */
export const hasSaved = ({ stores }: Stores): boolean =>
  stores.some(({ saved }) => saved !== undefined);

/** The derived values of a store that are computed by an expression: all but `canUndo` and `canRedo`. */
export const writtenDerived = ({ derived }: Pick<Store, 'derived'>): readonly Derived[] =>
  derived.filter(({ value }) => value.kind !== 'history');

/** The operation that a task calls; an exception if the model has none. */
export function operationNamed({ services }: Application, of: OperationName): Operation {
  return named(named(services, of.service).operations, of.operation);
}

/** The actions of a store that have steps: all but `undo` and `redo`. */
export const writtenActions = ({ actions }: Pick<Store, 'actions'>): readonly Action[] =>
  actions.filter(({ move }) => move === undefined);

/** The stores of applications: they are asked for again and again. */
const storesByName = new WeakMap<Stores, ReadonlyMap<string, Store>>();

/** The store of that name; an exception if there is none, as the model is checked. */
export function storeNamed(application: Stores, name: string): Store {
  let byName = storesByName.get(application);
  if (byName === undefined) {
    byName = new Map(application.stores.map((store) => [store.name, store]));
    storesByName.set(application, byName);
  }
  const store = byName.get(name);
  if (store === undefined) throw new Error(`the model has no store '${name}'`);
  return store;
}

/** A reaction, and the store that it belongs to. */
export interface StoreReaction {
  readonly store: Store;
  readonly reaction: Reaction;
}

/** The reactions of applications, by what they react to: `deck.admit`. */
const reactionsByAction = new WeakMap<Stores, ReadonlyMap<string, readonly StoreReaction[]>>();

/** The reactions to an action, or to `loadSailings.finish`, store by store in schema order. */
export function reactionsTo(
  application: Stores,
  store: string,
  action: string,
): readonly StoreReaction[] {
  let byAction = reactionsByAction.get(application);
  if (byAction === undefined) {
    byAction = reactionsOf(application);
    reactionsByAction.set(application, byAction);
  }
  return byAction.get(`${store}.${action}`) ?? [];
}

function reactionsOf({ stores }: Stores): ReadonlyMap<string, readonly StoreReaction[]> {
  const byAction = new Map<string, StoreReaction[]>();
  for (const store of stores)
    for (const reaction of store.reactions)
      for (const cause of new Set(reaction.to.map((to) => `${to.store}.${to.action}`)))
        byAction.set(cause, [...(byAction.get(cause) ?? []), { store, reaction }]);
  return byAction;
}

/** True if a name of a store is that of a derived value with parameters. */
export function hasParameters(application: Application, store: string, name: string): boolean {
  const derived = storeNamed(application, store).derived.find((other) => other.name === name);
  return derived !== undefined && derived.params.length > 0;
}

/** The item called `name` in a list of named things of the model; an exception if there is none. */
export function named<T extends { readonly name: string }>(things: readonly T[], name: string): T {
  const thing = things.find((candidate) => candidate.name === name);
  if (thing === undefined) throw new Error(`the model has nothing named '${name}'`);
  return thing;
}
