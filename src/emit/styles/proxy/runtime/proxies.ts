// Live objects: read like plain ones, changed in place by actions, with every read noted.
import { Derivations, type At, type DerivingStore, type States } from '../../../runtime/derived.js';
import type { StoreChecks } from '../../../runtime/value-types.js';
import { WatchableRead, type Watchable } from '../../../runtime/watchable.js';
import { settledStates } from '../../../runtime/settling.js';
import {
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
import { freeze } from '../../../runtime/values.js';
import { Watchers } from '../../../runtime/watchers.js';
// <lazy>
import { attached, inOrder, notAttached } from '../../../runtime/attaching.js';
// </lazy>
// <begins>
import { Beginnings } from '../../../runtime/beginnings.js';
// </begins>
// <saved>
import { SavedStores, type SavedPlan } from '../../../runtime/saved.js';
// </saved>
// <history>
import { Histories, type HistoryPlan } from '../../../runtime/histories.js';
// </history>
// <tasks>
import type { TaskPlan } from '../../../runtime/task-plan.js';
import { Tasks } from '../../../runtime/tasks.js';
// </tasks>
import { Edits, WorkingCopy } from './working-copies.js';

/** Changes the stores in place. What an action returns is given to its reactions. */
type Work = (editable: never, around: never) => unknown;

// <tasks>
/** A task: it is called to start it. */
export type LiveTask<Given extends readonly unknown[]> = ((...given: Given) => StartOutcome) & {
  /** Abandons its runs; with a value, those that were started for it. */
  cancel(...per: readonly unknown[]): Outcome;
};

/** A task: its plan, and what it does at the moments of a run. */
interface LiveTaskPlan extends TaskPlan {
  readonly start?: Work;
  readonly each?: Work;
  readonly finish?: Work;
  readonly fail?: Work;
  readonly cancel?: Work;
}

// </tasks>
/** A store: what it is at the start, what it does, and what is derived in it. */
export interface LiveStore extends DerivingStore {
  readonly actions: Readonly<Record<string, Work>>;
  // <tasks>
  readonly tasks?: Readonly<Record<string, LiveTaskPlan>>;
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
  readonly reactions?: Readonly<Record<string, Work | readonly Work[]>>;
}

// <lazy>
/** A store that is attached later. */
export interface LazyStore extends LiveStore {
  readonly name: string;
  readonly checks?: StoreChecks;
}

// </lazy>
/** What actions are given besides the stores. */
interface Around extends Tools {
  readonly payload: unknown;
  readonly given: unknown;
  readonly run: (action: string, payload?: unknown) => void;
  readonly resetStores: (...stores: readonly string[]) => void;
  // <tasks>
  readonly start: (task: string, payload?: unknown) => void;
  readonly cancel: (tasks: readonly string[], ...per: readonly unknown[]) => void;
  readonly delay: (ms: number) => void;
  // </tasks>
  // <history>
  // <later>
  readonly later: (name: string) => void;
  // </later>
  readonly forgetHistory: (store: string) => void;
  // </history>
}

/** Live stores, and how they are watched. */
export interface LiveStores<Stores, App> {
  readonly stores: Stores;
  // <lazy>
  /** Attaches a lazy store; does nothing if it is attached already. */
  readonly attach: (store: LazyStore) => Outcome;
  // </lazy>
  /** A snapshot of each store: plain data that never changes. */
  readonly states: { readonly [Name in keyof App]: () => App[Name] };
  /** A snapshot of all stores. */
  readonly state: () => App;
  /** Calls back after every change of what `read` gives; returns what stops it. */
  readonly whenChanged: <T>(read: () => T, changed: (now: T, before: T) => void) => () => void;
  // <readers>
  /** Calls back after every change of anything; returns what stops it. */
  readonly subscribe: (changed: () => void) => () => void;
  // </readers>
  /** What `read` gives, to be subscribed to or iterated over. */
  readonly follow: <T>(read: () => T) => Watchable<T>;
  // <saved>
  /** Takes in what a storage has, in one transaction, and saves there from then on. It may answer later. */
  readonly takeSaved: SavedStores['takeSaved'];
  // </saved>
  /** Abandons all tasks and ends what is watched: from then on everything is refused. */
  readonly close: () => void;
}

/** The state that an action works on. */
class Working {
  readonly edits: Edits;
  states: States;
  readonly #copies = new Map<string, WorkingCopy>();
  readonly #before: States;

  constructor(states: States, noteWrite: () => void) {
    this.edits = new Edits(noteWrite);
    this.states = states;
    this.#before = states;
  }

  /** A field, or with no name the one value of a store, as an action changes it. */
  read(store: string, field: string | undefined): unknown {
    const value = valueIn(this.states, store, field);
    if (typeof value !== 'object' || value === null) return value;
    const name = `${store}.${field ?? ''}`;
    const known = this.#copies.get(name);
    if (known?.latest === value) return known.proxy;
    const copy = new WorkingCopy(this.edits, value, (_old, next) => {
      this.#put(store, field, next);
    });
    this.#copies.set(name, copy);
    return copy.proxy;
  }

  write(store: string, field: string | undefined, value: unknown): void {
    this.edits.noteWrite();
    this.#put(store, field, this.edits.plain(value));
  }

  #put(store: string, field: string | undefined, value: unknown): void {
    if (this.states === this.#before) this.states = { ...this.#before };
    const states = this.states as Record<string, unknown>;
    if (field === undefined) states[store] = value;
    else {
      if (states[store] === this.#before[store])
        states[store] = { ...(this.#before[store] as States) };
      (states[store] as Record<string, unknown>)[field] = value;
    }
  }
}

function valueIn(states: States, store: string, field: string | undefined): unknown {
  return field === undefined ? states[store] : (states[store] as States)[field];
}

/** Makes stores of their own: nothing is shared with others. */
export function createLiveStores<Stores extends object, App extends object>(
  definitions: Readonly<Record<string, LiveStore>>,
  checks: Readonly<Record<string, StoreChecks>>,
  options: Options,
  // <lazy>
  order: readonly string[],
  // </lazy>
): LiveStores<Stores, App> {
  // <lazy>
  const live = new Live(definitions, checks, options, order);
  //- const live = new Live(definitions, checks, options);
  // </lazy>
  return {
    stores: live.stores as Stores,
    // <lazy>
    attach: (store) => live.attach(store),
    // </lazy>
    states: Object.fromEntries(
      // <lazy>
      order.map((name) => [name, live.reading((states) => states[name])]),
      //- Object.keys(definitions).map((name) => [
      //-   name,
      //-   live.reading((states) => states[name]),
      //- ]),
      // </lazy>
    ) as LiveStores<Stores, App>['states'],
    state: live.reading((states) => states) as () => App,
    whenChanged: (read, changed) => live.whenChanged(read, changed),
    // <readers>
    subscribe: (changed) => live.subscribe(changed),
    // </readers>
    follow: (read) => live.follow(read),
    // <saved>
    takeSaved: live.takeSaved,
    // </saved>
    close: () => {
      live.close();
    },
  };
}

/** The stores of an application. */
class Live {
  readonly stores: Readonly<Record<string, object>>;
  // <lazy>
  readonly #order: readonly string[];
  readonly #definitions: Record<string, LiveStore>;
  readonly #checks: Record<string, StoreChecks>;
  // </lazy>
  // <!lazy>
  //+ readonly #definitions: Readonly<Record<string, LiveStore>>;
  //+ readonly #checks: Readonly<Record<string, StoreChecks>>;
  // </!lazy>
  readonly #turns: Turns;
  readonly #watchers: Watchers;
  readonly #derivations: Derivations;
  readonly #editable: Readonly<Record<string, object>>;
  readonly #reactions = new Map<string, Work[]>();
  // <log>
  /** The store that each reaction belongs to. */
  readonly #reacting = new Map<Work, string>();
  // </log>
  #states: States;
  #working: Working;
  #version = 0;
  // <tasks>
  readonly #tasks: Tasks;
  // <lazy>
  readonly #plans: Record<string, LiveTaskPlan>;
  // </lazy>
  // </tasks>
  // <saved>
  readonly #saved: SavedStores;
  // </saved>
  // <begins>
  // <lazy>
  readonly #beginnings: Beginnings;
  // </lazy>
  // </begins>
  // <history>
  readonly #histories: Histories;
  // </history>

  constructor(
    definitions: Readonly<Record<string, LiveStore>>,
    checks: Readonly<Record<string, StoreChecks>>,
    options: Options,
    // <lazy>
    order: readonly string[],
    // </lazy>
  ) {
    // <lazy>
    this.#order = order;
    this.#definitions = { ...definitions };
    this.#checks = { ...checks };
    // </lazy>
    // <!lazy>
    //+ this.#definitions = definitions;
    //+ this.#checks = checks;
    // </!lazy>
    this.#turns = new Turns(options, () => {
      this.#watchers.round();
    });
    this.#watchers = new Watchers((problem) => {
      this.#turns.report(problem);
    });
    const stores = Object.entries(definitions);
    // <lazy>
    const initial = Object.fromEntries(
      order.map((name) => [name, definitions[name]?.initial ?? null]),
    );
    // </lazy>
    // <!lazy>
    //+ const initial = Object.fromEntries(
    //+   stores.map(([name, store]) => [name, store.initial]),
    //+ );
    // </!lazy>
    this.#states = this.#turns.guard ? freeze(initial) : initial;
    // <kept>
    const fields = {
      read: (store: string, field: string | undefined) => valueIn(this.#states, store, field),
      put: (store: string, field: string | undefined, value: unknown) => {
        this.#working.write(store, field, value);
      },
      transaction: (act: () => void) => this.#transaction(act),
    };
    // </kept>
    // <saved>
    // <lazy>
    this.#saved = new SavedStores(this.#turns, options, this.#checks, fields);
    //- this.#saved = new SavedStores(this.#turns, options, checks, fields);
    // </lazy>
    // </saved>
    // <begins>
    const beginnings = new Beginnings(
      // <given>
      this.#turns,
      options,
      // <lazy>
      this.#checks,
      //- checks,
      // </lazy>
      // </given>
      // <saved>
      this.#saved,
      // </saved>
    );
    for (const [name, store] of stores) {
      // <saved>
      if (store.saved !== undefined) this.#saved.keep(name, store.saved);
      // </saved>
      const begun = beginnings.begun(name, store.initial, store.isValue);
      this.#states = { ...this.#states, [name]: begun };
    }
    if (this.#turns.guard) freeze(this.#states);
    // <lazy>
    this.#beginnings = beginnings;
    // </lazy>
    // </begins>
    this.#working = new Working(this.#states, () => undefined);
    this.#derivations = new Derivations(definitions, this.#turns.guard, () => this.#at());
    // <lazy>
    const later = order.filter((name) => !Object.hasOwn(definitions, name));
    for (const name of later) this.#derivations.addLazy(name);
    // </lazy>
    // <tasks>
    // <lazy>
    const plans = plansOf(stores);
    this.#plans = plans;
    // </lazy>
    // <!lazy>
    //+ const plans = Object.fromEntries(
    //+   stores.flatMap(([store, { tasks = {} }]) =>
    //+     Object.entries(tasks).map(([name, task]) => [`${store}.${name}`, task]),
    //+   ),
    //+ );
    // </!lazy>
    const checkOf = (task: string) => {
      const [store = '', name = ''] = task.split('.');
      // <lazy>
      return this.#checks[store]?.tasks?.[name];
      //- return checks[store]?.tasks?.[name];
      // </lazy>
    };
    this.#tasks = new Tasks(this.#turns, options, plans, checkOf, {
      perform: (moment, payload, given) => this.#perform(moment, payload, given),
      ask: (of, payload, given) =>
        of(this.#derivations.app as never, { payload, ...given } as never),
      transaction: (act) => this.#transaction(act),
      // <history>
      later: (name) => {
        this.#histories.later(name);
      },
      // </history>
    });
    for (const task of Object.keys(plans)) this.#addTask(task);
    // </tasks>
    // <history>
    this.#histories = new Histories(this.#turns, fields);
    for (const [name, { history }] of stores)
      if (history !== undefined) {
        this.#histories.add(name, history);
        this.#derivations.addHistory(name, this.#histories);
      }
    // </history>
    this.#editable = Object.fromEntries(
      stores.map(([name, store]) => [name, this.#editableOf(name, store)]),
    );
    this.stores = Object.fromEntries(
      stores.map(([name, store]) => [name, this.#liveOf(name, store)]),
    );
    // <lazy>
    for (const name of later) {
      const get = (): unknown => this.#derivations.app[name];
      Object.defineProperty(this.stores, name, { enumerable: true, get });
      Object.assign(this.#editable, { [name]: null });
    }
    this.#react();
    // </lazy>
    // <!lazy>
    // <log>
    //+ this.#noteReacting(stores);
    // </log>
    //+ for (const [, { reactions = {} }] of stores)
    //+   for (const [action, own] of Object.entries(reactions)) {
    //+     const others = this.#reactions.get(action) ?? [];
    //+     this.#reactions.set(action, [
    //+       ...others,
    //+       ...([own].flat() as readonly Work[]),
    //+     ]);
    //+   }
    // </!lazy>
    // <log>
    this.#turns.startLog(options, this.#watchers, () => this.#states);
    // </log>
    // <auto>
    this.#tasks.create();
    // </auto>
  }

  // <log>
  #noteReacting(stores: readonly (readonly [string, LiveStore])[]): void {
    for (const [name, { reactions = {} }] of stores)
      for (const react of Object.values(reactions).flat() as readonly Work[])
        this.#reacting.set(react, name);
  }

  // </log>
  // <lazy>
  /** Notes all reactions, in the order of the stores. */
  #react(): void {
    this.#reactions.clear();
    // <log>
    this.#noteReacting(Object.entries(inOrder(this.#order, this.#definitions)));
    // </log>
    for (const { reactions = {} } of Object.values(inOrder(this.#order, this.#definitions)))
      for (const [action, own] of Object.entries(reactions)) {
        const others = this.#reactions.get(action) ?? [];
        this.#reactions.set(action, [...others, ...([own].flat() as readonly Work[])]);
      }
  }

  attach(store: LazyStore): Outcome {
    const { name } = store;
    if (this.#states[name] !== null) return attached;
    return this.#turns.take(`${name}.attach`, undefined, undefined, {
      // <log>
      act: () => {
        const { log } = this.#turns;
        if (log !== undefined) log.did = { type: name, kind: 'attach' };
      },
      //- act: () => undefined,
      // </log>
      commit: () => {
        if (this.#states[name] !== null) return false;
        this.#add(name, store);
        return true;
      },
    });
  }

  #add(name: string, store: LazyStore): void {
    this.#definitions[name] = store;
    this.#checks[name] = store.checks ?? {};
    // <begins>
    // <saved>
    if (store.saved !== undefined) this.#saved.keep(name, store.saved);
    // </saved>
    const begun = this.#beginnings.begun(name, store.initial);
    //- const begun = store.initial;
    // </begins>
    this.#states = { ...this.#states, [name]: begun };
    if (this.#turns.guard) freeze(this.#states);
    this.#derivations.attach(name, store);
    // <tasks>
    for (const task of Object.keys(this.#plans)) delete this.#plans[task];
    Object.assign(this.#plans, plansOf(Object.entries(inOrder(this.#order, this.#definitions))));
    for (const task of Object.keys(plansOf([[name, store]]))) this.#addTask(task);
    // </tasks>
    // <history>
    if (store.history !== undefined) {
      this.#histories.add(name, store.history);
      this.#derivations.addHistory(name, this.#histories);
    }
    // </history>
    Object.assign(this.#editable, { [name]: this.#editableOf(name, store) });
    this.#liveOf(name, store);
    this.#react();
    // <saved>
    this.#saved.begin();
    // </saved>
  }

  // </lazy>
  // <saved>
  get takeSaved(): SavedStores['takeSaved'] {
    return this.#saved.takeSaved;
  }

  // </saved>
  // <tasks>
  #addTask(task: string): void {
    const start = (payload?: unknown): StartOutcome => this.#tasks.start(task, payload);
    const cancel = (...per: readonly unknown[]): Outcome => this.#tasks.cancel(task, ...per);
    const made = Object.assign(start, { cancel });
    this.#derivations.addTask(task, () => this.#tasks.readings(task), made);
  }

  // </tasks>
  close(): void {
    this.#turns.close(() => {
      this.#watchers.close();
    });
  }

  /** The state that is read now: by an action as it has made it, by all others as it was committed. */
  #at(): At {
    const { isActing } = this.#turns;
    const states = isActing ? this.#working.states : this.#states;
    // <tasks>
    return { states, tasks: this.#tasks.states, version: this.#version, isInside: isActing };
    //- return { states, version: this.#version, isInside: isActing };
    // </tasks>
  }

  /** A store as actions change it. */
  #editableOf(store: string, definition: LiveStore): object {
    const editable = {};
    for (const [name, field] of fieldsOf(definition))
      Object.defineProperty(editable, name, {
        get: () => this.#working.read(store, field),
        set: (value: unknown) => {
          this.#working.write(store, field, value);
        },
      });
    const read = Object.keys(definition.derived ?? {});
    // <tasks>
    read.push(...Object.keys(definition.tasks ?? {}));
    // </tasks>
    // <history>
    if (definition.history !== undefined) read.push('canUndo', 'canRedo');
    // </history>
    for (const name of read)
      Object.defineProperty(editable, name, {
        // <lazy>
        get: () => Reflect.get(this.#derivations.viewNamed(store), name) as unknown,
        //- get: () =>
        //-   Reflect.get(this.#derivations.app[store] as object, name) as unknown,
        // </lazy>
      });
    return editable;
  }

  /** A store as it is read, with its actions. */
  #liveOf(store: string, definition: LiveStore): object {
    // <lazy>
    const live = this.#derivations.viewNamed(store);
    //- const live = this.#derivations.app[store] as object;
    // </lazy>
    const toJSON = () =>
      Object.fromEntries(fieldsOf(definition).map(([name]) => [name, Reflect.get(live, name)]));
    const actions = Object.keys(definition.actions).map(
      (name) => [name, this.#action(`${store}.${name}`)] as const,
    );
    // <history>
    if (definition.history !== undefined)
      for (const move of ['undo', 'redo'] as const)
        actions.push([move, () => this.#histories.move(store, move)]);
    // </history>
    for (const [name, value] of [['toJSON', toJSON] as const, ...actions])
      if (!Object.hasOwn(live, name))
        Object.defineProperty(live, name, { value, configurable: true });
    return Object.freeze(live);
  }

  #action(action: string): (payload?: unknown) => Outcome {
    const check = this.#checkOf(action);
    const work = this.#transaction((accepted) => {
      this.#perform(action, accepted);
    });
    return (payload) => this.#turns.take(action, payload, check, work);
  }

  #transaction<P>(act: (payload: P) => void): Transaction<P> {
    return {
      act: (accepted) => {
        this.#working = new Working(this.#states, () => {
          if (!this.#turns.isActing) throw new TypeError('Stores are changed by actions only.');
          this.#version += 1;
        });
        act(accepted);
      },
      commit: () => {
        const before = this.#states;
        this.#working.edits.end();
        this.#states = settledStates(before, this.#working.states, this.#checks, this.#turns.guard);
        return this.#states !== before;
      },
      drop: () => {
        this.#working.edits.end();
      },
    };
  }

  #checkOf(action: string) {
    const [store = '', name = ''] = action.split('.');
    return this.#checks[store]?.actions?.[name];
  }

  // <tasks>
  #perform(action: string, payload: unknown, before?: object): unknown {
    const [store = '', name = '', moment] = action.split('.');
    //- #perform(action: string, payload: unknown): void {
    //- const [store = '', name = ''] = action.split('.');
    // </tasks>
    // <log>
    this.#turns.log?.include(action);
    // </log>
    const { newId, now, random } = this.#turns.tools;
    const [run, resetStores] = [this.#run, this.#resetStores];
    const around = (given: unknown): Around => ({
      payload,
      given,
      newId,
      now,
      random,
      run,
      resetStores,
      // <tasks>
      start: (task, asked) => {
        this.#tasks.ask(task, this.#working.edits.plain(asked));
      },
      cancel: this.#tasks.abandon,
      delay: this.#tasks.delay,
      // </tasks>
      // <history>
      // <later>
      // <tasks>
      later: this.#tasks.ask,
      //- later: this.#histories.ask,
      // </tasks>
      // </later>
      forgetHistory: this.#histories.forget,
      // </history>
    });
    const editable = this.#editable as never;
    // <lazy>
    if (this.#definitions[store] === undefined) refuse(notAttached);
    // </lazy>
    // <tasks>
    const { actions = {}, tasks = {} } = this.#definitions[store] ?? {};
    const work =
      moment === undefined
        ? actions[name]
        : (tasks[name] as Readonly<Record<string, unknown>> | undefined)?.[moment];
    const bound = (work as Work | undefined)?.(editable, around(before) as never);
    const given = before === undefined ? bound : { ...before, ...(bound as object | undefined) };
    //- const given = this.#definitions[store]?.actions[name]?.(editable, around(undefined) as never);
    // </tasks>
    // <log>
    for (const react of this.#reactions.get(action) ?? []) {
      this.#turns.log?.include(`${this.#reacting.get(react) ?? ''} after ${action}`);
      react(editable, around(given) as never);
    }
    //- for (const react of this.#reactions.get(action) ?? [])
    //-   react(editable, around(given) as never);
    // </log>
    // <tasks>
    return bound;
    // </tasks>
  }

  readonly #run = (action: string, payload?: unknown): void => {
    this.#perform(action, payload ?? this.#checkOf(action)?.default);
  };

  readonly #resetStores = (...stores: readonly string[]): void => {
    for (const store of stores) {
      // <lazy>
      const definition = this.#definitions[store];
      if (definition === undefined) continue;
      //- const definition = this.#definitions[store] as LiveStore;
      // </lazy>
      for (const [, field] of fieldsOf(definition))
        this.#working.write(
          store,
          field,
          field === undefined ? definition.initial : (definition.initial as States)[field],
        );
    }
  };

  /** A function that reads something of the state; the read is noted. */
  reading(of: (states: States) => unknown): () => unknown {
    const read = ({ states }: At) => of(states);
    return () => this.#derivations.read(read);
  }

  whenChanged<T>(
    read: () => T,
    changed: (now: T, before: T) => void,
    ended?: () => void,
  ): () => void {
    return this.#watchers.add('whenChanged', this.#derivations.tracked(read), changed, ended);
  }

  // <readers>
  subscribe(changed: () => void): () => void {
    return this.#watchers.add(
      'subscribe',
      () => ({}),
      () => {
        changed();
      },
    );
  }

  // </readers>
  follow<T>(read: () => T): Watchable<T> {
    return new WatchableRead<T>(
      'follow',
      this.#derivations.tracked(read),
      (changed, ended) => this.whenChanged(read, changed, ended),
      (problem) => {
        this.#turns.report(problem);
      },
    );
  }
}

// <tasks>
// <lazy>
function plansOf(stores: readonly (readonly [string, LiveStore])[]): Record<string, LiveTaskPlan> {
  return Object.fromEntries(
    stores.flatMap(([store, { tasks = {} }]) =>
      Object.entries(tasks).map(([name, task]) => [`${store}.${name}`, task]),
    ),
  );
}

// </lazy>
// </tasks>
/** The properties of a store, with the fields that they are; `undefined` for the one value. */
function fieldsOf({
  initial,
  isValue = false,
}: LiveStore): (readonly [string, string | undefined])[] {
  if (isValue) return [['value', undefined]];
  return Object.keys(initial as States).map((field) => [field, field]);
}
