import {
  exprOf,
  named,
  reactionsTo,
  initialState,
  storeNamed,
  type Action,
  type Application,
  type Requirement,
  type Store,
} from '../model/application.js';
import type { Move } from '../model/history.js';
import type { Moment, Task } from '../model/tasks.js';
import type { Reach } from '../model/cover-points.js';
import { same } from '../base/same.js';
import { boundMissed, placeOf } from '../model/bounds.js';
import type { Type } from '../model/types.js';
import { reasons, type Environment } from '../model/participant.js';
import { bind, evaluate, localOf, type Frame, type World } from './compile-expression.js';
import type { Beside, DerivedValues } from './derived-values.js';
import {
  historyOf,
  readingOf as historyReading,
  throughHistory,
  type HistoryState,
} from './histories.js';
import type { Judge } from './judge.js';
import { Refusal } from './refusal.js';
import { distance } from './distance.js';
import { fieldOf, isAttached, type State } from './state.js';
import { bindAll, performSteps, type Workspace } from './steps.js';
import {
  readingOf,
  taskState,
  type Bound,
  type Run,
  type SetAside,
  type TaskState,
  type TaskStates,
} from './task-states.js';
import { taskNamed, type TaskOf } from '../model/task-of.js';
import { delayOf } from './delay.js';

/** What a transaction works with. */
export interface Setting {
  readonly environment: Environment;
  readonly judge: Judge;
  readonly reach: Reach | undefined;
  readonly derived: DerivedValues;
  /** What the functions of the schema give. */
  readonly apply: World['apply'];
}

/** What a step has asked for, to be done after the transaction. */
export type AskedForLater =
  | { readonly kind: 'start'; readonly task: TaskOf; readonly payload: unknown }
  | { readonly kind: 'move'; readonly store: Store; readonly move: Move };

/** What a start came to: a run after a wait, or it is set aside. */
export type Begun =
  | { readonly kind: 'run'; readonly run: Run; readonly waitMs: number }
  | { readonly kind: 'aside'; readonly aside: SetAside };

/** The working state of one transaction. */
export class Transaction {
  /** What goes on of the tasks, by now. */
  tasks: TaskStates;
  readonly asked: AskedForLater[] = [];
  /** The stores whose histories are emptied at the end. */
  readonly emptied = new Set<string>();
  /** What has become of a history by going through it. */
  moved: { readonly store: string; readonly history: HistoryState } | undefined;
  readonly world: World;
  readonly #before: Beside;
  #moment: number | undefined;

  constructor(
    readonly application: Application,
    public state: State,
    before: Beside,
    readonly setting: Setting,
  ) {
    this.#before = before;
    this.tasks = before.tasks;
    this.world = this.#makeWorld();
  }

  /** Does an action that was sent: its payload is judged first. */
  send(store: Store, action: Action, given: unknown): void {
    const { payload: wanted, payloadDefault } = action;
    const payload = given === undefined ? payloadDefault : given;
    if (wanted !== undefined) {
      const at = this.setting.judge.misfit(payload, wanted, '/payload');
      if (at !== undefined) {
        this.#refuse(`${store.name}.${action.name}`, payload, wanted, at);
        throw new Refusal(reasons.misfit, at);
      }
    }
    this.#act(store, action, payload);
  }

  /** Goes through the history of a store: its fields are put back, and nothing else. */
  move(store: Store, move: Move): void {
    const history = historyOf(this.#before.histories, store.name);
    const gone = throughHistory(store, this.state, history, move);
    if (gone === undefined) {
      this.#cover(`${store.name}.${move}`, 'refused');
      throw new Refusal(move === 'undo' ? reasons.nothingToUndo : reasons.nothingToRedo);
    }
    const space = this.#workspace(store);
    for (const [field, value] of gone.fields) space.write(field, value);
    this.moved = { store: store.name, history: gone.history };
    this.#cover(`${store.name}.${move}`, 'done');
  }

  /** Starts a task: `number` is that of the run; `from` the start that was set aside, if it was. */
  start(of: TaskOf, given: unknown, number: number, from?: SetAside): Begun {
    const { task } = of;
    const payload = given === undefined ? task.payloadDefault : given;
    if (task.payload !== undefined) {
      const at = this.setting.judge.misfit(payload, task.payload, '/payload');
      if (at !== undefined) {
        this.#refuse(of.name, payload, task.payload, at);
        throw new Refusal(reasons.misfit, at);
      }
    }
    const per = this.#perOf(of, payload);
    const { runs } = this.#state(of);
    const others = runs.filter((run) => same(run.per, per));
    if (others.length < runs.length) this.#cover(`${of.name}.per`, 'beside');
    if (others.length > 0) {
      this.#cover(`${of.name}.overlap`, task.overlap);
      if (task.overlap === 'first') throw new Refusal(reasons.running);
      if (task.overlap === 'queue') {
        const aside = { payload, per, id: number };
        this.#change(of, ({ runs, waiting }) => ({ runs, waiting: [...waiting, aside] }));
        return { kind: 'aside', aside };
      }
    }
    const { frame, bound } = this.#bound(of, payload);
    const wait = task.wait === undefined ? 0 : delayOf(evaluate(task.wait, frame));
    if (wait === undefined) throw new Refusal(reasons.misfit);
    this.#perform(of, 'start', frame);
    const run = { number, of: of.name, payload, bound, per };
    const displaced = task.overlap === 'latest' ? others : [];
    this.#change(of, ({ runs, waiting }) => ({
      runs: [...runs.filter((one) => !displaced.includes(one)), run],
      waiting: waiting.filter(({ id }) => id !== from?.id),
    }));
    return { kind: 'run', run, waitMs: wait };
  }

  /** Begins the next round of a run. */
  repeat(of: TaskOf, run: Run): void {
    const { frame, bound } = this.#bound(of, run.payload);
    this.#perform(of, 'start', frame);
    this.#change(of, ({ runs, waiting }) => ({
      runs: runs.map((one) => (one === run ? { ...run, bound } : one)),
      waiting,
    }));
  }

  /** Does what a task does at a moment of a run. */
  at(moment: Moment, of: TaskOf, run: Run, more: readonly Bound[] = []): void {
    this.#perform(of, moment, this.frameOf(of, run, more));
  }

  /** What expressions of a run see. */
  frameOf({ task }: TaskOf, { payload, bound }: Run, more: readonly Bound[] = []): Frame {
    let frame: Frame = { world: this.world, locals: undefined };
    if (task.payload !== undefined) frame = bind(frame, 'payload', payload);
    for (const { name, value } of [...bound, ...more]) frame = bind(frame, name, value);
    return frame;
  }

  /** A run is over. */
  end(of: TaskOf, number: number): void {
    this.#change(of, ({ runs, waiting }) => ({
      runs: runs.filter((run) => run.number !== number),
      waiting,
    }));
  }

  /** A start that was set aside will not be. */
  drop(of: TaskOf, { id }: SetAside): void {
    this.#change(of, ({ runs, waiting }) => ({
      runs,
      waiting: waiting.filter((one) => one.id !== id),
    }));
  }

  /** Abandons the runs of tasks, or those of one value, with what is set aside and what was asked for. */
  cancel(tasks: readonly TaskOf[], per?: { readonly value: unknown }): void {
    const isMeant = (one: { readonly per: unknown }) =>
      per === undefined || same(one.per, per.value);
    const gone = tasks.flatMap((of) => {
      const { runs } = this.#state(of);
      this.#change(of, (state) => ({
        runs: state.runs.filter((run) => !isMeant(run)),
        waiting: state.waiting.filter((aside) => !isMeant(aside)),
      }));
      for (let i = this.asked.length - 1; i >= 0; i--) {
        const one = this.asked[i] as AskedForLater;
        if (one.kind !== 'start') continue;
        const { task, payload } = one;
        if (task === of && (per === undefined || isMeant({ per: this.#perOf(of, payload) })))
          this.asked.splice(i, 1);
      }
      return runs.filter(isMeant).map((run) => ({ of, run }));
    });
    for (const { of, run } of gone.toSorted((a, b) => a.run.number - b.run.number))
      this.at('cancel', of, run);
  }

  #state(of: TaskOf): TaskState {
    return taskState(this.tasks, of.name);
  }

  #change(of: TaskOf, change: (state: TaskState) => TaskState): void {
    const before = this.#state(of);
    const after = change(before);
    const isSame =
      same(before.runs, after.runs) &&
      before.waiting.length === after.waiting.length &&
      before.waiting.every((aside, i) => aside.id === after.waiting[i]?.id);
    if (!isSame) this.tasks = new Map(this.tasks).set(of.name, after);
  }

  #perOf({ task }: TaskOf, payload: unknown): unknown {
    if (task.per === undefined) return null;
    return evaluate(task.per, this.#withPayload(task, payload));
  }

  #withPayload(task: Pick<Task, 'payload'>, payload: unknown): Frame {
    const frame: Frame = { world: this.world, locals: undefined };
    return task.payload === undefined ? frame : bind(frame, 'payload', payload);
  }

  /** What a task requires and binds. */
  #bound({ task, name }: TaskOf, payload: unknown): { frame: Frame; bound: readonly Bound[] } {
    const required = this.#required(task, this.#withPayload(task, payload), `${name}.start`);
    const frame = bindAll(task.let, required);
    const names = [
      ...task.requires.flatMap((one) => (one.kind === 'value' ? [one.binding.name] : [])),
      ...task.let.map(({ name }) => name),
    ];
    return { frame, bound: names.map((name) => ({ name, value: localOf(frame, name) })) };
  }

  #perform({ store, task, name }: TaskOf, moment: Moment, frame: Frame): void {
    performSteps(task.steps[moment], frame, this.#workspace(store));
    this.#react(store, `${task.name}.${moment}`, frame);
    this.#cover(`${name}.${moment}`, 'done');
  }

  /** True if a task goes on otherwise than before. */
  get hasChangedTasks(): boolean {
    return this.tasks !== this.#before.tasks;
  }

  /** Refuses the transaction if a field that it changed does not fit. */
  judge(before: State): void {
    if (this.state === before) return;
    for (const store of this.application.stores) {
      if (!isAttached(this.state, store.name)) continue;
      for (const field of store.fields) {
        const now = fieldOf(this.state, store, field.name);
        if (same(now, fieldOf(before, store, field.name))) continue;
        const place = store.single ? `/${store.name}` : `/${store.name}/${field.name}`;
        const at = this.setting.judge.misfit(now, field.type, place);
        if (at === undefined) continue;
        this.#coverMissed(
          place.slice(1).replace('/', '.'),
          now,
          field.type,
          at.slice(place.length),
        );
        throw new Refusal(reasons.misfit, at);
      }
    }
  }

  #act(store: Store, action: Action, payload: unknown): void {
    const at = `${store.name}.${action.name}`;
    const start = this.#withPayload(action, payload);
    const required = this.#required(action, start, at);
    const frame = bindAll(action.let, required);
    performSteps(action.steps, frame, this.#workspace(store));
    this.#react(store, action.name, frame);
    this.#cover(at, 'done');
  }

  /** The frame with what is required in it; or what stands at `at` is refused. */
  #required({ requires }: Pick<Action, 'requires'>, start: Frame, at: string): Frame {
    let frame = start;
    for (const [i, requirement] of requires.entries()) {
      const value = evaluate(exprOf(requirement), frame);
      const isMet =
        requirement.kind === 'condition' ? value : value !== null && value !== undefined;
      if (!isMet) {
        this.#cover(requirement.at, 'refused');
        this.setting.reach?.near(
          at,
          'done',
          () => requires.length - i - 1 + this.#farFrom(requirement, frame),
        );
        throw new Refusal(requirement.otherwise);
      }
      if (requirement.kind === 'value') frame = bind(frame, requirement.binding.name, value);
    }
    return frame;
  }

  #farFrom(requirement: Requirement, frame: Frame): number {
    return requirement.kind === 'value' ? 1 : distance(requirement.that, frame, this.application);
  }

  #react(store: Store, name: string, frame: Frame): void {
    const reactions = reactionsTo(this.application, store.name, name);
    for (const { store: reacting, reaction } of reactions) {
      if (!isAttached(this.state, reacting.name)) continue;
      performSteps(reaction.steps, frame, this.#workspace(reacting));
      this.#cover(reaction.at, 'done');
    }
  }

  /** Notes that a payload was refused, and for which bound; `at` is where it does not fit: `/payload/lengthM`. */
  #refuse(name: string, payload: unknown, wanted: Type, at: string): void {
    this.#cover(`${name}.payload`, 'refused');
    this.#coverMissed(`${name}.payload`, payload, wanted, at.slice('/payload'.length));
  }

  /** Notes the bound that a value does not keep; `at` is the JSON Pointer within the value. */
  #coverMissed(name: string, value: unknown, type: Type, at: string): void {
    if (this.setting.reach === undefined) return;
    const bound = boundMissed(value, type, this.application.types, at);
    if (bound !== undefined) this.#cover(`${name}${placeOf(bound)}`, `${bound.what}-refused`);
  }

  #cover(at: string, what: string): void {
    this.setting.reach?.point(at, what);
  }

  #makeWorld(): World {
    const { environment, judge, reach, derived, apply } = this.setting;
    return {
      field: (owner, field) => fieldOf(this.state, storeNamed(this.application, owner), field),
      derived: (owner, name, args) => derived.of(owner, name, args).in(this.state),
      task: (owner, name, reading) =>
        isAttached(this.state, owner)
          ? readingOf(this.#before.tasks, owner, name, reading)
          : undefined,
      history: (owner, reading) => historyReading(this.#before.histories, owner, reading),
      told: reach,
      apply,
      fits: (value, wanted) => judge.fits(value, wanted),
      newId: () => environment.newId(),
      now: () => (this.#moment ??= environment.now()),
      random: () => environment.random(),
    };
  }

  #workspace(store: Store): Workspace {
    return {
      store,
      types: this.application.types,
      cover: (at, what) => {
        this.#cover(at, what);
      },
      near: (at, what, test, frame, wanted) => {
        const { reach } = this.setting;
        reach?.near(at, what, () => distance(test, frame, this.application, wanted));
      },
      picked: (test, items, isMeant) => {
        this.setting.reach?.picked(test, items, isMeant);
      },
      stored: (value, now, before) => {
        this.setting.reach?.stored(value, now, before);
      },
      read: (field) => fieldOf(this.state, store, field),
      write: (field, value) => {
        const changed = store.single
          ? value
          : { ...(this.state[store.name] as State), [field]: value };
        this.state = { ...this.state, [store.name]: changed };
      },
      reset: (name) => {
        if (!isAttached(this.state, name)) return;
        const initial = initialState(storeNamed(this.application, name));
        this.state = { ...this.state, [name]: initial };
      },
      run: (storeName, actionName, payload) => {
        if (!isAttached(this.state, storeName)) throw new Refusal(reasons.notAttached);
        const target = storeNamed(this.application, storeName);
        const action = named(target.actions, actionName);
        this.#act(target, action, payload ?? action.payloadDefault);
      },
      start: (owner, name, payload) => {
        this.asked.push({ kind: 'start', task: taskNamed(this.application, owner, name), payload });
      },
      history: (owner, does) => {
        if (does === 'reset') this.emptied.add(owner);
        else
          this.asked.push({ kind: 'move', store: storeNamed(this.application, owner), move: does });
      },
      cancel: (tasks, per) => {
        this.cancel(
          tasks.map((one) => taskNamed(this.application, one.store, one.task)),
          per,
        );
      },
    };
  }
}
