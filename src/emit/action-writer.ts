import {
  exprOf,
  storeNamed,
  type Action,
  type Application,
  type Requirement,
  type Store,
} from '../model/application.js';
import { fits } from '../model/fit.js';
import type { Expr, NamedReference } from '../model/expressions.js';
import {
  allSteps,
  exprsForItems,
  exprsOf,
  reachesFar,
  writtenFields,
  type Binding,
  type Path,
  type Step,
} from '../model/steps.js';
import { membersOf, type Type, type TypeTable } from '../model/types.js';
import { arrowValue, code, data, id, joined, type Code } from './code.js';
import {
  draws,
  isSimple,
  localsRead,
  narrowedIn,
  narrowedParts,
  partKey,
  readsFields,
  referencesIn,
  widens,
} from './expression-facts.js';
import type { Guards } from './guards.js';
import { Names, pascal } from './identifiers.js';
import type { Imports } from './imports.js';
import { constantOf } from './pure-reading.js';
import { emittedFunction } from './runtime-names.js';
import { printExpr, type Drawn, type Helper, type Reading } from './print-expression.js';
import { localsOf } from './sources.js';

/** How a style writes what happens in the actions of a store. */
export abstract class ActionStyle {
  constructor(
    readonly store: Store,
    readonly imports: Imports,
  ) {}

  /** Names that the body of an action uses. */
  abstract readonly taken: readonly string[];

  /** How the present value of a field is read. */
  abstract field(store: string, name: string): Code;

  /** How the present value of a derived value is read. */
  abstract derived(store: string, name: string): Code;

  abstract draw(name: Drawn): Code;

  /** The statements of one step. */
  abstract step(step: Step, writer: ActionWriter): Code;

  /** A derived value with parameters: it is read like any other, and called. */
  asked(store: string, name: string, args: Code): Code {
    return code`${this.derived(store, name)}(${args})`;
  }

  constant(store: string, name: string): Code {
    return constantOf(store, name, this.imports);
  }

  /** The expressions of a step that are written within functions of their own. */
  exprsInFunctions(step: Step): readonly Expr[] {
    return exprsForItems(step);
  }

  /** What stands between the requirements and the steps. */
  beforeSteps(): Code {
    return code``;
  }

  /** A value that is kept while the state goes on changing. */
  held(value: Code, _type: Type): Code {
    return value;
  }

  /** What a constant is called that holds the present value of a field. */
  boundName(store: string, name: string): string {
    return store === this.store.name ? name : `${store}${pascal(name)}`;
  }
}

/** How a style writes functions that reach across stores. */
export abstract class AcrossActionStyle extends ActionStyle {
  /** Whether what was written so far uses the last parameter of the function. */
  needsAfter = false;

  /** Puts a whole store back to its defaults. */
  abstract resetStore(store: Store): Code;

  /** What a store is at the start. */
  protected initial(store: Store): Code {
    return this.imports.value('initial', `initial${pascal(store.name)}`);
  }
}

/** What an action does. */
export type ActionBody = Pick<Action, 'requires' | 'let' | 'steps'>;

/** What a writer needs to know besides, where actions reach across stores. */
export interface WriterOptions {
  /** More names that the action must not give to something else. */
  readonly taken?: readonly string[];
  /** Names bound by the action that something besides its own steps reads. */
  readonly used?: readonly string[];
  readonly run?: (step: Step & { kind: 'run' }, writer: ActionWriter) => Code;
  readonly resetStore?: (store: Store) => Code;
}

/** Writes the body of one action: requirements, bindings, steps. */
export class ActionWriter implements Reading {
  readonly names: Names;
  #locals = new Map<string, string>();
  /** Fields and derived values whose type some condition of the action narrows. */
  readonly #narrowed: ReadonlySet<string>;
  /** Fields and derived values whose present value a constant holds, since a condition has narrowed its type. */
  #bound = new Map<string, string>();
  /** Constants that hold such parts of values in the step that is being written. */
  readonly #parts = new Map<string, string>();
  #used: ReadonlySet<string> | undefined;

  constructor(
    readonly application: Application,
    readonly store: Store,
    readonly content: ActionBody,
    readonly style: ActionStyle,
    readonly guards: Guards,
    readonly imports: Imports,
    readonly options: WriterOptions = {},
  ) {
    this.names = new Names([...style.taken, ...(options.taken ?? []), 'payload']);
    this.#locals.set('payload', 'payload');
    this.#narrowed = new Set(
      narrowedIn(exprsOfAction(content)).map(({ store, name }) => `${store}.${name}`),
    );
  }

  get isExact(): boolean {
    return this.guards.checks !== 'never';
  }

  get types(): TypeTable {
    return this.application.types;
  }

  body(): Code {
    const requires = this.content.requires.map((requirement) => this.#required(requirement));
    return joined(
      [
        ...requires,
        this.bindings(this.content.let),
        this.style.beforeSteps(),
        this.steps(this.content.steps),
      ],
      '\n',
    );
  }

  #required(requirement: Requirement): Code {
    const refused = code`${this.refusal(requirement.otherwise, requirement.at)};`;
    if (requirement.kind === 'condition') {
      const bindings = this.bindNarrowed([requirement.that]);
      return code`${bindings}if (${this.negated(requirement.that)}) ${refused}`;
    }
    const { name, value } = requirement.binding;
    const bound = this.bindings([requirement.binding]);
    const missing = membersOf(value.type, this.types).filter(
      ({ kind }) => kind === 'absent' || kind === 'null',
    );
    const tests = missing.map(
      ({ kind }) => code`${this.local(name)} === ${kind === 'null' ? code`null` : code`undefined`}`,
    );
    return tests.length === 0 ? bound : code`${bound}\nif (${joined(tests, ' || ')}) ${refused}`;
  }

  /** Constants for names that the schema binds. */
  bindings(bindings: readonly Binding[]): Code {
    const lines = bindings.map(({ name, value }) => {
      const narrowed = this.bindNarrowed([value]);
      const held = this.style.held(this.print(value), value.type);
      // It is computed all the same: it may ask for an identifier, or throw.
      if (!this.usesLocal(name)) return code`${narrowed}void (${held});`;
      return code`${narrowed}const ${this.declare(name)}${this.typeOf(value)} = ${held};`;
    });
    return joined(lines, '\n');
  }

  /** Whether anything reads a local of the schema, such as `payload`. */
  usesLocal(name: string): boolean {
    this.#used ??= new Set([
      ...(this.options.used ?? []),
      ...exprsOfAction(this.content).flatMap(localsRead),
      ...this.content.requires.flatMap((one) => (one.kind === 'value' ? one.binding.name : [])),
    ]);
    return this.#used.has(name);
  }

  steps(steps: readonly Step[]): Code {
    return joined(
      steps.map((step) => {
        const bindings = step.kind === 'let' ? code`` : this.bindNarrowed(exprsOf(step));
        const parts = this.#bindParts(step);
        const statements = this.style.step(step, this);
        this.forgetWritten(step);
        this.#parts.clear();
        return code`${bindings}${parts}${statements}`;
      }),
      '\n',
    );
  }

  /**
   * Constants for the parts of values whose type a condition has narrowed, where a step uses them in a function of its
   * own: the compiler does not know there what it knows around it.
   */
  #bindParts(step: Step): Code {
    const exprs = this.style.exprsInFunctions(step);
    const hidden = new Set(['each' in step ? step.each : '', ...exprs.flatMap(localsOf)]);
    const lines = narrowedParts(exprs, hidden).flatMap((part) => {
      const key = partKey(part);
      if (this.#parts.has(key)) return [];
      const value = this.print(part);
      const constant = this.names.allocate(part.name);
      this.#parts.set(key, constant);
      return [code`const ${id(constant)} = ${value};\n`];
    });
    return joined(lines, '');
  }

  part(expr: Expr & { kind: 'member' }): Code | undefined {
    const constant = this.#parts.get(partKey(expr));
    return constant === undefined ? undefined : id(constant);
  }

  /** Another action as part of this one. */
  run(step: Step & { kind: 'run' }): Code {
    if (this.options.run === undefined) throw new Error('this action runs no other');
    return this.options.run(step, this);
  }

  /** `if`, with what is bound in a branch known in it only. */
  branch(step: Step & { kind: 'when' }): Code {
    const test = this.print(step.test);
    const outer = new Map(this.#bound);
    const then = this.steps(step.then);
    this.#bound = new Map(outer);
    if (step.else.length === 0) return code`if (${test}) {\n${then}\n}`;
    const otherwise = this.steps(step.else);
    this.#bound = outer;
    return code`if (${test}) {\n${then}\n} else {\n${otherwise}\n}`;
  }

  /** Declares a local of the schema: gives the identifier that it is written as. */
  declare(name: string): Code {
    const allocated = this.names.allocate(name);
    this.#locals.set(name, allocated);
    return id(allocated);
  }

  /** Computes an expression once, in a constant of our own, unless it is a mere name: gives what stands for it. */
  once(value: Expr, wanted: string, lines: Code[]): Expr {
    if (isSimple(value)) return value;
    const printed = this.print(value);
    const constant = this.names.allocate(wanted);
    lines.push(code`const ${id(constant)} = ${printed};`);
    // No local of a schema has a blank in its name.
    const name = ` ${constant}`;
    this.#locals.set(name, constant);
    return { kind: 'local', name, span: value.span, type: value.type };
  }

  /** The type of a constant for a value, to be written after its name, where the compiler would find a wider one. */
  typeOf(value: Expr): Code {
    return widens(value) ? code`: ${this.type(value.type)}` : code``;
  }

  print(expr: Expr): Code {
    return printExpr(expr, this);
  }

  /** Puts whole stores back to their defaults. */
  resetStores(step: Step & { kind: 'resetStores' }): Code {
    const { resetStore } = this.options;
    if (resetStore === undefined) throw new Error('this action reaches no other store');
    return joined(
      step.stores.map((name) => resetStore(storeNamed(this.application, name))),
      '\n',
    );
  }

  /** The value of an expression, judged where it might not fit what it is stored in. */
  fitting(value: Expr, wanted: Type, suggested: string, at: string): Code {
    const guard = this.guards.neededFor(
      value,
      wanted,
      `${pascal(this.store.name)}${pascal(suggested)}`,
      this.imports,
    );
    const printed = this.print(value);
    if (guard === undefined) return printed;
    return code`${this.imports.value('transaction', 'fit')}(${printed}, ${guard}, ${data(at)})`;
  }

  needsFit(value: Expr, wanted: Type): boolean {
    return this.guards.checks !== 'never' && !fits(value.type, wanted, this.types, 'proof');
  }

  refusal(reason: string, at: string): Code {
    return code`${this.imports.value('transaction', 'refuse')}(${data(reason)}, ${data(at)})`;
  }

  /** A condition turned round, without parentheses where that is plain. */
  negated(expr: Expr): Code {
    if (expr.kind === 'unary' && expr.operator === '!') return this.print(expr.operand);
    if (expr.kind === 'binary' && (expr.operator === '===' || expr.operator === '!==')) {
      return this.print({ ...expr, operator: expr.operator === '===' ? '!==' : '===' });
    }
    return code`!(${this.print(expr)})`;
  }

  /** Constants for the fields and derived values whose type a condition in these expressions narrows. */
  bindNarrowed(exprs: readonly Expr[]): Code {
    const lines: Code[] = [];
    for (const { store, name, kind } of referencesIn(exprs)) {
      const reference = `${store}.${name}`;
      if (!this.#narrowed.has(reference) || this.#bound.has(reference)) continue;
      const value =
        kind === 'field' ? this.style.field(store, name) : this.style.derived(store, name);
      const constant = this.names.allocate(this.style.boundName(store, name));
      this.#bound.set(reference, constant);
      lines.push(code`const ${id(constant)} = ${value};\n`);
    }
    return joined(lines, '');
  }

  /** After a step, what it wrote must be read anew; derived values too. */
  forgetWritten(step: Step): void {
    if (reachesFar(step)) return void this.#bound.clear();
    const written = allSteps([step]).flatMap(writtenFields);
    if (written.length === 0) return;
    for (const reference of [...this.#bound.keys()]) {
      const [store, name = ''] = reference.split('.');
      const isField = this.application.stores
        .find((other) => other.name === store)
        ?.fields.some((field) => field.name === name);
      if (!isField || (store === this.store.name && written.includes(name)))
        this.#bound.delete(reference);
    }
  }

  field(store: string, name: string): Code {
    const bound = this.#bound.get(`${store}.${name}`);
    return bound === undefined ? this.style.field(store, name) : id(bound);
  }

  derived(store: string, name: string): Code {
    const bound = this.#bound.get(`${store}.${name}`);
    return bound === undefined ? this.style.derived(store, name) : id(bound);
  }

  asked(store: string, name: string, args: Code): Code {
    return this.style.asked(store, name, args);
  }

  constant(store: string, name: string): Code {
    return this.style.constant(store, name);
  }

  /** What a local of the schema is written as: those that expressions bind are declared when they are first met. */
  local(name: string): Code {
    const declared = this.#locals.get(name);
    return declared === undefined ? this.declare(name) : id(declared);
  }

  /** A condition on one item, as a function; its parameter is left out if the condition does not use it. */
  test(each: string, condition: Expr, written: Code): Code {
    const isUsed = localsRead(condition).includes(each);
    return code`(${isUsed ? this.local(each) : code``}) => ${arrowValue(written)}`;
  }

  draw(name: Drawn): Code {
    return this.style.draw(name);
  }

  type(type: Type): Code {
    return this.guards.book.type(type, this.imports);
  }

  check(wanted: NamedReference): Code {
    return this.guards.use(wanted, wanted.name, this.imports);
  }

  applied(name: string): Code {
    return this.imports.value('functions', emittedFunction(name));
  }

  helper(name: Helper): Code {
    return this.imports.value('values', name);
  }
}

function exprsOfAction({ requires, let: bindings, steps }: ActionBody): readonly Expr[] {
  return [
    ...requires.map(exprOf),
    ...bindings.map(({ value }) => value),
    ...allSteps(steps).flatMap(exprsOf),
  ];
}

/** Whether the value of a `set` must be computed before anything of the step is judged or stored. */
export function mustComeFirst(
  { path, value }: { readonly path: Path; readonly value: Expr },
  step: Step & { kind: 'set' },
  writer: ActionWriter,
): boolean {
  if (step.entries.length === 1) return draws(value) && path.segments.length > 0;
  const written = step.entries.map((entry) => entry.path.field);
  const anyDraws = step.entries.some((entry) => draws(entry.value));
  const judged = step.entries.some(
    (entry) => writer.needsFit(entry.value, entry.path.type) || entry.path.segments.length > 0,
  );
  const others = step.entries
    .filter((entry) => entry.path !== path)
    .map((entry) => entry.path.field);
  const twice = new Set(written).size < written.length;
  return (anyDraws && judged) || twice || readsFields(value, writer.store.name, others);
}
