import { differingPlaces } from '../../base/differing-places.js';
import type { Json } from '../../base/json.js';
import { same } from '../../base/same.js';
import { nextTurn } from '../../base/turn.js';
import { freeTextsOf, type Callable, OwnIds } from '../../comparing/index.js';
import type { LineGroup, PlacedLine } from '../log/groups.js';
import type { LoggedCall, LoggedState, LogLine } from '../log/log-lines.js';
import type { Application } from '../../model/application.js';
import { reasons, type Outcome, type Participant, type Running } from '../../model/participant.js';
import { ComparedFields } from './compared-fields.js';
import { askedIn, finalOf, isAskedFor, stateAfterTurn } from './lines.js';
import type { Mismatch } from './mismatch.js';
import { LoggedStates } from './logged-states.js';
import { callMismatch, failure, outcomeMismatch } from './mismatches.js';
import type { StandIns } from './stand-ins.js';
import { merged, withTypesOf } from './states.js';
import { answerIn, isUndrawnId, ReplayWorld } from './world.js';

/** Why a line is not done again. */
export type PassedOver = 'turns' | 'earlier run' | 'not there';

/** The outcome of a group with a participant. */
export interface Followed {
  readonly mismatch?: Mismatch;
  readonly passedOver?: PassedOver;
}

/** What a log says beside its lines. */
export interface AboutLog {
  readonly secrets?: Pick<StandIns, 'isSecret'> | undefined;
  /** The identifiers that were drawn by now, as far as they are known; it grows. */
  readonly loggedIds?: Set<string>;
  /** True if a log without turns has lines for what timers do; without them, they go off by the times of its lines. */
  readonly hasLoggedTimers?: boolean;
}

const fine: Followed = {};

/** A participant that does a log again, group by group. */
export class ReplayedParticipant {
  readonly name: string;
  readonly participant: Participant;
  readonly #application: Application;
  readonly #callables: readonly Callable[];
  readonly #fields: ComparedFields;
  readonly #states: LoggedStates;
  readonly #loggedIds: Set<string>;
  #ids: OwnIds;
  #freeTexts: ReturnType<typeof freeTextsOf> | undefined;
  #world: ReplayWorld;
  #running: Running | undefined;
  /** As in {@link AboutLog}. */
  hasLoggedTimers: boolean;
  /** The state that it has shown last, and that of the log there. */
  #shown: LoggedState | undefined;
  #logged: LoggedState | undefined;
  /** The states that its watcher was told in the group under way. */
  #seen: LoggedState[] = [];
  readonly #runs = new Set<number>();
  #began = 0;
  /** What watchers send in the group under way, by the turn that set it off. */
  #waiting: { readonly after: LoggedState | undefined; readonly line: PlacedLine }[] = [];
  #sent: { readonly line: PlacedLine; readonly outcome: Outcome | undefined }[] = [];
  #watchesStates = false;
  #watchesTasks = false;
  /** The state that the session begins from, and that after the line under way. */
  #from: LoggedState | undefined;
  #attaching: LoggedState | undefined;

  constructor(
    participant: Participant,
    application: Application,
    callables: readonly Callable[],
    { secrets, loggedIds = new Set(), hasLoggedTimers = false }: AboutLog = {},
  ) {
    this.#loggedIds = loggedIds;
    this.hasLoggedTimers = hasLoggedTimers;
    this.name = participant.name;
    this.participant = participant;
    this.#application = application;
    this.#callables = callables;
    this.#fields = new ComparedFields(application, participant);
    this.#states = new LoggedStates(this.#fields, secrets);
    this.#world = new ReplayWorld(callables, 0, undefined);
    this.#ids = this.#newIds();
  }

  /** The identifiers of its own: those that it makes by itself, and those that it was given where the log does not say which. */
  #newIds(): OwnIds {
    return new OwnIds(this.#loggedIds, this.#world.drawn, {
      is: isUndrawnId,
      found: (id) => void this.#loggedIds.add(id),
    });
  }

  /** True if its identifiers may be others than the log's. Most are as they were drawn. */
  get #mayHaveOwnIds(): boolean {
    return this.participant.has !== undefined || this.#world.undrawn > 0;
  }

  /** Its state with the log's identifiers in place of its own. */
  #inLoggedIds(state: LoggedState, logged: LoggedState | undefined): LoggedState {
    return this.#mayHaveOwnIds && logged !== undefined
      ? (this.#ids.settled(logged, state) as LoggedState)
      : state;
  }

  /** What it is sent, with its own identifiers in place of the log's, but for free text. */
  #inOwnIds(name: string, payload: Json | undefined): Json | undefined {
    if (!this.#mayHaveOwnIds) return payload;
    this.#freeTexts ??= freeTextsOf(this.#application);
    return this.#ids.sent(payload, this.#freeTexts.get(name));
  }

  /** A session begins, from a state if the log says so. `began`: milliseconds since 1970. */
  begin(began: number, state: LoggedState | undefined): void {
    this.close();
    this.#began = began;
    this.#world = new ReplayWorld(this.#callables, began, this.#attachedIn(state));
    this.#ids = this.#newIds();
    this.#runs.clear();
    this.#shown = this.#logged = undefined;
    this.#states.clear();
    this.#watchesStates = this.#watchesTasks = false;
    this.#from = state;
  }

  close(): void {
    this.#running?.close?.();
    this.#running = undefined;
  }

  /** The stores that are made at once: those that are attached later are not among them. */
  #attachedIn(state: LoggedState | undefined): LoggedState | undefined {
    return state && Object.fromEntries(Object.entries(state).filter(([, own]) => own !== null));
  }

  /** Makes the stores, with what the environment gives by then; `isMiddle`: others have begun the session. */
  #start(isMiddle = true): Running {
    const running = this.participant.create(this.#world.environment);
    if (isMiddle) this.#world.cutOff();
    this.#running = running;
    // What is attached in the state that a session begins from.
    for (const { name, lazy } of this.#application.stores)
      if (lazy && (this.#from?.[name] ?? null) !== null) running.attach?.(name);
    this.#seen = [];
    return running;
  }

  /** Does a group of lines, and compares what it shows with what the log says. */
  follow(group: LineGroup): Followed | Promise<Followed> {
    const [first] = group.lines as [PlacedLine, ...PlacedLine[]];
    const { line } = first;
    const waited = (line.calls ?? []).filter((one) => one.waited === true);
    if (waited.length > 0)
      return this.#callAfterWaits(line, waited).then(() => this.#follow(group, first));
    if (line.turn === undefined && !this.hasLoggedTimers && this.#world.isDue(line.at))
      return this.#letTimersGoOff(line).then(() => this.#follow(group, first));
    return this.#follow(group, first);
  }

  /** What timers have done by the time of a line, where the log does not say it. */
  async #letTimersGoOff({ at }: LogLine): Promise<void> {
    while (this.#world.passDue(at)) await nextTurn();
  }

  /** Timers go off that make calls before a line. */
  async #callAfterWaits({ at }: LogLine, waited: readonly LoggedCall[]): Promise<void> {
    const [{ call: firstCall }] = waited as [LoggedCall];
    const last = this.#world.callOf(waited.at(-1)?.call ?? firstCall, firstCall);
    while (this.#world.outside.count < last && this.#world.passNext(at)) await nextTurn();
  }

  #follow(group: LineGroup, first: PlacedLine): Followed | Promise<Followed> {
    if (first.line.kind === 'saved') {
      this.#skip(group);
      return {};
    }
    const passedOver = this.#isPossible(first.line);
    if (passedOver !== undefined) {
      this.#skip(group);
      return { passedOver };
    }
    this.#world.prepare(group);
    const isOwn = isAskedFor(first.line);
    this.#noteRuns(group);
    this.#seen = [];
    this.#sent = [];
    this.#waiting = group.lines
      .filter(({ line }, i) => line.by === 'watcher' && i > 0)
      .map((line) => ({ after: stateAfterTurn(group, line.line.cause), line }));
    const running = this.#running ?? this.#start((first.line.turn ?? 1) > 1);
    if (group.lines.length > 1) this.#watchStates(running);
    if (this.#waiting.length > 0) this.#watchTasks(running);
    this.#shown ??= running.read();
    if (!isOwn) return this.#compare(group, undefined);
    if (first.line.by === 'answer' || first.line.by === 'timer')
      return this.#answer(first.line, running).then(
        (missing) =>
          (missing === undefined
            ? undefined
            : { mismatch: callMismatch(this.name, first, missing) }) ??
          this.#compare(group, undefined),
      );
    this.#attaching = first.state;
    const outcome = this.#ask(running, first);
    this.#sendRest(running);
    return this.#sent.length > 0
      ? this.#compareLate(group, outcome)
      : this.#compare(group, outcome);
  }

  /** Why a line cannot be done again, if it cannot. */
  #isPossible(line: LogLine): PassedOver | undefined {
    const { outcome, reason, run, kind, do: name, by } = line;
    if (outcome === 'refused' && (reason === reasons.unsettled || reason === reasons.closed))
      return 'turns';
    if (!isAskedFor(line)) return undefined;
    if (line.turn === undefined && by === 'timer') return undefined;
    // A task that repeats starts again by a timer.
    const isLater = run !== undefined && (kind !== 'start' || by === 'timer');
    if (isLater && !this.#runs.has(run)) return 'earlier run';
    return this.#isThere(name, kind ?? 'action') ? undefined : 'not there';
  }

  /** True if the participant has what a line is about. */
  #isThere(name: string, kind: string): boolean {
    const { has } = this.participant;
    if (has === undefined) return true;
    if (kind === 'action') return has.actions.has(name);
    if (kind === 'start') return has.starts.has(name);
    return kind === 'cancel' ? has.cancels.has(name) : true;
  }

  /** The log goes on from another state than the participant has. */
  #skip({ lines }: LineGroup): void {
    for (const { line } of lines) this.#world.skip(line.calls ?? []);
    const after = lines.at(-1)?.state;
    if (after !== undefined && after !== this.#logged && this.participant.has === undefined) {
      this.#resume(merged(this.#shown, after));
      this.#passOver(after);
    }
  }

  /** The state that it has shown last, or that it begins with. */
  get shown(): LoggedState {
    return (this.#shown ??= (this.#running ?? this.#start()).read());
  }

  /**
   * Goes on after a mismatch: from the state of the log, where what goes on of tasks and what can be undone is not lost with
   * that. Places that differ all the same are passed over until they are equal again.
   */
  goOn(state: LoggedState): void {
    const { stores } = this.#application;
    const hasMore = stores.some(({ tasks, history }) => tasks.length > 0 || history !== undefined);
    if (!hasMore && this.participant.has === undefined) this.#adopt(state);
    this.#passOver(state);
  }

  /** Begins a session from a state of the log, which the schema may not allow. */
  beginFrom(began: number, state: LoggedState): void {
    this.begin(began, state);
    this.#passOver(state);
  }

  /** Takes on a state of the log, as far as the schema allows it. What the log does not say stays as it is. */
  #adopt(state: LoggedState): void {
    const own = this.shown;
    const wanted = merged(own, withTypesOf(own, state));
    this.#resume(wanted);
    if (differingPlaces(wanted, this.shown, 1).length > 0) this.#resume(own);
  }

  #resume(state: LoggedState): void {
    const { time } = this.#world.outside;
    this.begin(this.#began, state);
    this.#world.outside.time = time;
  }

  /** What differs from a state of the log is known. */
  #passOver(state: LoggedState): void {
    this.#states.passOver(state, this.shown);
    this.#logged = state;
  }

  #noteRuns({ lines }: LineGroup): void {
    for (const { line } of lines)
      if (line.run !== undefined && line.kind === 'start') this.#runs.add(line.run);
  }

  #ask(running: Running, { line }: PlacedLine): Outcome | undefined {
    const { kind = 'action', do: name } = line;
    const [store = '', what = ''] = name.split('.');
    const payload = this.#inOwnIds(name, line.payload);
    switch (kind) {
      case 'start':
        return running.start?.(store, what, payload);
      case 'cancel':
        return running.cancel?.(store, what, payload);
      case 'undo':
      case 'redo':
        return running.send(store, kind, undefined);
      case 'attach':
        this.#world.beginWith(store, this.#attaching?.[store]);
        return running.attach?.(store);
      case 'close':
        running.close?.();
        return { status: 'done' };
      case 'action':
      case 'each':
      case 'finish':
      case 'fail':
      case 'retry':
      case 'saved':
        return running.send(store, what, payload);
    }
  }

  /** What watchers send is sent while they are told; what is left of it, afterwards. */
  #sendRest(running: Running): void {
    for (const { line } of this.#waiting.splice(0))
      this.#sent.push({ line, outcome: this.#ask(running, line) });
  }

  /** Where several turns follow from one call, the state after each is seen, and what watchers send is sent in between. */
  #watchStates(running: Running): void {
    if (this.#watchesStates) return;
    this.#watchesStates = true;
    running.watch?.('*', (now) => {
      this.#seen.push(now as LoggedState);
      this.#sendWaiting();
    });
  }

  /** Where a turn changes nothing in the state, those who watch what goes on of tasks are told. */
  #watchTasks(running: Running): void {
    if (this.#watchesTasks) return;
    this.#watchesTasks = true;
    for (const store of this.#application.stores)
      for (const { name } of store.tasks)
        for (const reading of ['running', 'runs', 'waiting']) {
          try {
            running.watch?.(`${store.name}.${name}.${reading}`, () => {
              this.#sendWaiting();
            });
          } catch {
            // A store that is not attached cannot be watched.
          }
        }
  }

  /** What the watchers of the turn have sent that is told now. */
  #sendWaiting(): void {
    const running = this.#running;
    const [next] = this.#waiting;
    if (running === undefined || next === undefined) return;
    const shown = this.#fields.partOf(running.read(), next.after ?? {});
    if (next.after !== undefined && !same(shown, next.after)) return;
    const isNow = this.#waiting.filter(({ line }) => line.line.cause === next.line.line.cause);
    this.#waiting = this.#waiting.filter((one) => !isNow.includes(one));
    for (const { line } of isNow) this.#sent.push({ line, outcome: this.#ask(running, line) });
  }

  /** Answers a call, or lets timers go off until one has done something. Gives what is missing. */
  async #answer(line: LogLine, running: Running): Promise<string | undefined> {
    const world = this.#world;
    if (line.by === 'timer') return this.#passTo(line, running);
    const call = await this.#callFor(line);
    if (typeof call === 'string') return call;
    const answer = answerIn(line);
    const value = this.#ids.inOwn(answer.value) as Json;
    const isValue = line.kind === 'each' || line.answer?.value !== undefined;
    if (isValue) world.outside.value(call, value);
    else world.outside.answer(call, { ...answer, value });
    await nextTurn();
    return undefined;
  }

  /** The call that a line answers, which a timer may have to make; or what is missing. */
  async #callFor(line: LogLine): Promise<number | string> {
    const world = this.#world;
    if (line.call !== undefined) {
      const call = world.callOf(line.call);
      while (world.outside.count < call && world.passNext(line.at)) await nextTurn();
      return world.outside.count < call ? `call ${line.call} was not made` : call;
    }
    const until = line.at ?? world.outside.time;
    const logged = askedIn(line, this.#application);
    const asked = { ...logged, with: this.#ids.inOwn(logged.with) };
    for (;;) {
      const open = world.openCalls(asked);
      const [first] = open;
      if (first === undefined) {
        if (!world.passNext(until)) return `no call of ${asked.operation} waits for an answer`;
        await nextTurn();
      } else if (open.length > 1 && !asked.isSaid && !world.areAlike(open))
        return `${open.length} calls of ${asked.operation} wait for an answer: 'with' in the line says which`;
      else return first;
    }
  }

  async #passTo(line: LogLine, running: Running): Promise<string | undefined> {
    const { outside } = this.#world;
    const [state, tasks] = [running.read(), running.tasks?.()];
    const calls = Math.max(0, ...(line.calls ?? []).map(({ call }) => this.#world.callOf(call)));
    let hasPassed = false;
    outside.take();
    while (this.#world.passNext(line.at)) {
      hasPassed = true;
      await nextTurn();
      const isSeen = running.read() !== state || !same(running.tasks?.(), tasks);
      // A call whose time is over, and that will be made again, is given up and shows nowhere else.
      const isGivenUp = line.kind === 'retry' && outside.take().aborted.length > 0;
      if (isSeen || isGivenUp || (calls > 0 && outside.count >= calls)) return undefined;
    }
    return hasPassed ? undefined : 'no timer was set that goes off then';
  }

  /** With the outcomes of what watchers have sent, which are known later. */
  async #compareLate(group: LineGroup, outcome: Outcome | undefined): Promise<Followed> {
    for (const { line, outcome: sent } of this.#sent) {
      const final = await finalOf(sent);
      const differs = outcomeMismatch(this.name, line, final);
      if (differs !== undefined) return { mismatch: differs };
    }
    return this.#compare(group, outcome);
  }

  #compare(group: LineGroup, outcome: Outcome | undefined): Followed {
    const { lines } = group;
    const [first] = lines as [PlacedLine, ...PlacedLine[]];
    const last = lines.at(-1) as PlacedLine;
    const mismatch = outcomeMismatch(this.name, first, outcome);
    const running = this.#running as Running;
    const after = this.#inLoggedIds(running.read(), last.state);
    const states = { before: this.#shown, after };
    const before = this.#logged;
    this.#shown = after;
    this.#logged = last.state;
    if (mismatch !== undefined) return { mismatch };
    if (last.state === undefined) return fine;
    if (this.#states.hasKnown)
      return this.#states.areAsKnown(last.state, after) ? fine : this.#differs(last, after);
    if (this.#fields.areEqual(states, { before, after: last.state })) return fine;
    if (this.#states.isExcused(last.state, after, this.#world.undrawn)) return fine;
    const [line, shown] = this.#whereFirst(lines) ?? [last, after];
    return this.#differs(line, shown);
  }

  #differs(line: PlacedLine, shown: LoggedState): Followed {
    return { mismatch: this.#states.mismatch(this.name, line, shown) };
  }

  /** The first line of several whose state is another, if the watcher was told of each. */
  #whereFirst(
    lines: readonly PlacedLine[],
  ): readonly [line: PlacedLine, shown: LoggedState] | undefined {
    const changing = lines.filter(({ line }) => line.changes !== undefined);
    if (changing.length !== this.#seen.length) return undefined;
    for (const [i, line] of changing.entries()) {
      const shown = this.#inLoggedIds(this.#seen[i] as LoggedState, line.state);
      if (!this.#states.areSame(line.state, shown)) return [line, shown];
    }
    return undefined;
  }

  /** What a participant did that did nothing of what the log says. */
  failed({ lines }: LineGroup, shown: Readonly<Record<string, unknown>>): Followed {
    return { mismatch: failure(this.name, lines[0] as PlacedLine, shown) };
  }
}
