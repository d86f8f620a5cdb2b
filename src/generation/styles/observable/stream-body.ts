import type { Store } from '../../../model/application.js';
import type { Expr } from '../../../model/expressions.js';
import type { TaskReading } from '../../../model/task-readings.js';
import {
  code,
  data,
  entry,
  joined,
  Name,
  named,
  nothing,
  object,
  property,
  type Code,
} from '../../build/code.js';
import type { Module } from '../../build/module.js';
import type { WrittenDeed } from '../../shared/action-body.js';
import type { Output } from '../../shared/output.js';
import type { Drawn } from '../../shared/print-expression.js';
import { reachesAll, ValueBody } from '../../shared/value-body.js';

/** Writes an action as a change: a function from state to state. */
export class StreamBody extends ValueBody {
  constructor(
    output: Output,
    store: Store,
    deed: WrittenDeed,
    module: Module,
    initial: () => Name,
    /** Something of what the store is made with: `latest`, `newId`. */
    readonly around: (name: string) => Name,
    readonly forReactions: readonly string[] = [],
  ) {
    const base = new Name(reachesAll(deed.steps) ? 'app' : store.name);
    super(output, store, deed, module, base, initial, forReactions);
  }

  protected override afterBindings(): Code {
    if (this.forReactions.length === 0) return nothing;
    const given = this.forReactions.map((name) => entry(name, this.locals.get(name) ?? nothing));
    return code`${this.around('streams')}.bind(${object(given)});`;
  }

  protected override other(store: string, field: string): Code {
    return code`${this.around('latest')}${property(store)}${this.member(store, field)}`;
  }

  derived(store: string, name: string, args?: Code): Code {
    const isNow = this.isAtStart || (!this.isOverAll && !this.readsOwn(store, name));
    const states = this.isOverAll
      ? named(this.current)
      : object([entry(this.store.name, named(this.current))]);
    const latest = isNow ? named(this.around('latest')) : code`${this.around('after')}(${states})`;
    const call = args === undefined ? nothing : code`(${args})`;
    return code`${latest}${property(store)}${this.member(store, name)}${call}`;
  }

  task(store: string, name: string, reading: TaskReading): Code {
    return code`${this.around('latest')}${property(store)}${this.member(store, name)}${property(reading)}`;
  }

  protected override delay(ms: Expr): Code {
    return code`${this.around('tasks')}.delay(${this.print(ms)});`;
  }

  protected start(task: string, payload: Code | undefined): Code {
    return code`${this.around('tasks')}.start(${joined([data(task), payload ?? nothing], ', ')})`;
  }

  protected historyTool(tool: string, argument: Code): Code {
    return code`${this.around('histories')}${property(tool)}(${argument})`;
  }

  protected cancel(state: Name, tasks: readonly string[], per: Code | undefined): Code {
    const args = joined([named(state), data(tasks), per ?? nothing], ', ');
    return code`${this.around('tasks')}.cancel(${args})`;
  }

  draw(name: Drawn): Code {
    this.output.draws(name);
    return code`${this.around(name)}()`;
  }

  protected run(state: Name, action: string, payload: Code | undefined): Code {
    const args = joined([named(state), data(action), payload ?? nothing], ', ');
    return code`${this.around('streams')}.run(${args})`;
  }

  protected resetStores(state: Name, stores: readonly string[]): Code {
    return code`${this.around('streams')}.resetStores(${state}, ${data(stores)})`;
  }
}
