import type { Json } from '../../base/json.js';
import { nextTurn } from '../../base/turn.js';
import type {
  Abilities,
  Histories,
  Participant,
  Report,
  Running,
  Target,
} from '../../model/participant.js';
import type { ObservedClass } from '../../model/observed-class.js';
import {
  repeatableEnvironment,
  type EnvironmentMark,
  type RepeatableEnvironment,
} from './environment.js';
import { notAsked, type DerivedShown } from './derived-shown.js';
import type { Question } from '../inputs/questions.js';
import {
  isAttach,
  isOfStorage,
  isSend,
  payloadIn,
  type AnswerStep,
  type AttachStep,
  type Circumstances,
  type PassStep,
  type ReopenStep,
  type ScriptStep,
  type SendStep,
  type StopStep,
  type StorageStep,
  type TaskStep,
  type WatchStep,
} from '../script.js';
import { Outside, type Answer, type Callable, type OutsideNews } from './outside.js';
import { attempt, started } from './attempt.js';
import { SecondInstance } from './second-instance.js';
import { OwnIds } from './own-ids.js';
import type { WithAbsentParts } from '../inputs/absent-parts.js';
import { passing } from './passing.js';
import { PlayerWatchers, type Notice } from './player-watchers.js';
import { RunOutcomes, type RunEnd } from './run-outcomes.js';
import { VirtualStorage, type StoredTexts } from './virtual-storage.js';

/** What is around a participant besides its environment. */
export interface Surroundings {
  /** The operations that can be called; none where the application has no tasks. */
  readonly callables?: readonly Callable[] | undefined;
  /** The keys under which stores are saved; none where nothing is. */
  readonly savedKeys?: readonly string[] | undefined;
  /** The keys under which something was kept before there was a schema. */
  readonly oldKeys?: readonly string[] | undefined;
  /** The stores that are attached later. */
  readonly lazyStores?: readonly string[] | undefined;
  /** The parts of payloads that are free text, by action or task. */
  readonly freeTexts?: ReadonlyMap<string, ReadonlySet<string>> | undefined;
  /** What gives a payload the optional properties that it lacks, as undefined. */
  readonly withAbsent?: WithAbsentParts | undefined;
}

/** What a participant shows of its tasks after a step. */
export interface TasksShown extends OutsideNews {
  /** What can be read of them, by store and name; or what was thrown in place of it. */
  readonly running: unknown;
  /** How runs have ended since the step began, of those that were started by a caller, in the order of the starts. */
  readonly ends: readonly RunEnd[];
}

/** At most so many timers of 0 ms go off after a step: each may set another. */
const mostAtOnce = 100;

/** One participant in a run of a script, and what it has shown since the step began. */
export class Player {
  readonly name: string;
  readonly has: Abilities | undefined;
  readonly leaks: Participant['leaks'];
  readonly reports: Report[] = [];
  /** How many transactions of the last step changed something, where that is known. */
  changes: number | undefined;
  /** The outcome of actions that were sent from watchers, in the order in which they were sent. */
  readonly sent: unknown[] = [];
  /** The world outside; none where the application has no tasks. */
  readonly outside: Outside | undefined;
  /** What it did to the world outside since the step began, and what goes on. */
  tasks: TasksShown | undefined;
  /** What was shown when it was last looked at. */
  state: unknown;
  derived: DerivedShown | undefined;
  /** The number of outcomes that it said nothing of. */
  notReported = 0;
  /** Where it keeps what is saved; none where the application saves nothing. */
  readonly #storage: VirtualStorage | undefined;
  readonly #savedKeys: readonly string[];
  readonly #oldKeys: readonly string[];
  readonly #lazyStores: readonly string[];
  readonly #withAbsent: WithAbsentParts;
  readonly #freeTexts: ReadonlyMap<string, ReadonlySet<string>>;
  /** True if lazy stores are attached from the beginning: somebody has no such stores. */
  readonly #isWhole: boolean;
  /** Its own identifiers, of one whose code may make them by itself. */
  readonly ids: OwnIds | undefined;
  readonly #participant: Participant;
  readonly #targets: readonly Target[];
  readonly #environment: RepeatableEnvironment;
  #running: Running;
  readonly #attached = new Set<string>();
  readonly #outcomes = new RunOutcomes();
  readonly #watchers: PlayerWatchers;
  /** A second instance, that does each action before. */
  readonly #second: SecondInstance | undefined;

  /** `byStep`: whether generated names and times depend on the step alone. */
  constructor(
    participant: Participant,
    targets: readonly Target[],
    byStep: boolean,
    {
      callables,
      savedKeys = [],
      oldKeys = [],
      lazyStores = [],
      withAbsent = (_action, payload) => payload,
      freeTexts = new Map(),
    }: Surroundings = {},
    isWhole = false,
    { ids, beside = false }: Circumstances = {},
    made: ReadonlySet<string> = new Set(),
  ) {
    this.name = participant.name;
    this.has = participant.has;
    this.leaks = participant.leaks;
    // Some styles watch functions, which have no name to tell.
    const push = ({ kind, at }: Report) =>
      this.reports.push({ kind, at: kind === 'watcher' ? '' : at });
    this.outside = callables && new Outside(callables);
    this.#savedKeys = savedKeys;
    this.#oldKeys = oldKeys;
    this.#lazyStores = lazyStores;
    this.#withAbsent = withAbsent;
    this.#freeTexts = freeTexts;
    this.#isWhole = isWhole;
    this.#storage = savedKeys.length > 0 ? new VirtualStorage() : undefined;
    this.#environment = repeatableEnvironment({ push }, byStep, this.outside, this.#storage, ids);
    this.ids = this.has && new OwnIds(made, this.#environment.made);
    this.#second = beside ? new SecondInstance(participant, callables) : undefined;
    this.#participant = participant;
    this.#targets = targets;
    this.#watchers = new PlayerWatchers({
      running: () => this.#running,
      isThere: (target) => this.#hasTarget(target),
      send: (step) => {
        const state = attempt(() => this.#running.read());
        this.sent.push(this.send(step, payloadIn(step, state)));
      },
    });
    this.#running = this.#start();
    this.state = this.read();
  }

  #start(): Running {
    const running = (this.#running = started(this.#participant, this.#environment));
    if (this.#isWhole) for (const store of this.#lazyStores) attempt(() => running.attach?.(store));
    const later = this.#isWhole ? [] : this.#lazyStores;
    for (const target of this.#targets)
      if (!later.includes(storeOf(target))) this.#watchers.add(target);
    return running;
  }

  /** Attaches a lazy store; what is watched of all stores is watched of it then too. */
  attach({ attach: store }: AttachStep): unknown {
    const isNew = !this.#attached.has(store);
    const outcome = attempt(() => this.#running.attach?.(store));
    this.#attached.add(store);
    if (isNew)
      for (const target of this.#targets) if (storeOf(target) === store) this.#watchers.add(target);
    return this.#outcomes.settled(outcome);
  }

  /** What is kept in storage. */
  stored(): StoredTexts | undefined {
    return this.#storage?.under(this.#savedKeys, this.#oldKeys);
  }

  /** Closes the stores and makes them anew, on the same storage; or changes what stands there. */
  changeStorage(step: ReopenStep | StorageStep): void {
    if ('storage' in step) return this.#storage?.change(this.#ofOwn(step.storage));
    this.close();
    // Old code may have timers, and wait for answers, that nothing can stop.
    this.outside?.cutOff();
    this.#watchers.clear();
    this.#attached.clear();
    this.forget();
    this.#second?.reopen();
    this.#start();
  }

  #ofOwn(storage: StorageStep['storage']): StorageStep['storage'] {
    if (typeof storage === 'string' || this.ids === undefined) return storage;
    return { ...storage, text: this.ids.jsonInOwn(storage.text) };
  }

  takesPart(what: ObservedClass): boolean {
    return this.has === undefined || this.has.classes.has(what);
  }

  /** The identifiers that it has asked for by now; it grows. */
  get made(): ReadonlySet<string> {
    return this.#environment.made;
  }

  get notices(): Notice[] {
    return this.#watchers.notices;
  }

  /** The values that each watcher took that iterates, by its name, as far as they have come. */
  get iterated(): ReadonlyMap<string, readonly unknown[]> {
    return this.#watchers.iterated;
  }

  /** The final outcomes of actions that were queued, as far as they are known. */
  get finals(): readonly unknown[] {
    return this.#outcomes.finals;
  }

  /** True if a target can be watched: its store is there, and the participant has it. */
  #hasTarget(target: Target): boolean {
    const store = storeOf(target);
    const isLater = !this.#isWhole && this.#lazyStores.includes(store);
    if (isLater && !this.#attached.has(store)) return false;
    return this.has === undefined || this.has.targets.has(target);
  }

  /** Where its environment stands. */
  mark(): EnvironmentMark {
    return this.#environment.mark();
  }

  /** Takes back what it was asked for since then, if it changed nothing. */
  back(mark: EnvironmentMark): void {
    this.#environment.back(mark);
    this.forget();
  }

  /** True if it can be put into a state. */
  get isRestorable(): boolean {
    return this.#running.restore !== undefined;
  }

  /** Puts it into a state that was met at a place, as if what led there had been done; it may not work out. */
  restore(state: unknown, mark: EnvironmentMark): void {
    attempt(() => this.#running.restore?.(state as Readonly<Record<string, unknown>>));
    this.back(mark);
    this.state = state;
    this.derived = undefined;
  }

  /** A step begins. */
  begin(): void {
    this.#environment.next();
    this.forget();
  }

  /** Forgets what was shown during the last step. */
  forget(): void {
    // Most are empty: to look costs less than to set.
    if (this.notices.length > 0) this.notices.length = 0;
    if (this.reports.length > 0) this.reports.length = 0;
    if (this.sent.length > 0) this.sent.length = 0;
  }

  send({ send, passed }: SendStep, sent: ReturnType<typeof payloadIn>): unknown {
    const [store, action] = namesIn(send);
    const payload = this.#sent(sent, send);
    this.#second?.send(store, action, payload);
    const outcome =
      passed === undefined || this.has !== undefined
        ? attempt(() => this.#running.send(store, action, payload))
        : passing(
            payload,
            passed,
            (given) => this.#withAbsent(send, given),
            (given) => attempt(() => this.#running.send(store, action, given)),
          );
    if (outcome === undefined) this.notReported++;
    return this.#outcomes.settled(outcome);
  }

  /** Does a step that is about tasks and takes no time. */
  #doTask(step: Exclude<TaskStep, PassStep>, payload: Json | undefined): unknown {
    if ('start' in step) {
      const [store, task] = namesIn(step.start);
      const sent = this.#sent(payload, step.start);
      return this.#outcomes.settled(attempt(() => this.#running.start?.(store, task, sent)));
    }
    if ('cancel' in step) {
      const [store, task] = namesIn(step.cancel);
      const per = this.#sent(step.per);
      return this.#outcomes.settled(attempt(() => this.#running.cancel?.(store, task, per)));
    }
    if ('value' in step) this.outside?.value(step.value, this.#sent(step.result));
    else {
      const answer = answerOf(step);
      const value = this.#sent(answer.value);
      this.outside?.answer(step.answer, { ...answer, value } as Answer);
    }
    return undefined;
  }

  /** What it is given, with its own identifiers. */
  #sent<T extends Json | undefined>(value: T, name = ''): T {
    return this.ids === undefined ? value : this.ids.sent(value, this.#freeTexts.get(name));
  }

  /** Does any step, and waits until nothing moves any more. How often that changed something is noted. */
  async play(step: ScriptStep, payload: Json | undefined, ms: number): Promise<unknown> {
    const before = this.#running.changes?.();
    const outcome = await this.#play(step, payload, ms);
    const now = this.#running.changes?.();
    this.changes = now === undefined || before === undefined ? undefined : now - before;
    return outcome;
  }

  async #play(step: ScriptStep, payload: Json | undefined, ms: number): Promise<unknown> {
    if ('pass' in step) {
      await this.outside?.pass(ms, nextTurn);
      return undefined;
    }
    let outcome: unknown;
    if (isSend(step)) outcome = this.send(step, payload);
    else if (isAttach(step)) outcome = this.attach(step);
    else if ('watch' in step || 'stop' in step) this.changeWatchers(step);
    else if (isOfStorage(step)) this.changeStorage(step);
    else outcome = this.#doTask(step, payload);
    await nextTurn();
    if (this.has !== undefined) await this.#passNothing();
    return outcome;
  }

  /** Old code does with a timer of 0 ms what the schema does at once: such timers go off before it is looked at. */
  async #passNothing(): Promise<void> {
    const { outside } = this;
    for (let left = mostAtOnce; left > 0 && outside?.next === 0; left--) {
      outside.passNext(outside.time);
      await nextTurn();
    }
  }

  /** What it has done to the world outside since the step began, and what goes on of its tasks; none where there are none. */
  lookAtTasks(): TasksShown | undefined {
    if (this.outside === undefined) return undefined;
    const running = attempt(() => this.#running.tasks?.());
    const ends = this.#outcomes.takeEnds();
    return { ...this.outside.take(), running, ends };
  }

  /** How often something was refused by now since it did not fit; 0 if it cannot tell. */
  get misfits(): number {
    return this.#running.misfits?.() ?? 0;
  }

  /** The state of all stores, or what was thrown in place of it. */
  read(): unknown {
    return attempt(() => this.#running.read());
  }

  /** The state as JSON text says it, read again; nothing of who has no such text. */
  json(): unknown {
    return attempt(() => {
      const text = this.#running.json?.();
      return text === undefined ? undefined : (JSON.parse(text) as unknown);
    });
  }

  /** What can be undone: another object if anything of it is; nothing of who cannot tell. */
  histories(): Histories | undefined {
    return this.#running.histories?.();
  }

  /** All derived values, and the answers to questions. */
  derive(asked: readonly Question[]): DerivedShown {
    const values = attempt(() => this.#running.derive?.());
    const answers = asked.map(({ store, name, args }) =>
      this.has === undefined || this.has.derived.has(`${store}.${name}`)
        ? attempt(() => this.#running.ask?.(store, name, this.#inOwn(args)))
        : notAsked,
    );
    return { values, asked, answers };
  }

  #inOwn(args: readonly Json[]): readonly Json[] {
    return this.ids === undefined ? args : (this.ids.inOwn(args) as readonly Json[]);
  }

  /** Adds a watcher, or stops one. */
  changeWatchers(step: WatchStep | StopStep): void {
    this.#watchers.change(step);
  }

  close(): void {
    attempt(() => this.#running.close?.());
    this.#second?.close();
  }
}

const storeOf = (target: Target): string => target.split('.')[0] ?? '';

/** Names that were taken apart: engines find properties faster by a text that they have seen. */
const known = new Map<string, readonly [store: string, action: string]>();

function namesIn(send: string): readonly [store: string, action: string] {
  let names = known.get(send);
  if (names === undefined) {
    const dot = send.indexOf('.');
    known.set(send, (names = [send.slice(0, dot), send.slice(dot + 1)]));
  }
  return names;
}

function answerOf(step: AnswerStep): Answer {
  if ('error' in step) return { kind: 'error', value: step.error };
  return { kind: 'result', value: 'result' in step ? step.result : undefined };
}
