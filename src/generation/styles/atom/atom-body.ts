import type { Store } from '../../../model/application.js';
import { resolve } from '../../../model/types.js';
import type { Expr } from '../../../model/expressions.js';
import { exprsOf, pathsOf } from '../../../model/step-kinds.js';
import type { Step } from '../../../model/steps.js';
import type { TaskReading } from '../../../model/task-readings.js';
import {
  arrow,
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
import { namesUsed } from '../../build/print.js';
import { pascal } from '../../build/reserved.js';
import { ActionBody, type WrittenDeed } from '../../shared/action-body.js';
import { historyCall } from '../../shared/histories.js';
import type { Output } from '../../shared/output.js';
import type { Drawn } from '../../shared/print-expression.js';
import { fullNames } from '../../shared/task-deeds.js';
import { isValueStep, ValueSteps } from '../../shared/value-steps.js';
import type { Nodes } from './nodes.js';

/** Writes an action as statements that set and update atoms. */
export class AtomBody extends ActionBody {
  /** The fields whose update is being written, and the names of what it is given. */
  #updated: ReadonlySet<string> = new Set();
  readonly #olds = new Map<string, Name>();

  constructor(
    output: Output,
    store: Store,
    deed: WrittenDeed,
    module: Module,
    readonly nodes: Nodes,
    /** The names that reactions read of what it binds. */
    readonly forReactions: readonly string[] = [],
  ) {
    super(output, store, deed, module, forReactions);
  }

  field(store: string, name: string): Code {
    if (store === this.store.name && this.#updated.has(name)) return this.#old(name);
    return code`${this.nodes.node(store, name)}.get()`;
  }

  /** The value of a field as the function that updates it is given it. */
  #old(field: string): Code {
    const old = this.#olds.get(field) ?? new Name(this.#oldName(field));
    this.#olds.set(field, old);
    return named(old);
  }

  override once(value: Expr, wanted: string, lines: Code[]): Code {
    const updated = this.#updated;
    this.#updated = new Set();
    const own = super.once(value, wanted, lines);
    this.#updated = updated;
    return own;
  }

  derived(store: string, name: string, args?: Code): Code {
    const node = this.nodes.node(store, name);
    return args === undefined ? code`${node}.get()` : code`${node}(${args}).get()`;
  }

  /** Fields are set and updated by functions of what a step reads. */
  protected override exprsInFunctions(step: Step): readonly Expr[] {
    return isValueStep(step) ? exprsOf(step) : [];
  }

  task(store: string, name: string, reading: TaskReading): Code {
    return code`${this.nodes.node(store, name)}${property(reading)}.get()`;
  }

  protected override delay(ms: Expr): Code {
    return code`${this.nodes.around('tasks')}.delay(${this.print(ms)});`;
  }

  draw(name: Drawn): Code {
    this.output.draws(name);
    return code`${this.nodes.around(name)}()`;
  }

  protected override heldName(store: string, name: string): string {
    return `${store === this.store.name ? name : `${store}${pascal(name)}`}Now`;
  }

  steps(steps: readonly Step[]): Code {
    return this.eachStep(steps, (step) => this.#step(step));
  }

  #step(step: Step): Code {
    if (step.kind === 'let') return this.bindings(step.bindings);
    if (step.kind === 'when') return this.ifElse(step, (steps) => this.steps(steps));
    if (step.kind === 'resetStores')
      return code`${this.nodes.around('graph')}.reset(${joined(step.stores.map(data), ', ')});`;
    if (step.kind === 'run') {
      const payload = step.payload === undefined ? nothing : this.print(step.payload);
      return code`${this.nodes.around('graph')}.run(${joined([data(`${step.store}.${step.action}`), payload], ', ')});`;
    }
    if (step.kind === 'start') {
      const payload = step.payload === undefined ? nothing : this.print(step.payload);
      return code`${this.nodes.around('tasks')}.start(${joined([data(`${step.store}.${step.task}`), payload], ', ')});`;
    }
    if (step.kind === 'cancel') {
      const per = step.per === undefined ? nothing : this.print(step.per);
      return code`${this.nodes.around('tasks')}.cancel(${joined([data(fullNames(step.tasks)), per], ', ')});`;
    }
    if (step.kind === 'history') {
      const { tool, argument } = historyCall(step);
      return code`${this.nodes.around('histories')}${property(tool)}(${argument});`;
    }
    if (step.kind === 'reset')
      return joined(
        step.fields.map((field) => code`${this.nodes.node(this.store.name, field)}.reset();`),
        '\n',
      );
    return isValueStep(step) ? this.#change(step) : nothing;
  }

  #change(step: Parameters<ValueSteps['changes']>[0]): Code {
    const paths = pathsOf(step);
    // What a step reads of the one field that it changes stands in the function that updates it.
    this.#updated = new Set(paths.length === 1 ? paths.map(({ field }) => field) : []);
    const values = new ValueSteps(this, (field) => this.#old(field), { isSequential: true });
    const { before, fields } = values.changes(step);
    const lines = fields.map(({ field, value }) => {
      const atom = this.nodes.node(this.store.name, field);
      const next = value();
      const old = this.#olds.get(field);
      this.#olds.delete(field);
      return old !== undefined && namesUsed(next).has(old)
        ? code`${atom}.update(${arrow([old], next)});`
        : code`${atom}.set(${next});`;
    });
    this.#updated = new Set();
    return joined([...before, ...lines], '\n');
  }

  #oldName(field: string): string {
    const type = this.store.fields.find(({ name }) => name === field)?.type;
    const kind = type === undefined ? undefined : resolve(type, this.application.types).kind;
    return kind === 'list' || kind === 'map' ? kind : 'old';
  }

  /** What the reactions read of what the action binds. */
  protected override atEnd(): Code {
    if (this.forReactions.length === 0) return nothing;
    const entries = this.forReactions.map((name) => entry(name, this.locals.get(name) ?? nothing));
    return code`return ${object(entries)};`;
  }
}
