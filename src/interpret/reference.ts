import type { Json } from '../base/json.js';
import { canonicalText } from '../base/canonical.js';
import { keep } from '../base/keep.js';
import { same } from '../base/same.js';
import {
  exprOf,
  named,
  reactionsTo,
  storeNamed,
  type Action,
  type Application,
  type Parameter,
  type Store,
} from '../model/application.js';
import { fromText } from '../model/from-text.js';
import {
  reasons,
  type Environment,
  type Outcome,
  type Participant,
  type Running,
  type Target,
} from '../model/participant.js';
import { bind, evaluate, type Frame, type World } from './compile-expression.js';
import { Judge } from './judge.js';
import { Refusal } from './refusal.js';
import { bindAll, performSteps, type Workspace } from './steps.js';
import { notJson, takeIn } from './take-in.js';
import { Turns } from './turns.js';

/** The state of all stores: a store's fields by name, or its one value. */
type State = Readonly<Record<string, unknown>>;

export interface ReferenceOptions {
  /** Told of each point of the schema that is reached. */
  readonly cover?: (point: string) => void;
}

/** The reference interpreter as a participant: what a schema means. */
export function referenceParticipant(
  application: Application,
  options: ReferenceOptions = {},
): Participant {
  const judge = new Judge(application.types);
  return {
    name: 'reference',
    create: (environment) => new Reference(application, judge, environment, options),
  };
}

interface Watcher {
  readonly target: Target;
  readonly changed: (now: unknown, before: unknown) => void;
  last: unknown;
}

class Reference implements Running {
  #state: State;
  readonly #derived = new WeakMap<State, Map<string, unknown>>();
  readonly #givenOut = new Map<string, unknown>();
  readonly #watchers = new Set<Watcher>();
  readonly #turns: Turns;

  constructor(
    readonly application: Application,
    readonly judge: Judge,
    readonly environment: Environment,
    readonly options: ReferenceOptions,
  ) {
    this.#turns = new Turns(environment.onProblem);
    this.#state = freeze(
      Object.fromEntries(application.stores.map((store) => [store.name, initialState(store)])),
    );
  }

  send(storeName: string, actionName: string, payload: Json | undefined): Outcome {
    const store = storeNamed(this.application, storeName);
    const action = named(store.actions, actionName);
    const at = `${storeName}.${actionName}`;
    return this.#turns.take(() => this.#transact(store, action, payload, at), at);
  }

  read(): State {
    return this.#state;
  }

  derive(): Record<string, Record<string, unknown>> {
    const entries = this.application.stores.map((store) => {
      const plain = store.derived.filter(({ params }) => params.length === 0);
      const values = plain.map(({ name }) => [name, this.#giveOut(store.name, name)]);
      return [store.name, Object.fromEntries(values) as Record<string, unknown>];
    });
    return Object.fromEntries(entries) as Record<string, Record<string, unknown>>;
  }

  ask(store: string, name: string, args: readonly Json[]): unknown {
    return this.#giveOut(store, name, args);
  }

  watch(target: Target, changed: Watcher['changed']): () => void {
    const watcher: Watcher = { target, changed, last: this.#look(target) };
    this.#watchers.add(watcher);
    return () => void this.#watchers.delete(watcher);
  }

  #transact(store: Store, action: Action, payload: Json | undefined, at: string): Outcome {
    const transaction = new Transaction(
      this.application,
      this.#state,
      this.environment,
      (state, owner, name, args) => this.#derivedIn(state, owner, name, args),
    );
    const taken = this.#takeIn(payload, action);
    try {
      transaction.perform(store, action, taken, at, this.judge, (point) =>
        this.options.cover?.(point),
      );
    } catch (error) {
      if (error instanceof Refusal) {
        return { status: 'refused', reason: error.reason, at: error.at, via: error.via };
      }
      this.environment.onProblem({ kind: 'action', at });
      return { status: 'broken', at };
    }
    this.#commit(transaction.state);
    return { status: 'done' };
  }

  #takeIn(payload: Json | undefined, { payload: wanted, acceptsText }: Action): unknown {
    if (payload === undefined) return undefined;
    const taken = takeIn(payload);
    return acceptsText && wanted !== undefined && taken !== notJson
      ? fromText(taken, wanted, this.application.types)
      : taken;
  }

  #commit(state: State): void {
    const kept = keep(this.#state, state);
    if (kept === this.#state) return;
    this.#state = freeze(kept);
    for (const watcher of [...this.#watchers]) {
      if (!this.#watchers.has(watcher)) continue;
      const before = watcher.last;
      const now = this.#look(watcher.target);
      if (same(now, before)) continue;
      watcher.last = now;
      try {
        watcher.changed(now, before);
      } catch {
        this.environment.onProblem({ kind: 'watcher', at: watcher.target });
      }
    }
  }

  #look(target: Target): unknown {
    if (target === '*') return this.#state;
    const [storeName = '', name] = target.split('.');
    if (name === undefined) return this.#state[storeName];
    const store = storeNamed(this.application, storeName);
    const isField = store.fields.some((field) => field.name === name);
    return isField ? fieldOf(this.#state, store, name) : this.#giveOut(storeName, name);
  }

  /** A derived value of the committed state: the same object as when last given out, if equal. */
  #giveOut(store: string, name: string, args: readonly unknown[] = []): unknown {
    const key = keyOf(store, name, args);
    const value = this.#derivedIn(this.#state, store, name, args);
    const last = this.#givenOut.get(key);
    if (this.#givenOut.has(key) && same(last, value)) return last;
    this.#givenOut.set(key, value);
    return value;
  }

  #derivedIn(state: State, store: string, name: string, args: readonly unknown[] = []): unknown {
    let values = this.#derived.get(state);
    if (values === undefined) this.#derived.set(state, (values = new Map<string, unknown>()));
    const key = keyOf(store, name, args);
    if (values.has(key)) return values.get(key);
    const { value, params } = named(storeNamed(this.application, store).derived, name);
    const world: World = {
      field: (owner, field) => fieldOf(state, storeNamed(this.application, owner), field),
      derived: (owner, other) => this.#derivedIn(state, owner, other),
      ask: (owner, other, given) => this.#derivedIn(state, owner, other, given),
      apply: (name, args) => applied(this.application, this.judge, name, args),
      fits: (value, wanted) => this.judge.fits(value, wanted),
      newId: onlyInSteps,
      now: onlyInSteps,
      random: onlyInSteps,
    };
    const result = freeze(evaluate(value, { world, locals: localsOf(params, args) }));
    values.set(key, result);
    return result;
  }
}

/** What a function of the schema gives: it reads nothing but its arguments. */
function applied(
  application: Application,
  judge: Judge,
  name: string,
  args: readonly unknown[],
): unknown {
  const { params, value } = named(application.functions, name);
  const world: World = {
    field: onlyOfArguments,
    derived: onlyOfArguments,
    ask: onlyOfArguments,
    apply: (other, given) => applied(application, judge, other, given),
    fits: (value, wanted) => judge.fits(value, wanted),
    newId: onlyInSteps,
    now: onlyInSteps,
    random: onlyInSteps,
  };
  return evaluate(value, { world, locals: localsOf(params, args) });
}

function localsOf(params: readonly Parameter[], args: readonly unknown[]) {
  return Object.fromEntries(params.map((param, i) => [param.name, args[i]]));
}

/** A text that is the same for the same derived value and equal arguments. */
function keyOf(store: string, name: string, args: readonly unknown[]): string {
  return args.length === 0 ? `${store}.${name}` : `${store}.${name} ${canonicalText(args)}`;
}

function onlyOfArguments(): never {
  throw new Error('a function reads nothing but its arguments');
}

function onlyInSteps(): never {
  throw new Error('a derived value asks nothing of the environment');
}

/** The working state of one transaction. */
class Transaction {
  #moment: number | undefined;

  constructor(
    readonly application: Application,
    public state: State,
    readonly environment: Environment,
    readonly derivedIn: (
      state: State,
      store: string,
      name: string,
      args?: readonly unknown[],
    ) => unknown,
  ) {}

  perform(
    store: Store,
    action: Action,
    given: unknown,
    at: string,
    judge: Judge,
    cover: (point: string) => void,
  ): void {
    try {
      this.#performHere(store, action, given, at, judge, cover);
    } catch (error) {
      if (error instanceof Refusal) error.via.unshift(at);
      throw error;
    }
  }

  #performHere(
    store: Store,
    action: Action,
    given: unknown,
    at: string,
    judge: Judge,
    cover: (point: string) => void,
  ): void {
    let frame: Frame = { world: this.#world(judge), locals: {} };
    if (action.payload !== undefined) {
      const payload = given === undefined ? action.payloadDefault : given;
      const fits = payload !== notJson && judge.fits(payload, action.payload);
      if (!fits) throw new Refusal(reasons.misfit, `${at}.payload`);
      frame = bind(frame, { payload });
    }
    for (const requirement of action.requires) {
      const value = evaluate(exprOf(requirement), frame);
      const isMet =
        requirement.kind === 'condition' ? value : value !== null && value !== undefined;
      if (!isMet) {
        cover(`${requirement.at} refused`);
        throw new Refusal(requirement.otherwise, requirement.at);
      }
      if (requirement.kind === 'value') frame = bind(frame, { [requirement.binding.name]: value });
    }
    frame = bindAll(action.let, frame);
    performSteps(action.steps, frame, this.#workspace(store, judge, cover));
    for (const { store: reacting, reaction } of reactionsTo(
      this.application,
      store.name,
      action.name,
    )) {
      performSteps(reaction.steps, frame, this.#workspace(reacting, judge, cover));
      cover(`${reaction.at} done`);
    }
    cover(`${at} done`);
  }

  #world(judge: Judge): World {
    return {
      field: (owner, field) => fieldOf(this.state, storeNamed(this.application, owner), field),
      derived: (owner, name) => this.derivedIn(this.state, owner, name),
      ask: (owner, name, args) => this.derivedIn(this.state, owner, name, args),
      apply: (name, args) => applied(this.application, judge, name, args),
      fits: (value, wanted) => judge.fits(value, wanted),
      newId: () => this.environment.newId(),
      now: () => (this.#moment ??= this.environment.now()),
      random: () => this.environment.random(),
    };
  }

  #workspace(store: Store, judge: Judge, cover: (point: string) => void): Workspace {
    return {
      store,
      judge,
      cover,
      read: (field) => fieldOf(this.state, store, field),
      write: (field, value) => {
        const changed = store.single
          ? value
          : { ...(this.state[store.name] as State), [field]: value };
        this.state = { ...this.state, [store.name]: changed };
      },
      reset: (name) => {
        const initial = initialState(storeNamed(this.application, name));
        this.state = { ...this.state, [name]: initial };
      },
      run: (storeName, actionName, payload) => {
        const target = storeNamed(this.application, storeName);
        const action = named(target.actions, actionName);
        this.perform(target, action, payload, `${storeName}.${actionName}`, judge, cover);
      },
    };
  }
}

function initialState(store: Store): unknown {
  if (store.single) return store.fields[0]?.default;
  return Object.fromEntries(store.fields.map((field) => [field.name, field.default]));
}

function fieldOf(state: State, store: Store, field: string): unknown {
  return store.single ? state[store.name] : (state[store.name] as State)[field];
}

/** Freezes a value through and through; stops where it is frozen already. */
function freeze<T>(value: T): T {
  if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
  Object.freeze(value);
  for (const part of Object.values(value)) freeze(part);
  return value;
}
