import { nextTurn } from '../../src/base/turn.js';
import type { Json } from '../../src/base/json.js';
import type { Environment, Outcome, Running } from '../../src/model/participant.js';
import { callablesOf, Outside, type Answer } from '../../src/comparing/playing/outside.js';
import type { Application } from '../../src/model/application.js';
import type { Started } from '../participants.js';

/** A participant in a world whose calls are answered, and whose time passes, when a test says so. */
export class TideWorld {
  readonly outside: Outside;
  running: Running;
  reports: Started['reports'] = [];
  /** All calls, by number: what was called with what. */
  readonly calls: string[] = [];
  readonly aborted: number[] = [];
  readonly stopped: number[] = [];

  private constructor(application: Application) {
    this.outside = new Outside(callablesOf(application));
    this.running = undefined as never;
  }

  static async begin(
    application: Application,
    start: (change: Partial<Environment>) => Started | Promise<Started>,
    change: Partial<Environment> = {},
  ): Promise<TideWorld> {
    const world = new TideWorld(application);
    const { services, timers } = world.outside;
    const started = await start({
      services,
      timers,
      now: () => world.outside.time,
      ...change,
    });
    world.running = started.running;
    world.reports = started.reports;
    await world.rest();
    return world;
  }

  /** Waits until nothing moves any more. */
  async rest(): Promise<void> {
    await nextTurn();
    const { calls, aborted, stopped } = this.outside.take();
    this.calls.push(...calls.map((call) => `${call.operation} ${JSON.stringify(call.with)}`));
    this.aborted.push(...aborted);
    this.stopped.push(...stopped);
  }

  start(task: string, payload?: Json): Outcome {
    const [store = '', name = ''] = task.split('.');
    return this.running.start?.(store, name, payload) as Outcome;
  }

  cancel(task: string, per?: Json): Outcome {
    const [store = '', name = ''] = task.split('.');
    return this.running.cancel?.(store, name, per) as Outcome;
  }

  send(action: string, payload?: Json): Outcome {
    const [store = '', name = ''] = action.split('.');
    return this.running.send(store, name, payload) as Outcome;
  }

  async answer(call: number, value?: Json, kind: Answer['kind'] = 'result'): Promise<void> {
    this.outside.answer(call, { kind, value } as Answer);
    await this.rest();
  }

  async fail(call: number, value: Json = { message: 'fog' }): Promise<void> {
    await this.answer(call, value, 'error');
  }

  async value(call: number, value: Json): Promise<void> {
    this.outside.value(call, value);
    await this.rest();
  }

  async pass(ms: number): Promise<void> {
    await this.outside.pass(ms, () => this.rest());
    await this.rest();
  }

  state(store: string): Readonly<Record<string, unknown>> {
    return this.running.read()[store] as Readonly<Record<string, unknown>>;
  }

  /** What goes on of a task. */
  of(task: string) {
    const [store = '', name = ''] = task.split('.');
    return this.running.tasks?.()[store]?.[name];
  }
}
