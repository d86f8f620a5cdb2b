import { testOfPick } from '../model/corners.js';
import type { Reach } from '../model/cover-points.js';
import type { Argument, Expr, NamedReference } from '../model/expressions.js';
import type { HistoryReading } from '../model/history.js';
import type { TaskReading } from '../model/task-readings.js';
import { callFunction } from './functions.js';

/** What an expression reads when it is evaluated. */
export interface Frame {
  readonly world: World;
  /** Payload, `let` names, and the parameters of arrows: the innermost. */
  readonly locals: Local | undefined;
}

/** A name that is bound to a value, and the names around it. */
export interface Local {
  readonly name: string;
  readonly value: unknown;
  readonly outer: Local | undefined;
}

/** The stores and the environment, as they are at a moment. */
export interface World {
  field(store: string, name: string): unknown;
  /** A derived value; with arguments, if it has parameters. */
  derived(store: string, name: string, args?: readonly unknown[]): unknown;
  /** What is known of the runs of a task, as of before the transaction. */
  task(store: string, name: string, reading: TaskReading): unknown;
  /** What can be done with the history of a store, as of before the transaction. */
  history(store: string, reading: HistoryReading): boolean;
  /** What a function of the schema gives. */
  apply(name: string, args: readonly unknown[]): unknown;
  fits(value: unknown, wanted: NamedReference): boolean;
  newId(): string;
  now(): number;
  random(): number;
  /** Who is told what expressions come to; nobody if not given. */
  readonly told?: Pick<Reach, 'decided' | 'right' | 'compared' | 'picked'> | undefined;
}

type Evaluate = (frame: Frame) => unknown;

/** Stands for what an optional chain gives when it is cut short, until the chain ends. */
const cut = Symbol('cut short');

const compiled = new WeakMap<Expr, Evaluate>();

/** The value of an expression in a frame. */
export function evaluate(expr: Expr, frame: Frame): unknown {
  let run = compiled.get(expr);
  if (run === undefined) compiled.set(expr, (run = compile(expr)));
  return run(frame);
}

/** The frame with one more local. */
export function bind({ world, locals: outer }: Frame, name: string, value: unknown): Frame {
  return { world, locals: { name, value, outer } };
}

/** The value that a name is bound to; `undefined` if to none. */
export function localOf({ locals }: Pick<Frame, 'locals'>, name: string): unknown {
  for (let local = locals; local !== undefined; local = local.outer)
    if (local.name === name) return local.value;
  return undefined;
}

function compile(expr: Expr): Evaluate {
  const run = compileLink(expr);
  if (!isLink(expr)) return run;
  return (frame) => {
    const value = run(frame);
    return value === cut ? undefined : value;
  };
}

function isLink(expr: Expr): expr is Expr & { kind: 'member' | 'index' | 'method' } {
  return expr.kind === 'member' || expr.kind === 'index' || expr.kind === 'method';
}

/** The object of a chain link: what is cut short stays cut short for the links after it. */
function compileObject(expr: Expr): Evaluate {
  return isLink(expr) ? compileLink(expr) : compile(expr);
}

function compileLink(expr: Expr): Evaluate {
  return (compilers[expr.kind] as (expr: Expr) => Evaluate)(expr);
}

/** How each kind of expression is made a function of the frame. */
const compilers: { readonly [K in Expr['kind']]: (expr: Extract<Expr, { kind: K }>) => Evaluate } =
  {
    literal:
      ({ value }) =>
      () =>
        value,
    undefined: () => () => undefined,
    constant:
      ({ value }) =>
      () =>
        value,
    local:
      ({ name }) =>
      (frame) =>
        localOf(frame, name),
    field:
      ({ store, name }) =>
      (frame) =>
        frame.world.field(store, name),
    derived:
      ({ store, name }) =>
      (frame) =>
        frame.world.derived(store, name),
    task:
      ({ store, name, reading }) =>
      (frame) =>
        frame.world.task(store, name, reading),
    history:
      ({ store, reading }) =>
      (frame) =>
        frame.world.history(store, reading),
    template: ({ texts, values }) => compileTemplate(texts, values.map(compile)),
    list: compileList,
    object: compileProperties,
    member: compileAccess,
    index: compileAccess,
    method: compileAccess,
    call({ name, args }) {
      const compiledArgs = compileArguments(args);
      return (frame) => callFunction(name, compiledArgs(frame), frame.world);
    },
    fits({ value, wanted }) {
      const evaluateValue = compile(value);
      return (frame) => frame.world.fits(evaluateValue(frame), wanted);
    },
    apply({ name, args }) {
      const compiledArgs = compileArguments(args);
      return (frame) => frame.world.apply(name, compiledArgs(frame));
    },
    ask({ store, name, args }) {
      const compiledArgs = compileArguments(args);
      return (frame) => frame.world.derived(store, name, compiledArgs(frame));
    },
    unary(expr) {
      const operand = compile(expr.operand);
      if (expr.operator === '!') return (frame) => !operand(frame);
      return expr.operator === '-'
        ? (frame) => -(operand(frame) as number)
        : (frame) => +(operand(frame) as number);
    },
    binary: compileBinary,
    logical: compileLogical,
    conditional(expr) {
      const [test, then, otherwise] = [compile(expr.test), compile(expr.then), compile(expr.else)];
      return (frame) => {
        const way = Boolean(test(frame));
        frame.world.told?.decided(expr, way);
        return way ? then(frame) : otherwise(frame);
      };
    },
  };

function compileList(expr: Expr & { kind: 'list' }): Evaluate {
  const items = expr.items.map(({ spread, value }) => ({ spread, value: compile(value) }));
  if (!items.some(({ spread }) => spread)) return (frame) => items.map(({ value }) => value(frame));
  return (frame) =>
    items.flatMap(({ spread, value }): readonly unknown[] =>
      spread ? [...(value(frame) as Iterable<unknown>)] : [value(frame)],
    );
}

function compileProperties(expr: Expr & { kind: 'object' }): Evaluate {
  const parts = expr.parts.map((part) => ({
    name: part.kind === 'property' ? part.name : undefined,
    value: compile(part.value),
  }));
  return (frame) => {
    const object: Record<string, unknown> = {};
    for (const { name, value } of parts)
      if (name === undefined) Object.assign(object, value(frame));
      else object[name] = value(frame);
    return object;
  };
}

function compileLogical(expr: Expr & { kind: 'logical' }): Evaluate {
  const [left, right] = [compile(expr.left), compile(expr.right)];
  const { operator } = expr;
  return (frame) => {
    const value = left(frame);
    const way = operator === '??' ? value !== null && value !== undefined : Boolean(value);
    frame.world.told?.decided(expr, way);
    if (way !== (operator === '&&')) return value;
    const other = right(frame);
    frame.world.told?.right(expr, other);
    return other;
  };
}

function compileTemplate(texts: readonly string[], values: readonly Evaluate[]): Evaluate {
  return (frame) => {
    let text = texts[0] ?? '';
    values.forEach((value, i) => (text += String(value(frame)) + (texts[i + 1] ?? '')));
    return text;
  };
}

function compileAccess(expr: Expr & { kind: 'member' | 'index' | 'method' }): Evaluate {
  const object = compileObject(expr.object);
  const { optional } = expr;
  const read = compileRead(expr);
  return (frame) => {
    const target = object(frame);
    if (target === cut || (optional && (target === null || target === undefined))) return cut;
    return read(target as object, frame);
  };
}

function compileRead(
  expr: Expr & { kind: 'member' | 'index' | 'method' },
): (target: object, frame: Frame) => unknown {
  switch (expr.kind) {
    case 'member': {
      const { name } = expr;
      return (target) => (target as Record<string, unknown>)[name];
    }
    case 'index': {
      const index = compile(expr.index);
      return (target, frame) => {
        const key = index(frame) as string;
        if (expr.of !== 'map') return (target as Record<string, unknown>)[key];
        return Object.hasOwn(target, key) ? (target as Record<string, unknown>)[key] : undefined;
      };
    }
    case 'method': {
      const { name } = expr;
      const args = compileArguments(expr.args);
      const test = testOfPick(expr)?.body;
      return (target, frame) => {
        const values = args(frame);
        const method = (target as Record<string, (...values: unknown[]) => unknown>)[name];
        if (method === undefined) throw new TypeError(`there is no method '${name}'`);
        if (test !== undefined)
          frame.world.told?.picked(test, target as readonly unknown[], values[0] as () => unknown);
        return method.apply(target, [...values]);
      };
    }
  }
}

function compileArguments(args: readonly Argument[]): (frame: Frame) => readonly unknown[] {
  const each = args.map(compileArgument);
  if (!args.some(({ kind }) => kind === 'spread'))
    return (frame) => each.map((argument) => argument(frame));
  return (frame) =>
    each.flatMap((argument, i): readonly unknown[] => {
      const value = argument(frame);
      return args[i]?.kind === 'spread' ? (value as readonly unknown[]) : [value];
    });
}

function compileArgument(argument: Argument): Evaluate {
  if (argument.kind === 'spread') return compile(argument.value);
  if (argument.kind !== 'arrow') return compile(argument);
  const body = compile(argument.body);
  const { params } = argument;
  return ({ world, locals }) =>
    (...values: unknown[]) => {
      let inner = locals;
      for (let i = 0; i < params.length; i++)
        inner = { name: params[i] as string, value: values[i], outer: inner };
      return body({ world, locals: inner });
    };
}

function compileBinary(expr: Expr & { kind: 'binary' }): Evaluate {
  const [left, right] = [compile(expr.left), compile(expr.right)];
  const numbers =
    (combine: (a: number, b: number) => unknown): Evaluate =>
    (frame) =>
      combine(left(frame) as number, right(frame) as number);
  const compared =
    (compare: (a: number, b: number) => boolean): Evaluate =>
    (frame) => {
      const [a, b] = [left(frame) as number, right(frame) as number];
      frame.world.told?.compared(expr, a, b);
      return compare(a, b);
    };
  switch (expr.operator) {
    case '+':
      return numbers((a, b) => a + b);
    case '-':
      return numbers((a, b) => a - b);
    case '*':
      return numbers((a, b) => a * b);
    case '/':
      return numbers((a, b) => a / b);
    case '%':
      return numbers((a, b) => a % b);
    case '**':
      return numbers((a, b) => a ** b);
    case '<':
      return compared((a, b) => a < b);
    case '<=':
      return compared((a, b) => a <= b);
    case '>':
      return compared((a, b) => a > b);
    case '>=':
      return compared((a, b) => a >= b);
    case '===':
      return compared((a, b) => a === b);
    case '!==':
      return compared((a, b) => a !== b);
  }
}
