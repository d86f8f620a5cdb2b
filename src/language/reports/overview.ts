import type { Json } from '../../base/json.js';
import {
  exprOf,
  named,
  reactionsTo,
  storeNamed,
  type Action,
  type Application,
  type Store,
} from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import { effectsOf, readsOf } from '../../model/footprint.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';
import {
  serviceOverviews,
  taskOverview,
  type ServiceOverview,
  type TaskOverview,
} from './task-overview.js';
import { typeText } from '../../model/type-text.js';
import type { TypeTable } from '../../model/types.js';

/** What the checker understood of an application: names as `store.name`, types in words. */
export interface Overview {
  readonly leeshoreOverview: 1;
  readonly title: string | null;
  readonly services: readonly ServiceOverview[];
  readonly stores: readonly StoreOverview[];
}

export interface StoreOverview {
  readonly name: string;
  readonly about: string | null;
  readonly fields: readonly FieldOverview[];
  readonly derived: readonly DerivedOverview[];
  readonly actions: readonly ActionOverview[];
  readonly tasks: readonly TaskOverview[];
  readonly reactions: readonly ReactionOverview[];
  /** True if it is attached later. */
  readonly lazy: boolean;
  /** What can be undone; null if nothing. */
  readonly history: HistoryOverview | null;
  /** What is kept in storage; null if nothing. */
  readonly saved: SavedOverview | null;
}

interface SavedOverview {
  readonly fields: readonly string[];
  readonly key: string;
  readonly version: number | null;
  /** The earlier versions that are read. */
  readonly from: readonly number[];
  /** The keys under which something was kept before there was a schema, and is read. */
  readonly old: readonly string[];
}

interface HistoryOverview {
  /** The fields that are put back. */
  readonly of: readonly string[];
  readonly limit: number;
  /** The actions of which several in a row are undone at once. */
  readonly together: readonly string[];
}

interface FieldOverview {
  readonly name: string;
  readonly type: string;
  readonly default: Json;
}

interface DerivedOverview {
  readonly name: string;
  readonly given: readonly { readonly name: string; readonly type: string }[];
  readonly type: string;
  /** The fields and derived values that it reads. */
  readonly reads: readonly string[];
}

interface Effects {
  readonly reads: readonly string[];
  /** The fields that its own steps store to. */
  readonly stores: readonly string[];
  /** The actions that it runs. */
  readonly runs: readonly string[];
  /** The tasks that it starts, and those that it cancels. */
  readonly starts: readonly string[];
  readonly cancels: readonly string[];
  /** What is undone or redone after it: `deck.undo`. */
  readonly moves: readonly string[];
}

interface ActionOverview extends Effects {
  readonly name: string;
  readonly payload: string | null;
  readonly requires: readonly string[];
  /** What it sets off besides, in order and however deep: actions that it runs, and reactions (`log.reacts[0]`). */
  readonly causes: readonly string[];
}

interface ReactionOverview extends Effects {
  readonly to: readonly string[];
}

/** What the checker understood of an application. */
export function overviewOf(application: Application): Overview {
  return {
    leeshoreOverview: 1,
    title: application.title ?? null,
    services: serviceOverviews(application),
    stores: application.stores.map((store) => storeOverview(store, application)),
  };
}

function storeOverview(store: Store, application: Application): StoreOverview {
  const { types } = application;
  return {
    name: store.name,
    about: store.about ?? null,
    fields: store.fields.map(({ name, type, default: start }) => ({
      name,
      type: typeText(type, types),
      default: start,
    })),
    derived: store.derived.map(({ name, params, value }) => ({
      name,
      given: params.map((param) => ({ name: param.name, type: typeText(param.type, types) })),
      type: typeText(value.type, types),
      reads: [...readsOf([value], application).written],
    })),
    actions: store.actions.map((action) => actionOverview(action, store, application)),
    tasks: store.tasks.map((task) => taskOverview(task, store, application)),
    reactions: store.reactions.map(({ to, steps }) => ({
      to: to.map((target) => `${target.store}.${target.action}`),
      ...effectsIn(steps, [], store, application),
    })),
    lazy: store.lazy,
    history: historyOverview(store),
    saved: savedOverview(store),
  };
}

function historyOverview({ history }: Store): HistoryOverview | null {
  if (history === undefined) return null;
  const { of, limit, together } = history;
  return { of, limit, together };
}

function savedOverview({ saved }: Store): SavedOverview | null {
  if (saved === undefined) return null;
  const { fields, key, version = null, from, old } = saved;
  const keys = (old?.keys ?? []).map((one) => one.key);
  return { fields, key, version, from: from.map((older) => older.version), old: keys };
}

function actionOverview(action: Action, store: Store, application: Application): ActionOverview {
  const { name, payload, requires, let: bindings, steps } = action;
  const types: TypeTable = application.types;
  const before = [...requires.map(exprOf), ...bindings.map(({ value }) => value)];
  return {
    name,
    payload: payload === undefined ? null : typeText(payload, types),
    requires: requires.map(({ otherwise }) => otherwise),
    ...effectsIn(steps, before, store, application),
    ...(action.move === undefined ? {} : { stores: putBackBy(store) }),
    causes: causedBy(store.name, action, application),
  };
}

/** The fields that an undo or a redo stores to. */
function putBackBy({ name, history }: Store): readonly string[] {
  return (history?.of ?? []).map((field) => `${name}.${field}`);
}

/** What an action sets off: what its steps run, each with its own, then the reactions to it, each with what it runs. */
function causedBy(
  store: string,
  { name, steps }: Pick<Action, 'name' | 'steps'>,
  application: Application,
): readonly string[] {
  return [
    ...runBy(steps, store, application),
    ...reactionsTo(application, store, name).flatMap(({ store: reacting, reaction }) => [
      reaction.at,
      ...runBy(reaction.steps, reacting.name, application),
    ]),
  ];
}

function runBy(steps: readonly Step[], owner: string, application: Application): readonly string[] {
  return [...effectsOf(steps, owner, application).runs].flatMap((ran) => {
    const [store = '', name = ''] = ran.split('.');
    const action = named(storeNamed(application, store).actions, name);
    return [ran, ...causedBy(store, action, application)];
  });
}

function effectsIn(
  steps: readonly Step[],
  before: readonly Expr[],
  store: Store,
  application: Application,
): Effects {
  const effects = effectsOf(steps, store.name, application);
  const exprs = [...before, ...allSteps(steps).flatMap(exprsOf)];
  return {
    reads: [...readsOf(exprs, application).written],
    stores: [...effects.stores],
    runs: [...effects.runs],
    starts: [...effects.starts],
    cancels: [...effects.cancels],
    moves: [...effects.moves],
  };
}
