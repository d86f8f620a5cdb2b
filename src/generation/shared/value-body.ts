import type { Store } from '../../model/application.js';
import { effectsOf, readByDerived, readsOf } from '../../model/footprint.js';
import { exprsOf } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';
import {
  code,
  entry,
  isNothing,
  joined,
  late,
  named,
  nothing,
  object,
  property,
  scoped,
  type Code,
  type Name,
} from '../build/code.js';
import type { Module } from '../build/module.js';
import { ActionBody, type Branch, type WrittenDeed } from './action-body.js';
import { historyCall } from './histories.js';
import { within } from './lazy-stores.js';
import type { Output } from './output.js';
import { isSimple } from './expression-facts.js';
import { printTest } from './print-expression.js';
import { fullNames } from './task-deeds.js';
import { isValueStep, ValueSteps } from './value-steps.js';

/** True if steps reach beyond the own store: then they are written on the state of all stores. */
export function reachesAll(steps: readonly Step[]): boolean {
  return steps.some(
    (step) =>
      step.kind === 'run' ||
      step.kind === 'resetStores' ||
      step.kind === 'cancel' ||
      (step.kind === 'when' && (reachesAll(step.then) || reachesAll(step.else))),
  );
}

/** A field, and what is stored in it. */
interface Stored {
  readonly field: string;
  readonly value: Code;
  readonly isReset: boolean;
}

/** Statements, and the state that they end with. */
interface Written {
  readonly lines: readonly Code[];
  readonly value: Code;
}

/** Writes an action as a function from the state, of its store or of all stores, to the next state. */
export abstract class ValueBody extends ActionBody {
  /** True if the state is that of all stores. */
  readonly isOverAll: boolean;
  /** What holds the state that the next step begins with. */
  protected current: Name;
  /** The next state, if that is all that is written. */
  onlyValue: Code | undefined;
  /** What the steps since then have made of it. */
  #pending: readonly Stored[] | Code = [];
  #next: Variable | undefined;
  readonly #values: ValueSteps;

  constructor(
    output: Output,
    store: Store,
    deed: WrittenDeed,
    module: Module,
    /** The parameter that holds the state at the start. */
    readonly base: Name,
    initial: () => Name,
    alsoRead: readonly string[] = [],
  ) {
    super(output, store, deed, module, alsoRead);
    this.isOverAll = reachesAll(deed.steps);
    this.current = base;
    this.#values = new ValueSteps(this, (field) => this.field(store.name, field), {
      initial,
    });
  }

  /** A field of another store. */
  protected abstract other(store: string, field: string): Code;
  /** Runs another action on the state of all stores. */
  protected abstract run(state: Name, action: string, payload: Code | undefined): Code;
  protected abstract resetStores(state: Name, stores: readonly string[]): Code;
  /** Asks for a start after the transaction. */
  protected abstract start(task: string, payload: Code | undefined): Code;
  /** Asks for an undo or a redo, or empties a history. */
  protected abstract historyTool(tool: string, argument: Code): Code;
  /** Abandons runs, with what belongs to it, on the state of all stores. */
  protected abstract cancel(state: Name, tasks: readonly string[], per: Code | undefined): Code;

  field(store: string, name: string): Code {
    const isSingle = this.application.stores.some((one) => one.name === store && one.single);
    const field = isSingle ? nothing : property(name);
    if (this.isOverAll) {
      const whole = code`${this.current}${property(store)}`;
      return isSingle ? whole : code`${whole}${this.member(store, name)}`;
    }
    return store === this.store.name ? code`${this.current}${field}` : this.other(store, name);
  }

  /** True if a derived value reads fields of the own store. */
  protected readsOwn(store: string, name: string): boolean {
    const { fields } = readByDerived(store, name, this.application);
    return [...fields].some((field) => field.startsWith(`${this.store.name}.`));
  }

  /** True if no step has changed the state yet, as far as is written. */
  protected get isAtStart(): boolean {
    return this.current === this.base;
  }

  steps(steps: readonly Step[], isEnd: boolean): Code {
    if (isEnd) {
      const { lines, value } = this.#end(steps);
      const { requires, let: bindings, delay } = this.deed;
      const isAlone =
        requires.length + bindings.length === 0 && delay === undefined && lines.every(isNothing);
      this.onlyValue = isAlone ? value : undefined;
      return joined([...lines, code`return ${value};`], '\n');
    }
    const lines = this.#lines(steps);
    return joined([...lines, this.#flush()], '\n');
  }

  /** Steps after which nothing follows. */
  #end(steps: readonly Step[]): Written {
    const last = steps.at(-1);
    if (last?.kind !== 'when') {
      const lines = this.#lines(steps);
      return { lines, value: this.#whole() };
    }
    const lines = this.#lines(steps.slice(0, -1));
    lines.push(this.#flush(), this.before(last));
    const test = printTest(last.test, this.reading);
    const [then, otherwise] = this.branches(
      () => this.#inBranch(() => this.#end(last.then)),
      () => this.#inBranch(() => this.#end(last.else)),
    );
    if (then === undefined || otherwise === undefined) return { lines, value: this.#whole() };
    if (last.else.length === 0 && then.written.lines.every(isNothing))
      return {
        lines,
        value: code`${test} ? ${then.written.value} : ${this.current}`,
      };
    lines.push(code`if (${test}) ${this.#returned(then)}`);
    // What follows an early return stands in the same block as what was before it.
    this.declared.push(...otherwise.own);
    return { lines: [...lines, ...otherwise.written.lines], value: otherwise.written.value };
  }

  #returned({ written, own }: Branch<Written>): Code {
    const { lines, value } = written;
    const end = code`return ${value};`;
    return lines.every(isNothing) ? end : code`{\n${scoped(own, joined([...lines, end], '\n'))}\n}`;
  }

  #lines(steps: readonly Step[]): Code[] {
    return steps.flatMap((step) => {
      const lines: Code[] = [];
      if (this.#mustFlush(step)) lines.push(this.#flush());
      if (step.kind === 'let') return [...lines, this.bindings(step.bindings)];
      const before = this.before(step);
      if (!isNothing(before)) lines.push(this.#flush(), before);
      if (step.kind === 'when') lines.push(this.#when(step));
      else if (step.kind === 'run') {
        const payload = step.payload === undefined ? undefined : this.print(step.payload);
        this.#pending = this.run(this.current, `${step.store}.${step.action}`, payload);
      } else if (step.kind === 'resetStores')
        this.#pending = this.resetStores(this.current, step.stores);
      else if (step.kind === 'cancel') {
        const per = step.per === undefined ? undefined : this.print(step.per);
        this.#pending = this.cancel(this.current, fullNames(step.tasks), per);
      } else if (step.kind === 'start') {
        const payload = step.payload === undefined ? undefined : this.print(step.payload);
        lines.push(code`${this.start(`${step.store}.${step.task}`, payload)};`);
      } else if (step.kind === 'history') {
        const { tool, argument } = historyCall(step);
        lines.push(code`${this.historyTool(tool, argument)};`);
      } else if (isValueStep(step)) lines.push(...this.#change(step));
      this.after(step);
      return lines;
    });
  }

  #change(step: Parameters<ValueSteps['changes']>[0]): Code[] {
    let { before, fields } = this.#values.changes(step);
    const lines: Code[] = [];
    if (before.length > 0 && this.#isPending) {
      lines.push(this.#flush());
      ({ before, fields } = this.#values.changes(step));
    }
    lines.push(...before);
    for (const { field, value, isReset = false } of fields) {
      if ((this.#pending as readonly Stored[]).some((other) => other.field === field))
        lines.push(this.#flush());
      this.#pending = [...(this.#pending as readonly Stored[]), { field, value: value(), isReset }];
    }
    return lines;
  }

  get #isPending(): boolean {
    return !Array.isArray(this.#pending) || this.#pending.length > 0;
  }

  /** Whether what a step reads, or makes something of, has been changed since the state was last kept. */
  #mustFlush(step: Step): boolean {
    if (!this.#isPending) return false;
    if (step.kind === 'history') return false;
    // A mere name is the same before and after.
    if (step.kind === 'start' && (step.payload === undefined || isSimple(step.payload)))
      return false;
    if (!Array.isArray(this.#pending) || !(isValueStep(step) || step.kind === 'let')) return true;
    const own = this.store.name;
    const { fields } = readsOf(exprsOf(step), this.application);
    const { changesInPart } = effectsOf([step], own, this.application);
    const pending = this.#pending as readonly Stored[];
    return pending.some(({ field }) =>
      [fields, changesInPart].some((names) => names.has(`${own}.${field}`)),
    );
  }

  #when(step: Step & { kind: 'when' }): Code {
    const start = this.#begin();
    const branched = this.ifElse(step, (steps) => this.#inBranch(() => this.steps(steps, false)));
    return code`${start}${branched}`;
  }

  /** Writes a branch, which begins with the present state. */
  #inBranch<T>(write: () => T): T {
    const [current, next] = [this.current, this.#next];
    const written = write();
    this.current = current;
    this.#next = next;
    this.#pending = [];
    return written;
  }

  /** The state in a variable that branches can assign to. */
  #begin(): Code {
    if (this.#next !== undefined) return nothing;
    this.#pending = named(this.current);
    return code`${this.#flush()}\n`;
  }

  /** The state as it is after all that was written. */
  #whole(): Code {
    const pending = this.#pending;
    if (!Array.isArray(pending)) return pending as Code;
    const changes = pending as readonly Stored[];
    const [only] = changes;
    if (only === undefined) return named(this.current);
    const own = property(this.store.name);
    const isAllReset =
      !this.store.single &&
      changes.length === this.store.fields.length &&
      changes.every(({ isReset }) => isReset);
    if (isAllReset) {
      const initial = named(this.#values.initial());
      return this.isOverAll
        ? object([code`...${this.current}`, entry(this.store.name, initial)])
        : initial;
    }
    const fields = changes.map(({ field, value }) => entry(field, value));
    if (!this.isOverAll)
      return this.store.single ? only.value : object([code`...${this.current}`, ...fields]);
    const slice = this.store.single
      ? only.value
      : object([code`...${this.current}${own}`, ...fields]);
    return object([code`...${this.current}`, entry(this.store.name, slice)]);
  }

  /** Keeps the state as it is by now in a variable. */
  #flush(): Code {
    if (!this.#isPending) return nothing;
    const value = this.#whole();
    this.#pending = [];
    if (this.#next !== undefined) {
      const { name } = this.#next;
      this.#next.isAssigned = true;
      this.current = name;
      return code`${name} = ${value};`;
    }
    const next = this.declare('next');
    const variable: Variable = { name: next, isAssigned: false };
    this.#next = variable;
    this.current = next;
    const { types } = this.output;
    const type = this.isOverAll
      ? within(this.store, types.app(this.module), this.module)
      : types.state(this.store, this.module);
    const word = late(() => (variable.isAssigned ? code`let` : code`const`));
    return code`${word} ${next}: ${type} = ${value};`;
  }
}

/** The variable that holds the state. */
interface Variable {
  readonly name: Name;
  /** True if it is assigned to once it is declared. */
  isAssigned: boolean;
}
