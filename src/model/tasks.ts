import type { Json } from '../base/json.js';
import type { Span } from '../base/source.js';
import type { Expr } from './expressions.js';
import type { Requirement } from './requirements.js';
import type { Binding, Step } from './steps.js';
import { literal, nothing, text, union, type Type } from './types.js';

/** An operation that the application asks of the world outside. */
export interface Service {
  readonly name: string;
  readonly about: string | undefined;
  readonly span: Span;
  /** In schema order. */
  readonly operations: readonly Operation[];
}

/** Something that can be asked of a service. */
export interface Operation {
  readonly name: string;
  readonly about: string | undefined;
  readonly span: Span;
  /** The type of its argument; it has none if not given. */
  readonly payload: Type | undefined;
  /** The type of its answer; an answer carries nothing if not given. */
  readonly result: Type | undefined;
  /** The type of the values that it gives one after the other; it gives one answer only if not given. */
  readonly results: Type | undefined;
  /** The type of the data that a rejection carries. */
  readonly error: Type | undefined;
  /** True if properties that the type does not have are taken off what comes. */
  readonly dropsExtra: boolean;
}

/** The moments of a run that have steps, and that others can react to. */
export const moments = ['start', 'each', 'finish', 'fail', 'cancel'] as const;
export type Moment = (typeof moments)[number];

/** The effect of a start while another run is still there. */
export const overlaps = ['latest', 'first', 'queue', 'parallel'] as const;
export type Overlap = (typeof overlaps)[number];

/** A cause that starts a task besides callers and steps. */
export type Auto =
  | { readonly kind: 'once' }
  /** Each change of a value, which is the payload; null cancels. */
  | { readonly kind: 'follows'; readonly value: Expr; readonly first: boolean }
  /** As long as a condition holds. */
  | { readonly kind: 'while'; readonly test: Expr };

/** True if and when a failed call is made again. */
export interface Retry {
  readonly times: number;
  readonly wait: Expr | undefined;
  readonly when: Expr | undefined;
}

/** The operation of a service. */
export interface OperationName {
  readonly service: string;
  readonly operation: string;
}

/** Work that takes its time: an operation of a service, or a delay. */
export interface Task {
  readonly name: string;
  readonly about: string | undefined;
  readonly span: Span;
  readonly payload: Type | undefined;
  readonly payloadDefault: Json | undefined;
  readonly acceptsText: boolean;
  readonly dropsExtra?: true;
  readonly requires: readonly Requirement[];
  readonly let: readonly Binding[];
  /** None: it is a delay. */
  readonly operation: OperationName | undefined;
  /** The argument of the operation; the payload if not given. */
  readonly with: Expr | undefined;
  readonly wait: Expr | undefined;
  readonly timeLimit: Expr | undefined;
  readonly retry: Retry | undefined;
  readonly every: Expr | undefined;
  readonly auto: Auto | undefined;
  readonly overlap: Overlap;
  readonly per: Expr | undefined;
  readonly steps: Readonly<Record<Moment, readonly Step[]>>;
}

/** The kinds of failure. */
export const failures = ['rejected', 'timeout', 'bad result', 'broken', 'refused'] as const;
export type Failure = (typeof failures)[number];

/** The types of the data that errors of tasks carry, by the types of the errors. */
const dataOf = new WeakMap<Type, { readonly data: Type | undefined }>();

/** The type of the data of an error, given the type of `error`; `undefined` for any other type. */
export const errorDataOf = (type: Type): { readonly data: Type | undefined } | undefined =>
  dataOf.get(type);

/** The type of `error`, where a rejection may carry some data. */
export function errorType(data: Type | undefined): Type {
  const field = (name: string, type: Type) => ({ name, type, optional: false });
  const type: Type = {
    kind: 'record',
    fields: [
      field('kind', union(failures.map(literal))),
      field('message', text),
      field('data', data === undefined ? nothing : union([data, nothing])),
    ],
  };
  dataOf.set(type, { data });
  return type;
}

/** The type of the items of `runs` and `waiting`. */
export function runsType({ payload }: Pick<Task, 'payload'>): Type {
  return { kind: 'list', item: payload ?? nothing };
}

/** The expressions of a task that are no steps, but for those of its requirements, in the order of the format. */
export function exprsOfTask({
  per,
  wait,
  with: given,
  timeLimit,
  retry,
  every,
  auto,
}: Task): Expr[] {
  const own =
    auto?.kind === 'follows' ? auto.value : auto?.kind === 'while' ? auto.test : undefined;
  return [per, wait, given, timeLimit, retry?.wait, retry?.when, every, own].filter(
    (expr) => expr !== undefined,
  );
}
