import type { Store } from '../../../model/application.js';
import type { Expr } from '../../../model/expressions.js';
import type { Step } from '../../../model/steps.js';
import type { TaskReading } from '../../../model/task-readings.js';
import { hasLists, isStructured, type Type } from '../../../model/types.js';
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
import { ActionBody, type WrittenDeed } from '../../shared/action-body.js';
import { historyCall } from '../../shared/histories.js';
import type { Output } from '../../shared/output.js';
import type { Drawn } from '../../shared/print-expression.js';
import { fullNames } from '../../shared/task-deeds.js';
import { isValueStep } from '../../shared/value-steps.js';
import { EditSteps } from './edit-steps.js';

/** Writes an action as statements that change working copies of the stores. */
export class ProxyBody extends ActionBody {
  /** The stores that are used, and what of the surroundings. */
  readonly stores = new Map<string, Name>();
  readonly around = new Map<string, Name>();
  readonly #edits = new EditSteps(this);

  constructor(
    output: Output,
    store: Store,
    deed: WrittenDeed,
    module: Module,
    /** The names that reactions read of what it binds. */
    readonly forReactions: readonly string[] = [],
  ) {
    super(output, store, deed, module, forReactions);
    if (this.reads('payload')) this.locals.set('payload', named(this.use('payload')));
  }

  use(name: string): Name {
    const known = this.around.get(name) ?? new Name(name);
    this.around.set(name, known);
    return known;
  }

  field(store: string, name: string): Code {
    const known = this.stores.get(store) ?? new Name(store);
    this.stores.set(store, known);
    return code`${known}${this.member(store, name)}`;
  }

  derived(store: string, name: string, args?: Code): Code {
    const value = this.field(store, name);
    return args === undefined ? value : code`${value}(${args})`;
  }

  task(store: string, name: string, reading: TaskReading): Code {
    return code`${this.field(store, name)}${property(reading)}`;
  }

  protected override delay(ms: Expr): Code {
    return code`${this.use('delay')}(${this.print(ms)});`;
  }

  draw(name: Drawn): Code {
    this.output.draws(name);
    return code`${this.use(name)}()`;
  }

  /** A value that stays as it is while what it was read from changes. */
  protected override kept(value: Code, { type }: Expr): Code {
    if (!isStructured(type, this.application.types)) return value;
    return code`${this.module.value('runtime/working-copies', 'valueOf')}(${value})`;
  }

  /** A value to be stored: lists in it may be read-only to the compiler. */
  writable(value: Code, type: Type, expr: Expr): Code {
    const isFresh = expr.kind === 'list' && expr.items.length === 0;
    if (isFresh || !hasLists(type, this.application.types)) return value;
    return code`${this.module.value('runtime/working-copies', 'asEditable')}(${value})`;
  }

  steps(steps: readonly Step[]): Code {
    return this.eachStep(steps, (step) => this.#step(step));
  }

  #step(step: Step): Code {
    if (step.kind === 'let') return this.bindings(step.bindings);
    if (step.kind === 'when') return this.ifElse(step, (steps) => this.steps(steps));
    if (step.kind === 'resetStores')
      return code`${this.use('resetStores')}(${joined(step.stores.map(data), ', ')});`;
    if (step.kind === 'run') {
      const payload = step.payload === undefined ? nothing : this.print(step.payload);
      return code`${this.use('run')}(${joined([data(`${step.store}.${step.action}`), payload], ', ')});`;
    }
    if (step.kind === 'start') {
      const payload = step.payload === undefined ? nothing : this.print(step.payload);
      return code`${this.use('start')}(${joined([data(`${step.store}.${step.task}`), payload], ', ')});`;
    }
    if (step.kind === 'cancel') {
      const per = step.per === undefined ? nothing : this.print(step.per);
      return code`${this.use('cancel')}(${joined([data(fullNames(step.tasks)), per], ', ')});`;
    }
    if (step.kind === 'history') {
      const { tool, argument } = historyCall(step);
      return code`${this.use(tool)}(${argument});`;
    }
    return isValueStep(step) ? this.#edits.write(step) : nothing;
  }

  /** What the reactions read of what the action binds. */
  protected override atEnd(): Code {
    if (this.forReactions.length === 0) return nothing;
    const entries = this.forReactions.map((name) => entry(name, this.locals.get(name) ?? nothing));
    return code`return ${object(entries)};`;
  }
}
