import type { Json } from '../base/json.js';
import { shareUnchanged } from '../base/share-unchanged.js';
import { same } from '../base/same.js';
import {
  hasTasks,
  named,
  storeNamed,
  type Action,
  type Application,
  type Store,
} from '../model/application.js';
import type { Reach } from '../model/cover-points.js';
import type { Move } from '../model/history.js';
import { fromText } from '../model/from-text.js';
import {
  reasons,
  type Environment,
  type Outcome,
  type Participant,
  type Running,
  type Target,
  type TaskReadings,
} from '../model/participant.js';
import type { TaskReading } from '../model/task-readings.js';
import { Beginning, save } from './beginning.js';
import { DerivedValues, type Beside } from './derived-values.js';
import { freeze } from './freeze.js';
import { historiesAfter } from './histories.js';
import { judgeOf, type Judge } from './judge.js';
import { functionsOf } from './pure-world.js';
import { Refusal } from './refusal.js';
import { fieldOf, isAttached, type State } from './state.js';
import { Transaction, type Setting } from './transaction.js';
import { withoutExtra } from './without-extra.js';
import { takeIn } from './take-in.js';
import { taskNamed } from '../model/task-of.js';
import { readingOf, readingsOf, taskState } from './task-states.js';
import { Tasks, type Tried } from './tasks.js';
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
  const judge = judgeOf(application.types);
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
  /** The state as it is seen from outside, and what it was made of. */
  #seen: { readonly of: State; readonly state: State } | undefined;
  #beside: Beside = nothing;
  readonly #tasks: Tasks | undefined;
  readonly #beginning: Beginning;
  readonly #derived: DerivedValues;
  readonly #watchers = new Set<Watcher>();
  #changes = 0;
  #misfits = 0;
  readonly #turns: Turns;
  readonly #setting: Setting;

  constructor(
    readonly application: Application,
    readonly judge: Judge,
    readonly environment: Environment,
    readonly options: ReferenceOptions,
  ) {
    this.#turns = new Turns(environment.onProblem);
    this.#derived = new DerivedValues(application, judge, options.reach, () => this.#beside);
    this.#setting = {
      environment,
      judge,
      reach: options.reach,
      derived: this.#derived,
      apply: functionsOf(application, judge, options.reach),
    };
    this.#beginning = new Beginning(application, environment, judge, options.reach);
    this.#state = freeze(
      Object.fromEntries(
        application.stores.map((store) => [
          store.name,
          store.lazy ? undefined : this.#beginning.of(store),
        ]),
      ),
    );
    if (!hasTasks(application)) return;
    const tasks = (this.#tasks = new Tasks({
      application,
      environment,
      judge,
      turns: this.#turns,
      attempt: (work) => this.#attempt(work),
      commit: (transaction, calls) => {
        this.#commit(transaction, undefined, calls);
      },
      look: () => this.#begin(),
      isAttached: ({ store }) => isAttached(this.#state, store.name),
      cover: (at, what) => options.reach?.point(at, what),
      near: (at, what, distance) => options.reach?.near(at, what, distance),
    }));
    this.#turns.busyWith(() => {
      tasks.begin();
    }, 'creation');
  }

  send(storeName: string, actionName: string, payload: Json | undefined): Outcome {
    const { store, action, at } = actionNamed(this.application, storeName, actionName);
    return (
      this.#notAttached(storeName) ??
      this.#turns.take(() => this.#transact(store, action, payload, at), at)
    );
  }

  /** The state as it is seen from outside: a store that is not attached is null. */
  read(): State {
    if (this.application.stores.every(({ lazy }) => !lazy)) return this.#state;
    if (this.#seen?.of !== this.#state) {
      const stores = Object.entries(this.#state);
      const state = Object.fromEntries(stores.map(([name, own]) => [name, own ?? null]));
      this.#seen = { of: this.#state, state: freeze(state) };
    }
    return this.#seen.state;
  }

  derive(): Record<string, Record<string, unknown>> {
    const all: Record<string, Record<string, unknown>> = {};
    for (const { name: store, derived } of this.application.stores) {
      if (!isAttached(this.#state, store)) continue;
      const values: Record<string, unknown> = (all[store] = {});
      for (const { name, params } of derived)
        if (params.length === 0) values[name] = this.#derived.of(store, name).giveOut(this.#state);
    }
    return all;
  }

  ask(store: string, name: string, args: readonly Json[]): unknown {
    this.#requireAttached(store);
    return this.#derived.of(store, name, args).giveOut(this.#state);
  }

  watch(target: Target, changed: Watcher['changed']): () => void {
    const look = this.#lookAt(target);
    const watcher: Watcher = { target, look, changed, last: look() };
    this.#watchers.add(watcher);
    return () => void this.#watchers.delete(watcher);
  }

  restore(state: State): void {
    this.#state = freeze(state);
    this.#beside = nothing;
    this.#tasks?.restart();
    for (const watcher of this.#watchers) watcher.last = watcher.look();
  }

  start(store: string, task: string, payload: Json | undefined): Outcome {
    const of = taskNamed(this.application, store, task);
    const given = this.#takeIn(payload, of.task, of.name);
    return (
      this.#notAttached(store) ?? this.#turns.take(() => this.#tasksThere.start(of, given), of.name)
    );
  }

  cancel(store: string, task: string, per?: Json): Outcome {
    const of = taskNamed(this.application, store, task);
    const meant = per === undefined ? undefined : { value: takeIn(per) };
    return (
      this.#notAttached(store) ??
      this.#turns.take(() => this.#tasksThere.cancel([of], meant), of.name)
    );
  }

  attach(storeName: string): Outcome {
    const store = storeNamed(this.application, storeName);
    return this.#turns.take(() => {
      if (isAttached(this.#state, storeName)) return { status: 'done' };
      const transaction = this.#begin();
      transaction.state = { ...this.#state, [storeName]: this.#beginning.of(store) };
      this.#commit(transaction);
      this.options.reach?.point(storeName, 'attached');
      return { status: 'done' };
    }, storeName);
  }

  /** What becomes of what is asked of a store that is not attached; nothing if it is. */
  #notAttached(store: string): Outcome | undefined {
    if (isAttached(this.#state, store)) return undefined;
    return { status: 'refused', reason: reasons.notAttached };
  }

  #requireAttached(store: string): void {
    if (this.#notAttached(store) !== undefined) throw new TypeError(`'${store}' is not attached`);
  }

  tasks(): Readonly<Record<string, TaskReadings>> {
    return Object.fromEntries(
      this.application.stores
        .filter(({ name, tasks }) => tasks.length > 0 && isAttached(this.#state, name))
        .map(({ name: store, tasks }) => [
          store,
          Object.fromEntries(
            tasks.map(({ name }) => [
              name,
              readingsOf(taskState(this.#beside.tasks, `${store}.${name}`)),
            ]),
          ) as TaskReadings,
        ]),
    );
  }

  histories(): Beside['histories'] {
    return this.#beside.histories;
  }

  changes(): number {
    return this.#changes;
  }

  misfits(): number {
    return this.#misfits;
  }

  close(): void {
    this.#turns.close(() => {
      this.#watchers.clear();
      this.#beside = { ...this.#beside, tasks: new Map() };
      this.#tasks?.close();
    });
  }

  get #tasksThere(): Tasks {
    if (this.#tasks === undefined) throw new Error('the model has no tasks');
    return this.#tasks;
  }

  #begin(): Transaction {
    return new Transaction(this.application, this.#state, this.#beside, this.#setting);
  }

  /** Does something as a transaction, which is not kept yet. */
  #attempt(work: (transaction: Transaction) => void): Tried {
    const transaction = this.#begin();
    try {
      work(transaction);
      transaction.judge(this.#state);
    } catch (error) {
      if (!(error instanceof Refusal)) return { status: 'broken' };
      const { reason, at } = error;
      if (reason === reasons.misfit) this.#misfits++;
      return { status: 'refused', reason, ...(at !== undefined && { at }) };
    }
    return { status: 'done', transaction };
  }

  #transact(store: Store, action: Action, payload: Json | undefined, at: string): Outcome {
    const given = this.#takeIn(payload, action, at);
    const { move } = action;
    const tried = this.#attempt((transaction) => {
      if (move === undefined) transaction.send(store, action, given);
      else transaction.move(store, move);
    });
    if (tried.status === 'refused') return tried;
    if (tried.status === 'broken') {
      this.environment.onProblem({ kind: 'action', at });
      return { status: 'broken', action: at };
    }
    this.#commit(tried.transaction, at);
    return { status: 'done' };
  }

  #takeIn(
    payload: Json | undefined,
    {
      payload: wanted,
      acceptsText,
      dropsExtra,
    }: Pick<Action, 'payload' | 'acceptsText' | 'dropsExtra'>,
    name: string,
  ): unknown {
    if (payload === undefined) return undefined;
    const whole = takeIn(payload);
    const taken =
      dropsExtra && wanted !== undefined
        ? withoutExtra(whole, wanted, this.application.types)
        : whole;
    if (!acceptsText || wanted === undefined) return taken;
    const read = fromText(taken, wanted, this.application.types);
    if (!same(read, taken)) this.options.reach?.point(`${name}.text`, 'read');
    return read;
  }

  /** Keeps what a transaction has made, with all that follows; `begunBy` is the action that was sent. */
  #commit(transaction: Transaction, begunBy?: string, calls?: () => void): void {
    const kept = shareUnchanged(this.#state, transaction.state);
    const { tasks: runs, histories } = this.#beside;
    const { application } = this;
    const changed = kept !== this.#state;
    const { emptied, moved, asked, tasks } = transaction;
    const doing = { state: kept, emptied, moved, begunBy };
    const nextHistories = historiesAfter(application, histories, this.#state, doing);
    const isBeside = tasks !== runs || nextHistories !== histories;
    if (isBeside) this.#beside = { tasks, histories: nextHistories };
    const before = this.#state;
    if (changed) this.#state = freeze(kept);
    save(application, this.environment, this.#beginning.spared, [before, this.#state]);
    for (const one of asked) {
      if (one.kind === 'start') this.#tasksThere.later(one.task, one.payload);
      else this.#moveLater(one.store, one.move);
    }
    this.#tasks?.apply(transaction, runs);
    calls?.();
    if (changed || isBeside) {
      this.#changes++;
      this.#notify();
    }
    if (changed) this.#tasks?.noteChanges();
    this.#tasks?.follow();
  }

  /** An undo or a redo that a step has asked for. */
  #moveLater(store: Store, move: Move): void {
    const { action, at } = actionNamed(this.application, store.name, move);
    const run = () => this.#notAttached(store.name) ?? this.#transact(store, action, undefined, at);
    this.#turns.later(run, at, () => undefined);
  }

  #notify(): void {
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
    if (target === '*') return () => this.read();
    const [storeName = '', name, reading] = target.split('.');
    this.#requireAttached(storeName);
    if (name === undefined) return () => this.#state[storeName];
    if (reading !== undefined)
      return () => readingOf(this.#beside.tasks, storeName, name, reading as TaskReading);
    const store = storeNamed(this.application, storeName);
    const isField = store.fields.some((field) => field.name === name);
    if (isField) return () => fieldOf(this.#state, store, name);
    const derived = this.#derived.of(storeName, name);
    return () => derived.giveOut(this.#state);
  }
}

const nothing: Beside = { tasks: new Map(), histories: new Map() };

/** An action, with its full name. */
interface Sendable {
  readonly store: Store;
  readonly action: Action;
  readonly at: string;
}

const sendable = new WeakMap<Store, Map<string, Sendable>>();

function actionNamed(application: Application, storeName: string, name: string): Sendable {
  const store = storeNamed(application, storeName);
  const own = sendable.get(store) ?? new Map<string, Sendable>();
  const found = own.get(name);
  if (found !== undefined) return found;
  const made = { store, action: named(store.actions, name), at: `${storeName}.${name}` };
  sendable.set(store, own.set(name, made));
  return made;
}
