// A store around pure functions from state to state.
import { Derivations, type DerivingStore, type States } from '../../../runtime/derived.js';
import type { PayloadCheck, StoreChecks } from '../../../runtime/value-types.js';
import { WatchableRead, type Watchable } from '../../../runtime/watchable.js';
import { settledStates } from '../../../runtime/settling.js';
import {
  // <replay>
  Refusal,
  // </replay>
  // <lazy>
  refuse,
  // </lazy>
  Turns,
  type Options,
  type Outcome,
  // <tasks>
  type StartOutcome,
  // </tasks>
  type Tools,
  type Transaction,
} from '../../../runtime/transaction.js';
import { freeze, keeper } from '../../../runtime/values.js';
import { Watchers } from '../../../runtime/watchers.js';
// <replay>
import { drawing, type Draws } from './draws.js';
// </replay>
// <lazy>
import { attached, inOrder, notAttached } from '../../../runtime/attaching.js';
// </lazy>
// <begins>
import { Beginnings } from '../../../runtime/beginnings.js';
// </begins>
// <saved>
import {
  SavedStores,
  // <replay>
  takenIn,
  // </replay>
  type SavedPlan,
} from '../../../runtime/saved.js';
// </saved>
// <history>
import {
  Histories,
  type HistoryPlan,
  type HistoryReadings,
  // <replay>
  type HistoryStates,
  type Move,
  // </replay>
} from '../../../runtime/histories.js';
// </history>
// <tasks>
import type { TaskPlan } from '../../../runtime/task-plan.js';
import {
  Tasks,
  type RecordedAction,
  type TaskReadings,
  type TaskStates,
} from '../../../runtime/tasks.js';
// </tasks>

/** Gives the next state: of the own store, or, marked by `acrossStores`, of all stores. */
type Reduce = (state: never, around: never) => unknown;

/** A function over the state of all stores. */
interface AcrossStores {
  readonly acrossStores: Reduce;
}

type Handler = Reduce | AcrossStores;

/** Marks a function that is over the state of all stores. */
export const acrossStores = <S, A>(reduce: (state: S, around: A) => S) => ({
  acrossStores: reduce,
});

// <tasks>
/** A task: its plan, and what it does at the moments of a run. */
interface ReducingTask extends TaskPlan {
  readonly start?: Handler;
  readonly each?: Handler;
  readonly finish?: Handler;
  readonly fail?: Handler;
  readonly cancel?: Handler;
}

const moments = ['start', 'each', 'finish', 'fail', 'cancel'] as const;

// </tasks>
/** A store: what it is at the start, what it does, and what is derived in it. */
export interface ReducingStore extends DerivingStore {
  readonly actions: Readonly<Record<string, Handler>>;
  // <tasks>
  readonly tasks?: Readonly<Record<string, ReducingTask>>;
  // </tasks>
  // <history>
  /** What can be undone. */
  readonly history?: HistoryPlan;
  // </history>
  // <saved>
  /** What is kept in storage. */
  readonly saved?: SavedPlan;
  // </saved>
  /** What it does after actions of other stores: `'deck.admit'`. */
  readonly reactions?: Readonly<Record<string, Handler | readonly Handler[]>>;
}

// <lazy>
/** A store that is attached later. */
export interface LazyStore extends ReducingStore {
  readonly name: string;
  readonly checks?: StoreChecks;
}

// </lazy>
/** Derived values as functions of the state of all stores. */
export type Computed<App, Derived> = {
  readonly [Name in keyof Derived]: Derived[Name] extends (...args: infer Args) => infer Value
    ? (app: App, ...args: Args) => Value
    : (app: App) => Derived[Name];
};

/** What handlers are given besides the state. */
interface Around extends Tools {
  readonly payload: unknown;
  readonly given: unknown;
  readonly app: States;
  readonly derived: unknown;
  readonly run: (app: States, action: string, payload?: unknown) => States;
  readonly resetStores: (app: States, stores: readonly string[]) => States;
  readonly bind: (given: unknown) => void;
  // <tasks>
  readonly tasks: TasksOfStores;
  readonly start: (task: string, payload?: unknown) => void;
  readonly cancel: (app: States, tasks: readonly string[], ...per: readonly unknown[]) => States;
  readonly delay: (ms: number) => void;
  // </tasks>
  // <history>
  // <later>
  readonly later: (name: string) => void;
  // </later>
  readonly forgetHistory: (store: string) => void;
  // </history>
}

// <tasks>
/** What goes on of the tasks, by store. */
type TasksOfStores = Readonly<Record<string, Readonly<Record<string, TaskReadings>>>>;

// </tasks>
/** An action as plain data: its name, and what it is given. */
export interface ActionValue {
  readonly type: string;
  readonly payload?: unknown;
}

// <tasks>
/** `timetable.load` of the tasks of all stores. */
type StartOf<Tasks> = {
  [Store in keyof Tasks & string]: `${Store}.${keyof NonNullable<Tasks[Store]> & string}`;
}[keyof Tasks & string];

// </tasks>
/** A store whose state is replaced by what handlers of actions make of it. */
// <tasks>
export interface ReducerStore<App, Action extends ActionValue, Derived, RunningTasks> {
  //- export interface ReducerStore<App, Action extends ActionValue, Derived> {
  // </tasks>
  // <tasks>
  /** Does an action: all of it or nothing. Of the start of a task it tells how that ends. */
  readonly dispatch: <Given extends Action>(
    action: Given,
  ) => Given['type'] extends StartOf<RunningTasks> ? StartOutcome : Outcome;
  // </tasks>
  // <!tasks>
  //+ /** Does an action: all of it or nothing. */
  //+ readonly dispatch: (action: Action) => Outcome;
  // </!tasks>
  /** The state of now; it never changes. */
  readonly snapshot: () => App;
  /** Calls back after every change; returns what stops it. */
  readonly subscribe: (changed: () => void) => () => void;
  /** Calls back after every change of what `read` gives; returns what stops it. */
  readonly whenChanged: <T>(
    read: (app: App) => T,
    changed: (now: T, before: T) => void,
  ) => () => void;
  /** What `read` gives, to be subscribed to or iterated over. */
  readonly follow: <T>(read: (app: App) => T) => Watchable<T>;
  // <lazy>
  /** Attaches a lazy store; does nothing if it is attached already. */
  readonly attach: (store: LazyStore) => Outcome;
  // </lazy>
  /** What is derived from a state; each function remembers. */
  readonly derived: Derived;
  /** The state of now, as JSON data. */
  readonly toJSON: () => App;
  // <tasks>
  /** What goes on of the tasks. */
  readonly tasks: () => RunningTasks;
  // </tasks>
  // <saved>
  /** Takes in what a storage has, in one transaction, and saves there from then on. It may answer later. */
  readonly takeSaved: SavedStores['takeSaved'];
  // </saved>
  /** Abandons all tasks and ends what is watched: from then on everything is refused. */
  readonly close: () => void;
}

/** A handler, and the store whose state it is over; none if it is over that of all stores. */
interface Step {
  readonly store: string | undefined;
  // <log>
  /** The store that reacts, of a reaction. */
  readonly reacts?: string;
  // </log>
  readonly reduce: (state: unknown, around: Around) => unknown;
}

/** What is done for an action: the handler, and then the reactions to it. */
interface Deed {
  readonly check: PayloadCheck | undefined;
  readonly steps: Step[];
}

function deedsOf(
  stores: Readonly<Record<string, ReducingStore>>,
  checks: Readonly<Record<string, StoreChecks>>,
): ReadonlyMap<string, Deed> {
  const stepOf = (store: string, handler: Handler): Step =>
    typeof handler === 'function'
      ? { store, reduce: handler as Step['reduce'] }
      : { store: undefined, reduce: handler.acrossStores as Step['reduce'] };
  const deeds = new Map<string, Deed>();
  for (const [store, { actions }] of Object.entries(stores))
    for (const [name, handler] of Object.entries(actions))
      deeds.set(`${store}.${name}`, {
        check: checks[store]?.actions?.[name],
        steps: [stepOf(store, handler)],
      });
  // <tasks>
  for (const [store, { tasks = {} }] of Object.entries(stores))
    for (const [name, task] of Object.entries(tasks))
      for (const moment of moments) {
        const handler = task[moment];
        const steps = handler === undefined ? [] : [stepOf(store, handler)];
        deeds.set(`${store}.${name}.${moment}`, { check: undefined, steps });
      }
  // </tasks>
  // <!log>
  //+ for (const [store, { reactions = {} }] of Object.entries(stores))
  //+   for (const [action, own] of Object.entries(reactions))
  //+     for (const handler of [own].flat() as readonly Handler[])
  //+       deeds.get(action)?.steps.push(stepOf(store, handler));
  // </!log>
  // <log>
  for (const [store, { reactions = {} }] of Object.entries(stores))
    for (const [action, own] of Object.entries(reactions))
      for (const handler of [own].flat() as readonly Handler[])
        deeds.get(action)?.steps.push({ ...stepOf(store, handler), reacts: store });
  // </log>
  return deeds;
}

// <lazy>
/** Whether a store is attached. */
type IsThere = (app: States, name: string) => boolean;

// </lazy>
// <log>
/** Notes what is done. */
interface Including {
  readonly include: (name: string) => void;
}

// </log>
/** What an action makes of the state of all stores, with the actions that it runs and the reactions to each. */
function performing(
  deeds: ReadonlyMap<string, Deed>,
  initial: States,
  // <log>
  tools: Tools & Including,
  //- tools: Tools,
  // </log>
  derived: unknown,
  // <lazy>
  isThere: IsThere,
  // </lazy>
  // <tasks>
  forTasks: ForTasks,
  // </tasks>
  // <history>
  forHistory: ForHistory,
  // </history>
  // <tasks>
): (app: States, action: string, payload: unknown, before?: object) => States {
  //- ): (app: States, action: string, payload: unknown) => States {
  // </tasks>
  const resetStores = (app: States, names: readonly string[]): States => ({
    ...app,
    // <lazy>
    ...Object.fromEntries(
      names.filter((name) => isThere(app, name)).map((name) => [name, initial[name]]),
    ),
    //- ...Object.fromEntries(names.map((name) => [name, initial[name]])),
    // </lazy>
  });
  // <tasks>
  const perform = (app: States, action: string, payload: unknown, before?: object): States => {
    //- const perform = (app: States, action: string, payload: unknown): States => {
    // </tasks>
    // <lazy>
    if (!deeds.has(action)) refuse(notAttached);
    // </lazy>
    const { steps } = deeds.get(action) as Deed;
    // <log>
    tools.include(action);
    // </log>
    let next = app;
    // <tasks>
    let given: unknown = before;
    forTasks.bound = undefined;
    //- let given: unknown;
    // </tasks>
    // <!log>
    //+ for (const { store, reduce } of steps) {
    // </!log>
    // <log>
    for (const { store, reacts, reduce } of steps) {
      if (reacts !== undefined) tools.include(`${reacts} after ${action}`);
      // </log>
      const around: Around = {
        newId: tools.newId,
        now: tools.now,
        random: tools.random,
        payload,
        given,
        app: next,
        derived,
        run,
        resetStores,
        // <tasks>
        bind: (bound) => {
          forTasks.bound = bound;
          given = { ...before, ...(bound as object) };
        },
        tasks: forTasks.tasks(),
        start: forTasks.start,
        cancel: forTasks.cancel,
        delay: forTasks.delay,
        //- bind: (bound) => (given = bound),
        // </tasks>
        // <history>
        ...forHistory,
        // </history>
      };
      if (store === undefined) next = reduce(next, around) as States;
      else next = { ...next, [store]: reduce(next[store], around) };
    }
    return next;
  };
  const run = (app: States, action: string, payload?: unknown): States =>
    perform(app, action, payload ?? deeds.get(action)?.check?.default);
  return perform;
}

// <replay>
/** What was done, as plain data, with what it has asked of the environment. */
export interface DoneAction extends RecordedAction {
  readonly draws?: Draws;
}

/** The state of all stores, and what goes on of the tasks: it never changes. */
export interface AppValue<App> {
  readonly app: App;
  readonly tasks: TaskStates;
  // <history>
  readonly history: HistoryStates;
  // </history>
}

// </replay>
// <tasks>
/** What handlers are given for tasks, and what the last of them has bound. */
interface ForTasks extends Pick<Around, 'start' | 'cancel' | 'delay'> {
  readonly tasks: () => TasksOfStores;
  bound: unknown;
}

// </tasks>
// <history>
/** What handlers are given for histories. */
type ForHistory = Pick<
  Around,
  // <later>
  | 'later'
  // </later>
  | 'forgetHistory'
>;

// </history>
// <replay>
export type Recording = Options & {
  /** Told of everything that is kept, as plain data: a replay gives the same states again. */
  readonly record?: (action: DoneAction) => void;
};

// <saved>
/** Where something is done again, nothing is read or kept. */
const nowhere: Options = { storage: undefined };

// </saved>
// <!saved>
// <lazy>
//+ const nowhere: Options = {};
//+
// </lazy>
// </!saved>
/** Makes a store of its own: nothing is shared with another. */
export function createReducerStore<
  App extends object,
  Action extends ActionValue,
  Derived,
  RunningTasks,
>(
  stores: Readonly<Record<string, ReducingStore>>,
  checks: Readonly<Record<string, StoreChecks>>,
  options: Recording,
  // <lazy>
  order: readonly string[],
  // </lazy>
): ReducerStore<App, Action, Derived, RunningTasks> {
  // <lazy>
  const made = makeStore<App, Action, Derived, RunningTasks>(stores, checks, options, order);
  // </lazy>
  // <!lazy>
  //+ const made = makeStore<App, Action, Derived, RunningTasks>(
  //+   stores,
  //+   checks,
  //+   options,
  //+ );
  // </!lazy>
  // <auto>
  made.tasks.create();
  // </auto>
  return made.store;
}

/**
 * The stores as a pure function from what they were, and what was done, to what they are. It calls no service, waits
 * for nothing and tells nobody. An outcome of a run that is not going on changes nothing. Throws a `TypeError` for what
 * the stores would have refused, or do not know.
 */
export function replayOf<App extends object>(
  stores: Readonly<Record<string, ReducingStore>>,
  checks: Readonly<Record<string, StoreChecks>>,
  // <lazy>
  order: readonly string[],
  lazy: readonly LazyStore[],
  // </lazy>
): (value: AppValue<App> | undefined, action: DoneAction) => AppValue<App> {
  // <lazy>
  const made = makeStore<App, ActionValue, unknown, unknown>(stores, checks, nowhere, order);
  for (const store of lazy) made.add(store.name, store);
  const { replay, atStart } = made;
  // </lazy>
  // <!lazy>
  // <saved>
  //+ const { replay, atStart } = makeStore<App, ActionValue, unknown, unknown>(
  //+   stores,
  //+   checks,
  //+   nowhere,
  //+ );
  // </saved>
  // <!saved>
  //+ const { replay, atStart } = makeStore<App, ActionValue, unknown, unknown>(
  //+   stores,
  //+   checks,
  //+   {},
  //+ );
  // </!saved>
  // </!lazy>
  return (value = atStart, action) => replay(value, action);
}

// </replay>
// <tasks>
function makeStore<
  //- /** Makes a store of its own: nothing is shared with another. */
  App extends object,
  Action extends ActionValue,
  Derived,
  RunningTasks,
>(
  //- export function createReducerStore<App extends object, Action extends ActionValue, Derived>(
  // </tasks>
  stores: Readonly<Record<string, ReducingStore>>,
  checks: Readonly<Record<string, StoreChecks>>,
  // <tasks>
  options: Recording,
  //- options: Options,
  // </tasks>
  // <lazy>
  order: readonly string[],
  // </lazy>
  // <tasks>
) {
  //- ): ReducerStore<App, Action, Derived> {
  // </tasks>
  const watchers = new Watchers((problem) => {
    turns.report(problem);
  });
  const turns = new Turns(options, () => {
    watchers.round();
  });
  // <log>
  const include = (name: string): void => turns.log?.include(name);
  // </log>
  // <replay>
  const { guard } = turns;
  const draws = drawing(turns.tools);
  // <log>
  const tools = { ...draws.tools, include };
  //- const { tools } = draws;
  // </log>
  /** What was drawn, while something is done again. */
  let given: Draws | undefined;
  // </replay>
  // <!replay>
  // <log>
  //+ const { guard } = turns;
  //+ const tools = { ...turns.tools, include };
  //- const { guard, tools } = turns;
  // </log>
  // </!replay>
  // <lazy>
  const [all, types] = [{ ...stores }, { ...checks }];
  const deeds = new Map(deedsOf(stores, checks));
  const initial: Record<string, unknown> = Object.fromEntries(
    Object.entries(stores).map(([name, store]) => [name, store.initial]),
  );
  let state: States = Object.fromEntries(order.map((name) => [name, initial[name] ?? null]));
  if (guard) freeze(state);
  const later = new Set(order.filter((name) => !Object.hasOwn(stores, name)));
  const isThere: IsThere = (app, name) => app[name] !== null || !later.has(name);
  // </lazy>
  // <!lazy>
  //+ const deeds = deedsOf(stores, checks);
  //+ const initial = Object.fromEntries(
  //+   Object.entries(stores).map(([name, store]) => [name, store.initial]),
  //+ );
  //+ let state: States = guard ? freeze(initial) : initial;
  // </!lazy>
  // <kept>
  const fields = {
    read: (store: string, field: string | undefined) =>
      field === undefined ? state[store] : (state[store] as States)[field],
    put(store: string, field: string | undefined, value: unknown) {
      const own = field === undefined ? value : { ...(next[store] as States), [field]: value };
      next = { ...next, [store]: own };
    },
    transaction: (act: () => void) =>
      transaction(() => {
        next = state;
        act();
        return next;
      }),
  };
  // </kept>
  // <saved>
  const saved = new SavedStores(
    turns,
    options,
    // <lazy>
    types,
    //- checks,
    // </lazy>
    // <replay>
    {
      ...fields,
      transaction: (act) =>
        fields.transaction(() => {
          act();
          tasks.doing = { type: takenIn, payload: next };
        }),
    },
    //- fields,
    // </replay>
  );
  // </saved>
  // <begins>
  const beginnings = new Beginnings(
    // <given>
    turns,
    options,
    // <lazy>
    types,
    //- checks,
    // </lazy>
    // </given>
    // <saved>
    saved,
    // </saved>
  );
  for (const [name, store] of Object.entries(stores)) {
    // <saved>
    if (store.saved !== undefined) saved.keep(name, store.saved);
    // </saved>
    state = { ...state, [name]: beginnings.begun(name, store.initial, store.isValue) };
  }
  if (guard) freeze(state);
  // </begins>
  // <tasks>
  const at = (states: States) => ({
    states,
    tasks: tasks.states,
    version: 0,
    isInside: turns.isActing,
  });
  //- const at = (states: States) => ({ states, version: 0, isInside: turns.isActing });
  // </tasks>
  const derivations = new Derivations(stores, guard, () => at(state));
  const derived = functionsOf(stores, (store, name, args, states) =>
    derivations.value(store, name, args, at(states)),
  );
  // <lazy>
  for (const name of order)
    if (!Object.hasOwn(stores, name)) {
      derivations.addLazy(name);
      Object.assign(derived as object, { [name]: null });
    }
  // </lazy>

  let next = state;
  /** What is done with the states of all stores is kept if it fits. */
  const transaction = <P>(act: (payload: P) => States): Transaction<P> => ({
    // <replay>
    act: (payload) => {
      draws.begin(given);
      next = act(payload);
    },
    //- act: (payload) => (next = act(payload)),
    // </replay>
    commit() {
      // <lazy>
      const kept = settledStates(state, next, types, guard);
      //- const kept = settledStates(state, next, checks, guard);
      // </lazy>
      const changed = kept !== state;
      state = kept;
      return changed;
    },
  });
  // <tasks>
  const forTasks: ForTasks = {
    tasks: () => tasksOfStores(),
    start: (task, payload) => {
      tasks.ask(task, payload);
    },
    cancel(app, names, ...per) {
      next = app;
      tasks.abandon(names, ...per);
      return next;
    },
    delay: (ms) => {
      tasks.delay(ms);
    },
    bound: undefined,
  };
  // <lazy>
  const plans = { ...plansOf(stores) };
  //- const plans = plansOf(stores);
  // </lazy>
  const checkOf = (task: string) => {
    const [store = '', name = ''] = task.split('.');
    // <lazy>
    return types[store]?.tasks?.[name];
    //- return checks[store]?.tasks?.[name];
    // </lazy>
  };
  const tasks: Tasks = new Tasks(turns, options, plans, checkOf, {
    perform(moment, payload, given) {
      next = perform(next, moment, payload, given);
      return forTasks.bound;
    },
    ask: (of, payload, given) => of(derivations.app as never, { payload, ...given } as never),
    // <history>
    later: (name) => {
      histories.later(name);
    },
    // </history>
    transaction: (act) =>
      transaction((payload) => {
        next = state;
        act(payload);
        return next;
      }),
  });
  for (const task of Object.keys(plans)) derivations.addTask(task, () => tasks.readings(task));
  const read = () => readingsOf(plans, (task) => tasks.readings(task));
  let known = { of: tasks.states, tasks: read() };
  const tasksOfStores = (): TasksOfStores => {
    if (known.of !== tasks.states) known = { of: tasks.states, tasks: read() };
    return known.tasks;
  };
  // </tasks>
  // <history>
  const histories = new Histories(turns, {
    ...fields,
    // <replay>
    doing: (type) => {
      tasks.doing = { type };
    },
    // </replay>
  });
  const forHistory: ForHistory = {
    // <later>
    later: (name) => {
      // <tasks>
      tasks.ask(name);
      //- histories.ask(name);
      // </tasks>
    },
    // </later>
    forgetHistory: histories.forget,
  };
  for (const [store, { history }] of Object.entries(stores))
    if (history !== undefined) {
      histories.add(store, history);
      derivations.addHistory(store, histories);
      addReadings(derived, store, (reading) => histories.readings(store)[reading]);
    }
  const perform = performing(
    deeds,
    initial,
    tools,
    derived,
    // <lazy>
    isThere,
    // </lazy>
    // <tasks>
    forTasks,
    // </tasks>
    forHistory,
  );
  // </history>
  // <!history>
  // <lazy>
  // <tasks>
  //+ const perform = performing(deeds, initial, tools, derived, isThere, forTasks);
  //- const perform = performing(deeds, initial, tools, derived, isThere);
  // </tasks>
  // </lazy>
  // <!lazy>
  // <tasks>
  //+ const perform = performing(deeds, initial, tools, derived, forTasks);
  //- const perform = performing(deeds, initial, tools, derived);
  // </tasks>
  // </!lazy>
  // </!history>

  const dispatch = ({ type, payload }: ActionValue): Outcome => {
    // <tasks>
    if (Object.hasOwn(plans, type)) return tasks.start(type, payload);
    const [, task = ''] = /^(.*)\.cancel$/.exec(type) ?? [];
    if (Object.hasOwn(plans, task))
      return payload === undefined ? tasks.cancel(task) : tasks.cancel(task, payload);
    // </tasks>
    // <history>
    const move = histories.named(type);
    if (move !== undefined) return move();
    // </history>
    const deed = deeds.get(type);
    // <lazy>
    const [owner = ''] = type.split('.');
    if (deed === undefined && Object.hasOwn(state, owner) && !isThere(state, owner))
      return { status: 'refused', reason: notAttached };
    // </lazy>
    if (deed === undefined) throw new TypeError(`There is no action '${type}'.`);
    // <replay>
    const work = transaction((accepted) => {
      tasks.doing = accepted === undefined ? { type } : { type, payload: accepted };
      return perform(state, type, accepted);
    });
    //- const work = transaction((accepted) => perform(state, type, accepted));
    // </replay>
    return turns.take(type, payload, deed.check, work);
  };
  // <lazy>
  /** Makes known what a store does, whether it is attached or not. */
  const add = (name: string, store: LazyStore): void => {
    Object.assign(all, { [name]: store });
    Object.assign(types, { [name]: store.checks ?? {} });
    initial[name] = store.initial;
    derivations.attach(name, store);
    const ownFunctions = functionsOf({ [name]: store }, (owner, one, args, states) =>
      derivations.value(owner, one, args, at(states)),
    );
    Object.assign(derived as object, ownFunctions);
    // <tasks>
    for (const task of Object.keys(plans)) delete plans[task];
    Object.assign(plans, plansOf(inOrder(order, all)));
    for (const task of Object.keys(plansOf({ [name]: store })))
      derivations.addTask(task, () => tasks.readings(task));
    known = { of: tasks.states, tasks: read() };
    // </tasks>
  };
  /** What is done with the stores that are attached: reactions stand in the order of the stores. */
  const rebuild = (app: States): void => {
    const there = order.filter((name) => isThere(app, name));
    deeds.clear();
    for (const [action, deed] of deedsOf(inOrder(there, all), types)) deeds.set(action, deed);
  };
  const attach = (store: LazyStore): Outcome => {
    const { name } = store;
    if (state[name] !== null) return attached;
    return turns.take(`${name}.attach`, undefined, undefined, {
      act: () => {
        // <log>
        if (turns.log !== undefined) turns.log.did = { type: name, kind: 'attach' };
        // </log>
        next = state;
      },
      commit() {
        if (state[name] !== null) return false;
        add(name, store);
        // <begins>
        // <saved>
        if (store.saved !== undefined) saved.keep(name, store.saved);
        // </saved>
        const begun = beginnings.begun(name, store.initial);
        //- const begun = store.initial;
        // </begins>
        state = { ...state, [name]: begun };
        if (guard) freeze(state);
        rebuild(state);
        // <replay>
        tasks.doing = { type: `${name}.attach`, payload: begun };
        // </replay>
        // <history>
        if (store.history !== undefined) {
          histories.add(name, store.history);
          derivations.addHistory(name, histories);
          addReadings(derived, name, (reading) => histories.readings(name)[reading]);
        }
        // </history>
        // <saved>
        saved.begin();
        // </saved>
        return true;
      },
    });
  };
  // </lazy>
  // <log>
  turns.startLog(options, watchers, () => state);
  // </log>
  const whenChanged = <T>(
    read: (app: App) => T,
    changed: (now: T, before: T) => void,
    ended?: () => void,
  ) => {
    const keep = keeper<T>();
    return watchers.add('whenChanged', () => keep(read(state as App)), changed, ended);
  };
  // <tasks>
  const { record } = options;
  if (record !== undefined)
    tasks.record = (action) => {
      const drawn = draws.noted();
      try {
        record(drawn === undefined ? action : { ...action, draws: drawn });
      } catch (error) {
        turns.report({ kind: 'watcher', at: 'record', error });
      }
    };
  const replay = (
    value: AppValue<App>,
    { draws: drawn = {}, ...action }: DoneAction,
  ): AppValue<App> => {
    state = value.app as States;
    given = drawn;
    // <saved>
    if (action.type === takenIn) return { ...value, app: action.payload as App };
    // </saved>
    // <lazy>
    rebuild(state);
    const [attaching = ''] = action.type.split('.attach');
    if (state[attaching] === null && action.type === `${attaching}.attach`)
      return { ...value, app: { ...value.app, [attaching]: action.payload } };
    // </lazy>
    try {
      // <history>
      histories.restart(value.history);
      // </history>
      const going = tasks.replay(value.tasks, action, () => {
        // <history>
        const [store = '', move] = action.type.split('.');
        if (move !== undefined && histories.named(action.type) !== undefined) {
          next = state;
          histories.go(store, move as Move);
          return;
        }
        // </history>
        if (!deeds.has(action.type)) throw new TypeError(`There is no action '${action.type}'.`);
        next = perform(state, action.type, action.payload);
      });
      // <history>
      histories.apply(action.type);
      return { app: state as App, tasks: going, history: histories.states };
      // </history>
      // <!history>
      //+ return { app: state as App, tasks: going };
      // </!history>
    } catch (error) {
      if (error instanceof Refusal)
        throw new TypeError(`'${action.type}' is refused: ${error.reason}`, { cause: error });
      throw error;
    }
  };
  const store: ReducerStore<App, Action, Derived, RunningTasks> = {
    dispatch: dispatch as ReducerStore<App, Action, Derived, RunningTasks>['dispatch'],
    // </tasks>
    // <!tasks>
    //+ return {
    //+   dispatch,
    // </!tasks>
    snapshot: () => state as App,
    subscribe: (changed) =>
      watchers.add(
        'subscribe',
        () => ({}),
        () => {
          changed();
        },
      ),
    whenChanged: (read, changed) => whenChanged(read, changed),
    follow: <T>(read: (app: App) => T) =>
      new WatchableRead<T>(
        'follow',
        () => read(state as App),
        (changed, ended) => whenChanged(read, changed, ended),
        (problem) => {
          turns.report(problem);
        },
      ),
    // <lazy>
    attach,
    // </lazy>
    derived: derived as Derived,
    toJSON: () => state as App,
    // <tasks>
    tasks: () => tasksOfStores() as RunningTasks,
    // </tasks>
    // <saved>
    takeSaved: saved.takeSaved,
    // </saved>
    close: () => {
      turns.close(() => {
        watchers.close();
      });
    },
  };
  // <replay>
  // <history>
  const atStart = { app: state as App, tasks: tasks.states, history: histories.states };
  return {
    store,
    tasks,
    replay,
    atStart,
    // <lazy>
    add,
    // </lazy>
  };
  // </history>
  // <!history>
  // <lazy>
  //+ return {
  //+   store,
  //+   tasks,
  //+   replay,
  //+   atStart: { app: state as App, tasks: tasks.states },
  //+   add,
  //+ };
  // </lazy>
  // <!lazy>
  //+ return {
  //+   store,
  //+   tasks,
  //+   replay,
  //+   atStart: { app: state as App, tasks: tasks.states },
  //+ };
  // </!lazy>
  // </!history>
  // </replay>
}

// <tasks>
function plansOf(
  stores: Readonly<Record<string, ReducingStore>>,
): Readonly<Record<string, ReducingTask>> {
  return Object.fromEntries(
    Object.entries(stores).flatMap(([store, { tasks = {} }]) =>
      Object.entries(tasks).map(([name, task]) => [`${store}.${name}`, task]),
    ),
  );
}

/** What goes on of the tasks, by store. */
function readingsOf(
  plans: Readonly<Record<string, unknown>>,
  of: (task: string) => TaskReadings,
): TasksOfStores {
  const made: Record<string, Record<string, TaskReadings>> = {};
  for (const task of Object.keys(plans)) {
    const [store = '', name = ''] = task.split('.');
    (made[store] ??= {})[name] = of(task);
  }
  return made;
}

// </tasks>

// <history>
/** Adds what a history tells to the derived values of a store. */
function addReadings(
  derived: unknown,
  store: string,
  read: (reading: keyof HistoryReadings) => boolean,
): void {
  Object.assign((derived as Record<string, object>)[store] as object, {
    canUndo: () => read('canUndo'),
    canRedo: () => read('canRedo'),
  });
}

// </history>
/** The derived values of all stores as functions of a state. */
function functionsOf(
  stores: Readonly<Record<string, DerivingStore>>,
  valueOf: (store: string, name: string, args: readonly unknown[], states: States) => unknown,
): unknown {
  return Object.fromEntries(
    Object.entries(stores).map(([store, { derived = {} }]) => [
      store,
      Object.fromEntries(
        Object.keys(derived).map((name) => [
          name,
          (states: States, ...args: readonly unknown[]) => valueOf(store, name, args, states),
        ]),
      ),
    ]),
  );
}
