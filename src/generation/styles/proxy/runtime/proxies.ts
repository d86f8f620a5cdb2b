// Live objects: read like plain ones, changed in place by actions, with every read noted.
import { DefinedStores, valueIn, type ReactingStore } from '../../../runtime/defined-stores.js';
import type { At, States } from '../../../runtime/derived.js';
import { settledStates } from '../../../runtime/settling.js';
import {
  notAttached,
  refuse,
  type Outcome,
  type Transaction,
} from '../../../runtime/transaction.js';
import { WatchableRead, type Watchable } from '../../../runtime/watchable.js';
import { watchAll } from '../../../runtime/watchers.js';
import { Edits, WorkingCopy } from './working-copies.js';

/** Changes the stores in place. What an action returns is given to its reactions. */
export type Work = (editable: never, around: never) => unknown;

/** A store: what it is at the start, what it does, and what is derived in it. */
export type LiveStore = ReactingStore<Work>;

/** Live stores, and how they are watched. */
export interface LiveStores<Stores, App> {
  readonly stores: Stores;
  /** A snapshot of each store: plain data that never changes. */
  readonly states: { readonly [Name in keyof App]: () => App[Name] };
  /** A snapshot of all stores. */
  readonly state: () => App;
  /** Calls back after every change of what `read` gives; returns what stops it. */
  readonly whenChanged: <T>(read: () => T, changed: (now: T, before: T) => void) => () => void;
  /** Calls back after every change of anything; returns what stops it. */
  readonly subscribe: (changed: () => void) => () => void;
  /** What `read` gives, to be subscribed to or iterated over. */
  readonly follow: <T>(read: () => T) => Watchable<T>;
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

/** The stores of an application, as they are read and changed in place. */
export class Live extends DefinedStores<Work, LiveStore> {
  readonly stores: Record<string, object> = {};
  working = new Working(this.states, () => undefined);
  readonly #editable: Record<string, object | null> = {};
  #version = 0;

  constructor(...given: ConstructorParameters<typeof DefinedStores>) {
    super(...given);
    Object.assign(this.around, { run: this.#run, resetStores: this.#resetStores });
  }

  override add(name: string, definition: LiveStore): unknown {
    const state = super.add(name, definition);
    this.#editable[name] = this.#editableOf(name, definition);
    const live = this.#liveOf(name, definition);
    if (!Object.hasOwn(this.stores, name)) this.stores[name] = live;
    return state;
  }

  override expect(name: string, isLazy: boolean): void {
    super.expect(name, isLazy);
    if (!isLazy) return;
    this.#editable[name] = null;
    const get = (): unknown => this.derivations.app[name];
    Object.defineProperty(this.stores, name, { enumerable: true, get });
  }

  /** The state that is read now: by an action as it has made it, by all others as it was committed. */
  protected override at(): At {
    const { isActing } = this.turns;
    const states = isActing ? this.working.states : this.states;
    return { states, beside: this.beside, version: this.#version, isInside: isActing };
  }

  override put(store: string, field: string | undefined, value: unknown): void {
    this.working.write(store, field, value);
  }

  /** A store as actions change it. */
  #editableOf(store: string, definition: LiveStore): object {
    const editable = {};
    const fields = new Map(fieldsOf(definition));
    for (const [name, field] of fields)
      Object.defineProperty(editable, name, {
        get: () => this.working.read(store, field),
        set: (value: unknown) => {
          this.working.write(store, field, value);
        },
      });
    const view = this.derivations.view(store);
    for (const name of Object.getOwnPropertyNames(view))
      if (!fields.has(name))
        Object.defineProperty(editable, name, { get: () => Reflect.get(view, name) as unknown });
    return editable;
  }

  /** A store as it is read, with its actions. */
  #liveOf(store: string, definition: LiveStore): object {
    const live = this.derivations.view(store);
    const toJSON = () =>
      Object.fromEntries(fieldsOf(definition).map(([name]) => [name, Reflect.get(live, name)]));
    const actions = Object.keys(definition.actions).map(
      (name) => [name, this.#action(`${store}.${name}`)] as const,
    );
    for (const [name, value] of [['toJSON', toJSON] as const, ...actions])
      if (!Object.hasOwn(live, name))
        Object.defineProperty(live, name, { value, configurable: true });
    return Object.freeze(live);
  }

  #action(action: string): (payload?: unknown) => Outcome {
    const check = this.checkOf(action);
    const work = this.transaction((accepted) => {
      this.perform(action, accepted);
    });
    return (payload) => this.turns.take(action, payload, check, work);
  }

  override transaction<P>(act: (payload: P) => void): Transaction<P> {
    return {
      act: (accepted) => {
        this.working = new Working(this.states, () => {
          if (!this.turns.isActing) throw new TypeError('Stores are changed by actions only.');
          this.#version += 1;
        });
        act(accepted);
      },
      commit: () => {
        const before = this.states;
        this.working.edits.end();
        this.states = settledStates(before, this.working.states, this.checks, this.turns.guard);
        return this.states !== before;
      },
      drop: () => {
        this.working.edits.end();
      },
    };
  }

  override perform(name: string, payload: unknown, before?: object): unknown {
    const { store, own, reactions } = this.deedOf(name);
    const { log } = this.turns;
    log?.include(name);
    if (this.definitions[store] === undefined) refuse(notAttached);
    const editable = this.#editable as never;
    const bound = own?.(editable, this.#with(payload, before)) as object | undefined;
    const given = before === undefined ? bound : { ...before, ...bound };
    for (const { store: other, work } of reactions) {
      log?.include(`${other} after ${name}`);
      work(editable, this.#with(payload, given));
    }
    return bound;
  }

  /** What a function of an action is given besides the stores. */
  #with(payload: unknown, given: object | undefined): never {
    const around = Object.create(this.around) as object;
    return Object.assign(around, { payload, given }) as never;
  }

  readonly #run = (action: string, payload?: unknown): void => {
    this.perform(action, payload ?? this.checkOf(action)?.default);
  };

  readonly #resetStores = (...stores: readonly string[]): void => {
    for (const store of stores) {
      const definition = this.definitions[store];
      if (definition === undefined) continue;
      for (const [, field] of fieldsOf(definition))
        this.working.write(
          store,
          field,
          field === undefined ? definition.initial : (definition.initial as States)[field],
        );
    }
  };
}

/** The stores of an application, as it uses them. */
export function liveStores<Stores extends object, App extends object>(
  live: Live,
): LiveStores<Stores, App> {
  const { derivations, watchers, turns } = live;
  /** A function that reads something of the state; the read is noted. */
  const reading = (of: (states: States) => unknown): (() => unknown) => {
    const read = ({ states }: At) => of(states);
    return () => derivations.read(read);
  };
  const whenChanged = <T>(
    read: () => T,
    changed: (now: T, before: T) => void,
    ended?: () => void,
  ): (() => void) => watchers.add('whenChanged', derivations.tracked(read), changed, ended);
  return {
    stores: live.stores as Stores,
    states: Object.fromEntries(
      Object.keys(live.states).map((name) => [name, reading((states) => states[name])]),
    ) as LiveStores<Stores, App>['states'],
    state: reading((states) => states) as () => App,
    whenChanged: (read, changed) => whenChanged(read, changed),
    subscribe: (changed) => watchAll(watchers, changed),
    follow: <T>(read: () => T) =>
      new WatchableRead<T>(
        'follow',
        derivations.tracked(read),
        (changed, ended) => whenChanged(read, changed, ended),
        (problem) => {
          turns.report(problem);
        },
      ),
    close: live.close,
  };
}

/** The properties of a store, with the fields that they are; `undefined` for the one value. */
function fieldsOf({
  initial,
  isValue = false,
}: LiveStore): (readonly [string, string | undefined])[] {
  if (isValue) return [['value', undefined]];
  return Object.keys(initial as States).map((field) => [field, field]);
}
