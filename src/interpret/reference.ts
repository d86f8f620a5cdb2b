import type { Json } from '../base/json.js';
import { canonicalText } from '../base/canonical.js';
import { keep } from '../base/keep.js';
import { same } from '../base/same.js';
import {
  named,
  storeNamed,
  type Action,
  type Application,
  type Store,
} from '../model/application.js';
import type { Reach } from '../model/cover-points.js';
import { fromText } from '../model/from-text.js';
import {
  type Environment,
  type Outcome,
  type Participant,
  type Running,
  type Target,
} from '../model/participant.js';
import { evaluate, type World } from './compile-expression.js';
import { Judge } from './judge.js';
import { Refusal } from './refusal.js';
import { localsOf, pureWorld } from './pure-world.js';
import { fieldOf, initialState, Transaction, type Setting, type State } from './transaction.js';
import { notJson, takeIn } from './take-in.js';
import { Turns } from './turns.js';

export interface ReferenceOptions {
  /** Told what is reached of the schema. */
  readonly reach?: Reach;
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
  readonly look: () => unknown;
  readonly changed: (now: unknown, before: unknown) => void;
  last: unknown;
}

class Reference implements Running {
  #state: State;
  readonly #moments = new WeakMap<State, Moment>();
  readonly #givenOut = new Map<string, unknown>();
  readonly #watchers = new Set<Watcher>();
  readonly #turns: Turns;
  readonly #setting: Setting;

  constructor(
    readonly application: Application,
    readonly judge: Judge,
    readonly environment: Environment,
    readonly options: ReferenceOptions,
  ) {
    this.#turns = new Turns(environment.onProblem);
    this.#setting = {
      environment,
      judge,
      reach: options.reach,
      derivedIn: (state, owner, name, args) => this.#derivedIn(state, owner, name, args),
    };
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
    const all: Record<string, Record<string, unknown>> = {};
    for (const { name: store, derived } of this.application.stores) {
      const values: Record<string, unknown> = (all[store] = {});
      for (const { name, params } of derived)
        if (params.length === 0) values[name] = this.#giveOut(store, name);
    }
    return all;
  }

  ask(store: string, name: string, args: readonly Json[]): unknown {
    return this.#giveOut(store, name, args);
  }

  watch(target: Target, changed: Watcher['changed']): () => void {
    const look = this.#lookAt(target);
    const watcher: Watcher = { target, look, changed, last: look() };
    this.#watchers.add(watcher);
    return () => void this.#watchers.delete(watcher);
  }

  #transact(store: Store, action: Action, payload: Json | undefined, at: string): Outcome {
    const transaction = new Transaction(this.application, this.#state, this.#setting);
    const taken = this.#takeIn(payload, action);
    try {
      transaction.perform(store, action, taken, at);
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
      const now = watcher.look();
      if (same(now, before)) continue;
      watcher.last = now;
      try {
        watcher.changed(now, before);
      } catch {
        this.environment.onProblem({ kind: 'watcher', at: watcher.target });
      }
    }
  }

  /** What reads a target. */
  #lookAt(target: Target): () => unknown {
    if (target === '*') return () => this.#state;
    const [storeName = '', name] = target.split('.');
    if (name === undefined) return () => this.#state[storeName];
    const store = storeNamed(this.application, storeName);
    const isField = store.fields.some((field) => field.name === name);
    return isField ? () => fieldOf(this.#state, store, name) : () => this.#giveOut(storeName, name);
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
    const { values, world } = this.#momentOf(state);
    const key = keyOf(store, name, args);
    if (values.has(key)) return values.get(key);
    const { value, params } = named(storeNamed(this.application, store).derived, name);
    const result = freeze(evaluate(value, { world, locals: localsOf(params, args) }));
    values.set(key, result);
    return result;
  }

  #momentOf(state: State): Moment {
    const known = this.#moments.get(state);
    if (known !== undefined) return known;
    const world = pureWorld(this.application, this.judge, {
      field: (owner, field) => fieldOf(state, storeNamed(this.application, owner), field),
      derived: (owner, other, given) => this.#derivedIn(state, owner, other, given),
      decided: this.options.reach?.decided,
    });
    const moment: Moment = { values: new Map(), world };
    this.#moments.set(state, moment);
    return moment;
  }
}

/** What is known of a state: derived values that were asked for, and what their expressions see. */
interface Moment {
  readonly values: Map<string, unknown>;
  readonly world: World;
}

/** A text that is the same for the same derived value and equal arguments. */
function keyOf(store: string, name: string, args: readonly unknown[]): string {
  return args.length === 0 ? `${store}.${name}` : `${store}.${name} ${canonicalText(args)}`;
}

/** Freezes a value through and through; stops where it is frozen already. */
function freeze<T>(value: T): T {
  if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
  Object.freeze(value);
  for (const part of Object.values(value)) freeze(part);
  return value;
}
