import type { Argument, Expr, NamedReference, ObjectPart } from '../../model/expressions.js';
import { doneBy, type FunctionsBy } from '../../model/functions.js';
import type { TaskReading } from '../../model/task-readings.js';
import { membersOf, resolve, type Type, type TypeTable } from '../../model/types.js';
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
  template,
  type Code,
} from '../build/code.js';
import { roughText } from '../build/print.js';
import { isSimple, localsRead, needsCarriedType } from './expression-facts.js';
import { access, conditional, operatorCode, precedences, primary, unary } from './operators.js';

/** How the names in an expression are written where it stands. */
export interface Reading {
  readonly types: TypeTable;
  /** What the payload, and names of the schema that are bound around it, are written as. */
  readonly locals: ReadonlyMap<string, Code>;
  field(store: string, name: string): Code;
  derived(store: string, name: string): Code;
  /** A derived value with parameters. */
  asked(store: string, name: string, args: Code): Code;
  /** A reading of a task. */
  task(store: string, name: string, reading: TaskReading): Code;
  constant(store: string, name: string): Code;
  /** What holds a value whose type a condition has narrowed, if something does. */
  held?(expr: Expr): Code | undefined;
  draw(name: Drawn): Code;
  /** What fits a named type. */
  check(wanted: NamedReference): Code;
  /** A type, where the compiler has to be told. */
  type(type: Type): Code;
  /** A function of the schema. */
  applied(name: string): Code;
  /** A function of the run time. */
  helper(name: Helper): Code;
  /** What every program knows. */
  global(name: string): Code;
  /** The type of the parameters of functions, where the compiler cannot find it; as it finds it if not given. */
  readonly parameterType?: Code;
}

/** What is asked of the environment. */
export type Drawn = FunctionsBy<'environment'>;

/** The functions of the run time that expressions use. */
export type Helper = FunctionsBy<'run time'> | 'entry';

/** An expression as TypeScript. */
export function printExpr(expr: Expr, reading: Reading): Code {
  return print(expr, reading).code;
}

/** An expression as TypeScript, to be the test of a choice: `test ? one : other`. */
export function printTest(expr: Expr, reading: Reading): Code {
  return at(expr, conditional + 1, reading);
}

interface Printed {
  readonly code: Code;
  readonly precedence: number;
}

/** The expression, in parentheses if it binds less tightly than that. */
function at(expr: Expr, least: number, reading: Reading): Code {
  const { code: text, precedence } = print(expr, reading);
  return precedence < least ? code`(${text})` : text;
}

function print(expr: Expr, reading: Reading): Printed {
  return (printers[expr.kind] as Printer<Expr>)(expr, reading);
}

type Printer<E extends Expr> = (expr: E, reading: Reading) => Printed;

const accessed = (text: Code): Printed => ({ code: text, precedence: access });
const whole = (text: Code): Printed => ({ code: text, precedence: primary });

/** How each kind of expression is written. */
const printers: { readonly [K in Expr['kind']]: Printer<Extract<Expr, { kind: K }>> } = {
  literal: ({ value }) => ({
    code: data(value),
    precedence: typeof value === 'number' ? unary : primary,
  }),
  undefined: () => whole(code`undefined`),
  local: ({ name }, reading) => whole(localOf(name, reading)),
  field: (expr, reading) => accessed(reading.held?.(expr) ?? reading.field(expr.store, expr.name)),
  derived: (expr, reading) =>
    accessed(reading.held?.(expr) ?? reading.derived(expr.store, expr.name)),
  task: ({ store, name, reading: what }, reading) => accessed(reading.task(store, name, what)),
  history: () => {
    throw new Error('what a history tells is computed by no expression');
  },
  constant: ({ store, name }, reading) => accessed(reading.constant(store, name)),
  template: ({ texts, values }, reading) =>
    whole(
      template(
        texts,
        values.map((value) => at(value, 1, reading)),
      ),
    ),
  list({ items }, reading) {
    const printed = items.map(({ spread, value }) =>
      spread ? code`...${at(value, 1, reading)}` : at(value, 1, reading),
    );
    return whole(code`[${joined(printed, ', ')}]`);
  },
  object: (expr, reading) => whole(printObject(expr, reading)),
  member(expr, reading) {
    const part = reading.held?.(expr);
    if (part !== undefined) return whole(part);
    const dot = property(expr.name, expr.optional);
    return accessed(code`${at(expr.object, access, reading)}${dot}`);
  },
  index: (expr, reading) => accessed(printIndex(expr, reading)),
  method(expr, reading) {
    const dot = property(expr.name, expr.optional);
    const typed = needsCarriedType(expr, reading.types)
      ? code`<${reading.type(expr.type)}>`
      : nothing;
    const args = printArguments(expr.args, reading);
    return accessed(code`${methodObject(expr.object, reading)}${dot}${typed}(${args})`);
  },
  call: (expr, reading) => accessed(printCall(expr, reading)),
  apply: ({ name, args }, reading) =>
    accessed(code`${reading.applied(name)}(${printArguments(args, reading)})`),
  ask: ({ store, name, args }, reading) =>
    accessed(reading.asked(store, name, printArguments(args, reading))),
  fits({ value, wanted }, reading) {
    const check = reading.check(wanted);
    return accessed(code`${reading.helper('fits')}(${at(value, 1, reading)}, ${check})`);
  },
  unary: (expr, reading) => ({ code: printUnary(expr, reading), precedence: unary }),
  binary: printInfix,
  logical: printInfix,
  conditional(expr, reading) {
    const test = at(expr.test, conditional + 1, reading);
    const [then, otherwise] = [
      at(expr.then, conditional, reading),
      at(expr.else, conditional, reading),
    ];
    return { code: code`${test} ? ${then} : ${otherwise}`, precedence: conditional };
  },
};

function printArguments(args: readonly Argument[], reading: Reading): Code {
  return joined(
    args.map((argument) => printArgument(argument, reading)),
    ', ',
  );
}

/** What a method is called on: of a list of texts the compiler must know which they are. */
function methodObject(object: Expr, reading: Reading): Code {
  const printed = at(object, access, reading);
  const areTexts =
    object.kind === 'list' &&
    object.items.length > 0 &&
    object.items.every(({ value }) => value.kind === 'literal' && typeof value.value === 'string');
  return areTexts ? code`(${printed} as const)` : printed;
}

function localOf(name: string, { locals }: Reading): Code {
  const local = locals.get(name);
  if (local === undefined) throw new Error(`nothing is bound to '${name}' here`);
  return local;
}

function printObject(expr: Expr & { kind: 'object' }, reading: Reading): Code {
  const parts = literalParts(expr.parts, reading);
  if (parts !== undefined) return object(parts);
  return object(
    expr.parts.map((part) => {
      const value = at(part.value, 1, reading);
      return part.kind === 'spread' ? code`...${value}` : entry(part.name, value);
    }),
  );
}

/**
 * The parts of an object with the properties of what is spread written out, or nothing where that cannot be done: engines
 * make and read such objects several times as fast. Where one may be absent it must stay so.
 */
function literalParts(parts: readonly ObjectPart[], reading: Reading): Code[] | undefined {
  if (parts.every(({ kind }) => kind !== 'spread')) return undefined;
  const values = new Map<string, Code>();
  for (const part of parts) {
    const value = at(part.value, 1, reading);
    if (part.kind !== 'spread') values.set(part.name, value);
    else {
      const names = isSimple(part.value) ? wholeNames(part.value.type, reading.types) : undefined;
      if (names === undefined) return undefined;
      const whole = at(part.value, access, reading);
      for (const name of names) values.set(name, code`${whole}${property(name)}`);
    }
  }
  return [...values].map(([name, value]) => entry(name, value));
}

/** The number of properties that are written out at most: more read worse than a spread. */
const mostWritten = 12;

/** The names of the properties of a type, if all its values have all of them. */
export function wholeNames(type: Type, types: TypeTable): readonly string[] | undefined {
  const open = resolve(type, types);
  if (open.kind !== 'record' || open.fields.length > mostWritten) return undefined;
  return open.fields.some(({ optional }) => optional)
    ? undefined
    : open.fields.map(({ name }) => name);
}

function printIndex(expr: Expr & { kind: 'index' }, reading: Reading): Code {
  const index = at(expr.index, 1, reading);
  const object = at(expr.object, access, reading);
  if (expr.of === 'map' && !isKnownKey(expr.index.type, reading.types)) {
    return code`${reading.helper('entry')}(${at(expr.object, 1, reading)}, ${index})`;
  }
  return expr.optional ? code`${object}?.[${index}]` : code`${object}[${index}]`;
}

/** True if a key is one of a few known texts, none of which every object has: it can be read directly. */
export function isKnownKey(type: Type, types: TypeTable): boolean {
  return membersOf(type, types).every(
    (member) =>
      member.kind === 'literal' &&
      typeof member.value === 'string' &&
      !(member.value in Object.prototype),
  );
}

function printArgument(argument: Argument, reading: Reading): Code {
  if (argument.kind === 'spread') return code`...${at(argument.value, 1, reading)}`;
  if (argument.kind !== 'arrow') return at(argument, 1, reading);
  return printArrow(argument.params, argument.body, reading);
}

/** A function of an expression; parameters at the end that it does not use are left out. */
export function printArrow(params: readonly string[], body: Expr, reading: Reading): Code {
  return arrowUsing(localsRead(body), params, reading, (inner) => at(body, 1, inner));
}

/** A function whose body is written with names for those parameters that it uses. */
export function arrowUsing(
  names: readonly string[],
  params: readonly string[],
  reading: Reading,
  body: (inner: Reading) => Code,
): Code {
  const used = new Set(names);
  const last = params.findLastIndex((name) => used.has(name));
  const kept = params.slice(0, last + 1).map((name) => ({
    name,
    own: new Name(used.has(name) ? name : `_${name}`),
  }));
  const locals = new Map(reading.locals);
  for (const { name, own } of kept) locals.set(name, named(own));
  const { parameterType } = reading;
  return arrow(
    kept.map(({ own }) => own),
    body({ ...reading, locals }),
    parameterType && kept.map(({ own }) => code`${own}: ${parameterType}`),
  );
}

function printCall(expr: Expr & { kind: 'call' }, reading: Reading): Code {
  const args = printArguments(expr.args, reading);
  switch (doneBy(expr.name)) {
    case 'environment':
      return reading.draw(expr.name as Drawn);
    case 'run time':
      return code`${reading.helper(expr.name as Helper)}(${args})`;
    case undefined:
    case 'platform': {
      const [base = '', ...rest] = expr.name.split('.');
      const called = code`${reading.global(base)}${rest.map((name) => property(name))}`;
      return code`${called}(${args})`;
    }
  }
}

function printUnary(expr: Expr & { kind: 'unary' }, reading: Reading): Code {
  const operand = at(expr.operand, unary, reading);
  if (expr.operator === '!') return code`!${operand}`;
  const spaced = roughText(operand).startsWith(expr.operator) ? code`(${operand})` : operand;
  return expr.operator === '-' ? code`-${spaced}` : code`+${spaced}`;
}

function printInfix(expr: Expr & { kind: 'binary' | 'logical' }, reading: Reading): Printed {
  const precedence = precedences[expr.operator];
  const rightFirst = expr.operator === '**';
  const leftLeast = rightFirst ? unary + 1 : precedence;
  const left = operand(expr.left, expr, leftLeast, reading);
  const right = operand(expr.right, expr, rightFirst ? precedence : precedence + 1, reading);
  return { code: code`${left} ${operatorCode[expr.operator]} ${right}`, precedence };
}

/** `??` does not mix with `||` and `&&` without parentheses. */
function operand(
  side: Expr,
  around: Expr & { kind: 'binary' | 'logical' },
  least: number,
  reading: Reading,
): Code {
  const mixes =
    side.kind === 'logical' &&
    around.kind === 'logical' &&
    (side.operator === '??') !== (around.operator === '??');
  return at(side, mixes ? primary : least, reading);
}
