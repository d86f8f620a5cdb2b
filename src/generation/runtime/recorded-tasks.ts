// Tasks that tell of each transaction what it did, as plain data, and can do that again.
import type { LiveRun } from './call.js';
import type { Engine } from './engine.js';
import type { Run } from './task-plan.js';
import type { StartOutcome, TaskOptions } from './task-outcomes.js';
import { nextOf, stateOf, Tasks, type SetAside, type TaskStates } from './tasks.js';

/** Something that was done, as plain data: an action, a start, what came of a run, or a cancel. */
export interface RecordedAction {
  /** `deck.admit`, `timetable.load` for a start, `timetable.load.finish` for what came of a run. */
  readonly type: string;
  readonly payload?: unknown;
  /** The number of the run, counted from 1. */
  readonly run?: number;
  /** The result, or the error. */
  readonly given?: object;
  /** True if the run is over. */
  readonly ends?: boolean;
  /** True if it is the turn of a start that was set aside. */
  readonly isAside?: boolean;
}

export class RecordedTasks extends Tasks {
  /** Told of what is kept. */
  record: ((action: RecordedAction) => void) | undefined;
  /** What the transaction under way does. */
  doing: RecordedAction | undefined;

  constructor(engine: Engine, options: TaskOptions) {
    super(engine, options);
    engine.turns.does = (type, payload) => {
      this.#does(type, payload);
    };
  }

  #does(type: string, payload: unknown): void {
    this.doing = payload === undefined ? { type } : { type, payload };
  }

  override begin(action = '', payload?: unknown): void {
    super.begin();
    if (action === '') this.doing = undefined;
    else this.#does(action, payload);
  }

  protected override kept(): void {
    if (this.doing !== undefined) this.record?.(this.doing);
  }

  override perform(name: string, moment: string, run: Run, more?: object): void {
    if (moment !== 'cancel')
      this.doing = { type: `${name}.${moment}`, run: run.number, ...(more && { given: more }) };
    super.perform(name, moment, run, more);
  }

  protected override abandonOf(name: string, ...per: readonly unknown[]): void {
    const type = `${name}.cancel`;
    this.doing = per.length === 0 ? { type } : { type, payload: per[0] };
    super.abandonOf(name, ...per);
  }

  protected override startWith(name: string, payload: unknown, from?: SetAside): StartOutcome {
    const before = this.numbers;
    const outcome = super.startWith(name, payload, from);
    this.doing =
      this.numbers === before
        ? { type: name, payload }
        : { type: name, payload, run: this.numbers, ...(from && { isAside: true }) };
    return outcome;
  }

  protected override forget(name: string, aside: SetAside): void {
    this.doing = { type: `${name}.drop` };
    super.forget(name, aside);
  }

  protected override remove(live: Pick<LiveRun, 'name' | 'number'>): void {
    const { name, number: run } = live;
    this.doing = { ...(this.doing ?? { type: `${name}.end`, run }), ends: true };
    super.remove(live);
  }

  override restart(name: string, run: Run): void {
    super.restart(name, run);
    this.doing = { type: `${name}.start`, run: run.number };
  }

  /** What is kept when something is done again: what goes on after it. `act` does an action. */
  replay(from: TaskStates, action: RecordedAction, act: () => void): TaskStates {
    this.states = from;
    this.transact(() => {
      this.#doAgain(action, act);
    });
    return (this.states = this.pending);
  }

  #doAgain(
    { type, payload, run: number = 1, given, ends, isAside }: RecordedAction,
    act: () => void,
  ): void {
    const [store = '', task = '', what] = type.split('.');
    const name = `${store}.${task}`;
    if (!Object.hasOwn(this.plans, name)) {
      act();
      return;
    }
    const { runs, waiting } = stateOf(this.pending, name);
    const run = runs.find((one) => one.number === number);
    const aside = nextOf(runs, waiting);
    if (what === undefined) {
      this.numbers = number - 1;
      if (isAside !== true) this.startWith(name, payload);
      else if (aside !== undefined) this.startWith(name, aside.payload, aside);
    } else if (what === 'cancel') this.abandonOf(name, ...(payload === undefined ? [] : [payload]));
    else if (what === 'drop') {
      if (aside !== undefined) this.forget(name, aside);
    } else if (run !== undefined) {
      if (what === 'start') this.restart(name, run);
      else if (what !== 'end') this.perform(name, what, run, given);
      if (ends === true) this.remove({ name, number });
    }
  }
}
