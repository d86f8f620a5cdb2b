import type { Json } from '../../base/json.js';
import type { Action, Application, Store } from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import { turned, wrongSteps } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';
import { moments } from '../../model/tasks.js';
import { isEqualSwap } from './equal-swap.js';
import type { Fault, FaultKind } from './fault.js';
import { othersOfHistory } from './history-faults.js';
import { nodesOf, replacedAt, type Way } from './nodes.js';
import { othersOfSaved } from './saved-faults.js';
import { othersOfTasks } from './task-faults.js';

/** Something else that can stand at a place in a model. */
interface Other {
  readonly kind: FaultKind;
  readonly way: Way;
  readonly part: unknown;
  /** Why nobody can tell it from what is right, if that is known. */
  readonly equal?: string | undefined;
}

/** Every fault that can be planted in the model of an application, in schema order. */
export function modelFaults(application: Application): Fault[] {
  const inStores = application.stores.flatMap((store, i) =>
    othersIn(store, application).map(({ kind, way, part, equal }): Fault => ({
      kind,
      at: placeOf(store, way),
      equal,
      in: 'model',
      application: replacedAt(application, ['stores', i, ...way], part),
    })),
  );
  const inFunctions = application.functions.flatMap((one, i) =>
    nodesOf(one.value, ['value'])
      .flatMap(({ node, way }) => othersOfExpr(node, way, undefined))
      .map(({ kind, way, part }): Fault => ({
        kind,
        at: one.name,
        in: 'model',
        application: replacedAt(application, ['functions', i, ...way], part),
      })),
  );
  return [...inFunctions, ...inStores];
}

/** `deck.admit.steps[1]`, `deck.freeM`: what a way within a store leads to. */
function placeOf(store: Store, way: Way): string {
  const [part, index, ...rest] = way;
  if (part === 'history' || part === 'saved') return `${store.name}.${part}.${String(index)}`;
  const named = (store as unknown as Record<string, readonly { name?: string; at?: string }[]>)[
    String(part)
  ]?.[Number(index)];
  if (named?.at !== undefined) return named.at;
  const more = rest
    .slice(0, 2)
    .map((key) => (typeof key === 'number' ? `[${key}]` : `.${key}`))
    .join('');
  return `${store.name}.${named?.name ?? ''}${more.startsWith('.value') ? '' : more}`;
}

function othersIn(store: Store, application: Application): Other[] {
  return [
    ...store.fields.flatMap((field, i) => wrongStart(field.default, ['fields', i, 'default'])),
    ...store.actions.flatMap((action, i) => othersOfAction(action, ['actions', i])),
    ...store.tasks.flatMap((task, i) => othersOfAction(task, ['tasks', i])),
    ...othersOfTasks(store),
    ...othersOfHistory(store),
    ...othersOfSaved(store),
    ...store.reactions.map((_, i): Other => ({
      kind: 'reaction left out',
      way: ['reactions'],
      part: store.reactions.toSpliced(i, 1),
    })),
    ...nodesOf(store).flatMap(({ node, way }) => [
      ...othersOfSteps(node, way, (one, other) => isEqualSwap(one, other, store, application)),
      ...othersOfStep(node as unknown as Step, way),
      ...othersOfExpr(node, way, store),
    ]),
  ];
}

function wrongStart(value: Json, way: Way): Other[] {
  const other = anotherThan(value);
  return other === undefined ? [] : [{ kind: 'wrong start', way, part: other }];
}

function anotherThan(value: Json): Json | undefined {
  if (typeof value === 'number') return value + 1;
  if (typeof value === 'boolean') return !value;
  return undefined;
}

function othersOfAction(
  {
    requires,
    payloadDefault,
    acceptsText,
  }: Pick<Action, 'requires' | 'payloadDefault' | 'acceptsText'>,
  way: Way,
): Other[] {
  const wrong = payloadDefault === undefined ? undefined : anotherThan(payloadDefault);
  return [
    ...requires.flatMap((requirement, i): Other[] => {
      if (requirement.kind !== 'condition') return [];
      const { that } = requirement;
      return [
        { kind: 'requirement left out', way: [...way, 'requires'], part: requires.toSpliced(i, 1) },
        { kind: 'requirement turned', way: [...way, 'requires', i, 'that'], part: turned(that) },
      ];
    }),
    ...requires.slice(1).flatMap((second, i): Other[] => {
      const first = requires[i];
      if (first?.kind !== 'condition' || second.kind !== 'condition') return [];
      const part = requires.with(i, second).with(i + 1, first);
      return [{ kind: 'requirements swapped', way: [...way, 'requires'], part }];
    }),
    ...(wrong === undefined
      ? []
      : [{ kind: 'wrong default', way: [...way, 'payloadDefault'], part: wrong } as const]),
    ...(acceptsText
      ? [{ kind: 'text not converted', way: [...way, 'acceptsText'], part: false } as const]
      : []),
  ];
}

/** Faults in the order and number of steps; some steps may change places. */
function othersOfSteps(
  node: Readonly<Record<string, unknown>>,
  way: Way,
  maySwap: (first: Step, second: Step) => boolean,
): Other[] {
  return ['steps', 'then', 'else', ...moments].flatMap((key) => {
    const steps = node[key];
    if (!Array.isArray(steps) || !steps.every(isStep)) return [];
    const at = [...way, key];
    const leftOut = steps.flatMap((step, i): Other[] =>
      step.kind === 'let' ? [] : [{ kind: 'step left out', way: at, part: steps.toSpliced(i, 1) }],
    );
    const swapped = steps.slice(1).flatMap((second, i): Other[] => {
      const first = steps[i] as Step;
      if (first.kind === 'let' || second.kind === 'let') return [];
      const part = steps.with(i, second).with(i + 1, first);
      const equal = maySwap(first, second)
        ? 'neither step touches what the other stores'
        : undefined;
      return [{ kind: 'steps swapped', way: at, part, equal }];
    });
    return [...leftOut, ...swapped];
  });
}

/** Steps have a place; so have requirements, which are of two kinds. */
function isStep(value: unknown): value is Step {
  if (typeof value !== 'object' || value === null || !('at' in value) || !('kind' in value))
    return false;
  return value.kind !== 'condition' && value.kind !== 'value';
}

function othersOfStep(step: Step, way: Way): Other[] {
  if (!isStep(step)) return [];
  return wrongSteps(step).map(({ fault, step: part }) => ({ kind: fault, way, part }));
}

const textMethods = new Set(['trim', 'toUpperCase', 'toLowerCase']);

type Mistake<K extends Expr['kind']> = (
  expr: Extract<Expr, { readonly kind: K }>,
  way: Way,
  store: Store | undefined,
) => Other[];

const none = (): Other[] => [];

/** How each kind of expression may be got wrong. */
const mistakes: { readonly [K in Expr['kind']]: Mistake<K> } = {
  literal: ({ value }, way) =>
    typeof value === 'number'
      ? [{ kind: 'number off by one', way: [...way, 'value'], part: value + 1 }]
      : [],
  binary: (expr, way) => othersOfOperator(expr, [...way, 'operator']),
  logical: ({ operator }, way) => {
    const part = operator === '&&' ? '||' : '&&';
    return operator === '??' ? [] : [{ kind: 'and for or', way: [...way, 'operator'], part }];
  },
  conditional: (expr, way) => [
    { kind: 'branches swapped', way, part: { ...expr, then: expr.else, else: expr.then } },
  ],
  unary: ({ operator, operand }, way) =>
    operator === '!' ? [{ kind: 'condition turned', way, part: operand }] : [],
  method: (expr, way) => othersOfMethod(expr, way),
  field: (expr, way, store) => (way.includes('entries') ? [] : sourceMissed(expr, way, store)),
  undefined: none,
  object: none,
  list: none,
  template: none,
  local: none,
  derived: none,
  ask: none,
  task: none,
  history: none,
  constant: none,
  member: none,
  index: none,
  call: none,
  fits: none,
  apply: none,
};

/** The ways to get a node of the model wrong; none if it is no expression. */
function othersOfExpr(
  node: { readonly kind?: string },
  way: Way,
  store: Store | undefined,
): Other[] {
  const { kind = '' } = node;
  if (!Object.hasOwn(mistakes, kind)) return [];
  return mistakes[kind as Expr['kind']](node as never, way, store);
}

const otherOperators: Readonly<Record<string, readonly [FaultKind, string]>> = {
  '<': ['bound off by one', '<='],
  '<=': ['bound off by one', '<'],
  '>': ['bound off by one', '>='],
  '>=': ['bound off by one', '>'],
  '===': ['condition turned', '!=='],
  '!==': ['condition turned', '==='],
  '+': ['plus for minus', '-'],
  '-': ['plus for minus', '+'],
};

function othersOfOperator({ operator, type }: Expr & { kind: 'binary' }, way: Way): Other[] {
  const [kind, part] = otherOperators[operator] ?? [];
  if (kind === undefined || (kind === 'plus for minus' && type.kind !== 'number')) return [];
  return [{ kind, way, part }];
}

function othersOfMethod(expr: Expr & { kind: 'method' }, way: Way): Other[] {
  if (textMethods.has(expr.name)) return [{ kind: 'text left as it is', way, part: expr.object }];
  const part = { some: 'every', every: 'some' }[expr.name];
  return part === undefined ? [] : [{ kind: 'some for every', way: [...way, 'name'], part }];
}

/** A field that is read as it was at the start. */
function sourceMissed(
  { store: owner, name, span, type }: Expr & { kind: 'field' },
  way: Way,
  store: Store | undefined,
): Other[] {
  const value = store?.name === owner ? startOf(store, name) : undefined;
  if (value === undefined || typeof value === 'object') return [];
  return [{ kind: 'source missed', way, part: { kind: 'literal', value, span, type } }];
}

function startOf(store: Store, name: string): Json | undefined {
  return store.fields.find((field) => field.name === name)?.default;
}
