import { exprOf, type Application, type Requirement, type Store } from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import {
  allSteps,
  exprsForItems,
  exprsOf,
  namesOfEach,
  reachesFar,
  writtenFields,
} from '../../model/step-kinds.js';
import type { Binding, Step } from '../../model/steps.js';
import type { TaskReading } from '../../model/task-readings.js';
import { absent, membersOf, union, type Type } from '../../model/types.js';
import { code, data, joined, Name, named, nothing, scoped, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { roughText } from '../build/print.js';
import { pascal } from '../build/reserved.js';
import {
  isSimple,
  localsIn,
  localsRead,
  narrowedIn,
  narrowedParts,
  partKey,
  referencesIn,
  needsTypeAnnotation,
} from './expression-facts.js';
import { negated } from './conditions.js';
import { memberOf } from './lazy-stores.js';
import type { Output } from './output.js';
import { printExpr, type Drawn, type Reading } from './print-expression.js';
import { sharedReading } from './reading.js';

/** What is done: by an action, or by a reaction to one. */
export interface WrittenDeed {
  readonly requires: readonly Requirement[];
  readonly let: readonly Binding[];
  readonly steps: readonly Step[];
  /** Of the start of a task: how long it waits, if that is computed. */
  readonly delay?: Expr | undefined;
}

/** Writes what an action does: what it requires, its bindings, its steps. */
export abstract class ActionBody {
  /** Names that are declared in the function. */
  declared: Name[] = [];
  /** What locals of the schema are written as. */
  readonly locals = new Map<string, Code>();
  /** Fields and derived values whose type some condition of the action narrows. */
  readonly #narrowed: ReadonlySet<string>;
  /** Constants that hold such values, and parts of values in the step that is being written. */
  #held = new Map<string, Code>();
  readonly #parts = new Map<string, Code>();
  readonly #read: ReadonlySet<string>;

  constructor(
    readonly output: Output,
    readonly store: Store,
    readonly deed: WrittenDeed,
    readonly module: Module,
    /** Bound names that something besides its own steps reads. */
    alsoRead: readonly string[] = [],
  ) {
    this.#narrowed = new Set(
      narrowedIn(exprsOfDeed(deed)).map(({ store: owner, name }) => `${owner}.${name}`),
    );
    this.#read = new Set([
      ...alsoRead,
      ...exprsOfDeed(deed).flatMap(localsRead),
      ...deed.requires.flatMap((one) => (one.kind === 'value' ? one.binding.name : [])),
    ]);
  }

  get application(): Application {
    return this.output.application;
  }

  /** How the present value of a field is read. */
  abstract field(store: string, name: string): Code;
  /** How the present value of a derived value is read; `args` if it has parameters. */
  abstract derived(store: string, name: string, args?: Code): Code;
  /** How what is known of the runs of a task is read. */
  abstract task(store: string, name: string, reading: TaskReading): Code;
  abstract draw(name: Drawn): Code;
  /** The statements of steps; `isEnd` if nothing follows them. */
  abstract steps(steps: readonly Step[], isEnd: boolean): Code;

  /** What follows the name of a store to read something of it. */
  protected member(store: string, name: string): Code {
    return memberOf(this.application, this.store, store, name);
  }

  /** Sets how long the start of a task waits. */
  protected abstract delay(ms: Expr): Code;

  /** What stands between the bindings and the steps. */
  protected afterBindings(): Code {
    return nothing;
  }

  /** What stands after the steps. */
  protected atEnd(): Code {
    return nothing;
  }

  /** What a constant is called that holds the present value of a field or derived value. */
  protected heldName(store: string, name: string): string {
    return store === this.store.name ? name : `${store}${pascal(name)}`;
  }

  /** A value that is kept while the state goes on changing. */
  protected kept(value: Code, _expr: Expr): Code {
    return value;
  }

  /** The expressions of a step that are written within functions of their own. */
  protected exprsInFunctions(step: Step): readonly Expr[] {
    return exprsForItems(step);
  }

  /** All statements, after those that are given. */
  statements(): Code {
    const { requires, let: bindings, steps } = this.deed;
    return joined(
      [
        ...requires.map((requirement) => this.#required(requirement)),
        this.bindings(bindings),
        this.deed.delay === undefined ? nothing : this.delay(this.deed.delay),
        this.afterBindings(),
        this.steps(steps, true),
        this.atEnd(),
      ],
      '\n',
    );
  }

  /** The body, in which what it declares is known. */
  body(statements = this.statements()): Code {
    return scoped(this.declared, statements);
  }

  /** True if anything reads a local of the schema, such as `payload`. */
  reads(local: string): boolean {
    return this.#read.has(local);
  }

  get reading(): Reading {
    return {
      ...sharedReading(this.output, this.module),
      locals: this.locals,
      field: (store, name) => this.field(store, name),
      derived: (store, name) => this.derived(store, name),
      asked: (store, name, args) => this.derived(store, name, args),
      task: (store, name, reading) => this.task(store, name, reading),
      draw: (name) => this.draw(name),
      held: (expr) => this.#heldBy(expr),
    };
  }

  /** The reading within a function for one item. */
  readingOf(each: string, own: Name): Reading {
    return { ...this.reading, locals: new Map([...this.locals, [each, named(own)]]) };
  }

  print(expr: Expr, reading = this.reading): Code {
    return printExpr(expr, reading);
  }

  #heldBy(expr: Expr): Code | undefined {
    if (expr.kind === 'member') return this.#parts.get(partKey(expr));
    if (expr.kind !== 'field' && expr.kind !== 'derived') return undefined;
    return this.#held.get(`${expr.store}.${expr.name}`);
  }

  /** A name of the function's own. */
  declare(wanted: string): Name {
    const name = new Name(wanted);
    this.declared.push(name);
    return name;
  }

  refusal(reason: string): Code {
    return code`${this.module.value('runtime/transaction', 'refuse')}(${data(reason)})`;
  }

  #required(requirement: Requirement): Code {
    const refused = code`${this.refusal(requirement.otherwise)};`;
    if (requirement.kind === 'condition') {
      const held = this.hold([requirement.that]);
      return code`${held}if (${this.negated(requirement.that)}) ${refused}`;
    }
    const { name, value } = requirement.binding;
    const bound = this.bindings([requirement.binding]);
    const missing = membersOf(value.type, this.application.types).filter(
      ({ kind }) => kind === 'absent' || kind === 'null',
    );
    const local = this.locals.get(name) ?? nothing;
    const tests = missing.map(
      ({ kind }) => code`${local} === ${kind === 'null' ? code`null` : code`undefined`}`,
    );
    return tests.length === 0 ? bound : code`${bound}\nif (${joined(tests, ' || ')}) ${refused}`;
  }

  /** Constants for names that the schema binds. */
  bindings(bindings: readonly Binding[]): Code {
    const lines = bindings.map(({ name, value }) => {
      const held = this.hold([value]);
      const kept = this.kept(this.print(value), value);
      // It is computed all the same: it may ask for an identifier, or throw.
      if (!this.reads(name)) return code`${held}void (${kept});`;
      const own = this.declare(name);
      this.locals.set(name, named(own));
      return code`${held}const ${own}${this.annotation(value)} = ${kept};`;
    });
    return joined(lines, '\n');
  }

  /** Computes an expression once, in a constant, unless it is a mere name: gives what stands for it. */
  once(value: Expr, wanted: string, lines: Code[]): Code {
    const printed = this.print(value);
    if (isSimple(value)) return printed;
    const own = this.declare(wanted);
    lines.push(code`const ${own}${this.annotation(value)} = ${this.kept(printed, value)};`);
    return named(own);
  }

  /** The type of a constant, to be written after its name, where the compiler would find a wider one. */
  protected annotation(value: Expr): Code {
    return needsTypeAnnotation(value)
      ? code`: ${this.output.types.type(value.type, this.module)}`
      : nothing;
  }

  /** A condition turned round. */
  negated(expr: Expr, reading = this.reading): Code {
    return negated(expr, reading);
  }

  /** Constants for the fields and derived values whose type a condition in these expressions narrows. */
  hold(exprs: readonly Expr[]): Code {
    const lines: Code[] = [];
    for (const { store, name, kind } of referencesIn(exprs)) {
      const reference = `${store}.${name}`;
      if (!this.#narrowed.has(reference) || this.#held.has(reference)) continue;
      const value = kind === 'field' ? this.field(store, name) : this.derived(store, name);
      const own = this.declare(this.heldName(store, name));
      this.#held.set(reference, named(own));
      lines.push(code`const ${own} = ${value};\n`);
    }
    return joined(lines, '');
  }

  /**
   * Constants for the parts of values whose type a condition has narrowed, where a step uses them in a function of its
   * own: the compiler does not know there what it knows around it.
   */
  protected holdParts(step: Step): Code {
    const exprs = this.exprsInFunctions(step);
    const hidden = new Set([...namesOfEach(step), ...exprs.flatMap(localsIn)]);
    const lines = narrowedParts(exprs, hidden).flatMap((part) => {
      const place = partKey(part);
      if (this.#parts.has(place) || !this.#isNarrower(part)) return [];
      const value = this.print(part);
      const own = this.declare(part.name);
      this.#parts.set(place, named(own));
      return [code`const ${own} = ${value};\n`];
    });
    return joined(lines, '');
  }

  /** True if a condition has given a property another type than it is declared with. */
  #isNarrower({ object, name, type }: Expr & { kind: 'member' }): boolean {
    const { types } = this.application;
    const declared = membersOf(object.type, types).flatMap((member) => {
      const field = member.kind === 'record' && member.fields.find((one) => one.name === name);
      if (!field) return [];
      return field.optional ? [field.type, absent] : [field.type];
    });
    const textOf = (one: Type) => roughText(this.output.types.type(one, this.module));
    return textOf(union(declared)) !== textOf(type);
  }

  /** Steps as statements, each with what it needs before it. */
  protected eachStep(steps: readonly Step[], write: (step: Step) => Code): Code {
    return joined(
      steps.map((step) => {
        const before = this.before(step);
        const statements = write(step);
        this.after(step);
        return code`${before}${statements}`;
      }),
      '\n',
    );
  }

  /** What a step needs before it: constants whose types the compiler knows. */
  protected before(step: Step): Code {
    if (step.kind === 'let') return nothing;
    return joined([this.hold(exprsOf(step)), this.holdParts(step)], '');
  }

  /** After a step, what it wrote must be read anew; derived values too. */
  protected after(step: Step): void {
    this.#parts.clear();
    if (reachesFar(step)) return void this.#held.clear();
    const written = allSteps([step]).flatMap(writtenFields);
    if (written.length === 0) return;
    for (const reference of [...this.#held.keys()]) {
      const [owner, name = ''] = reference.split('.');
      const isField = this.application.stores
        .find((other) => other.name === owner)
        ?.fields.some((field) => field.name === name);
      if (!isField || (owner === this.store.name && written.includes(name)))
        this.#held.delete(reference);
    }
  }

  /** Writes branches, with what is bound in one known in it only. */
  protected branches<T>(...writers: readonly (() => T)[]): Branch<T>[] {
    const { declared } = this;
    const [held, locals] = [this.#held, new Map(this.locals)];
    const branches = writers.map((write) => {
      this.#held = new Map(held);
      this.declared = [];
      const branch = { written: write(), own: this.declared };
      this.locals.clear();
      for (const [name, local] of locals) this.locals.set(name, local);
      return branch;
    });
    this.declared = declared;
    this.#held = held;
    return branches;
  }

  /** `if` and `else` around statements. */
  protected ifElse(
    { test, then, else: otherwise }: Step & { kind: 'when' },
    write: (steps: readonly Step[]) => Code,
  ): Code {
    const condition = this.print(test);
    const branches = this.branches(
      () => write(then),
      () => write(otherwise),
    );
    // Braces around single statements say nothing.
    const isShort = branches
      .slice(0, otherwise.length === 0 ? 1 : 2)
      .every(({ written }) => isOneStatement(written));
    const [first = nothing, second = nothing] = branches.map(({ written, own }) =>
      isShort ? written : code`{\n${scoped(own, written)}\n}`,
    );
    const tail =
      otherwise.length === 0 ? nothing : code`${isShort ? code`\n` : code` `}else ${second}`;
    return code`if (${condition}) ${first}${tail}`;
  }
}

/** True if code is one statement, and no declaration or branch. */
function isOneStatement(written: Code): boolean {
  const text = roughText(written).trim();
  return text !== '' && !text.includes('\n') && !/^(?:const|let|if|for)\b/.test(text);
}

/** What was written in a branch, and what it declares. */
export interface Branch<T> {
  readonly written: T;
  readonly own: readonly Name[];
}

function exprsOfDeed({ requires, let: bindings, steps, delay }: WrittenDeed): readonly Expr[] {
  return [
    ...requires.map(exprOf),
    ...bindings.map(({ value }) => value),
    ...(delay === undefined ? [] : [delay]),
    ...allSteps(steps).flatMap(exprsOf),
  ];
}
