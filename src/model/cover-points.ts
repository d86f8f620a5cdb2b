import {
  exprOf,
  named,
  operationNamed,
  storeNamed,
  type Action,
  type Application,
  type Store,
} from './application.js';
import type { Span } from '../base/source.js';
import { walkExpr, type Expr } from './expressions.js';
import { allSteps, exprsOf, mayBeRefused, outcomesOf } from './step-kinds.js';
import { boundsIn, placeOf } from './bounds.js';
import { boundsAtRisk } from './stored-bounds.js';
import { changedMeanwhile } from './changed-meanwhile.js';
import type { Step } from './steps.js';
import type { TypeTable } from './types.js';
import { exprsOfTask, moments, type Task } from './tasks.js';
import { madeOf } from './saved.js';

/** Something that a run may reach or not. */
export interface CoverPoint {
  /** `deck.admit done`, `deck.admit.requires[0] refused`, `deck.full changed`, `deck.board: v.id === payload true`. */
  readonly id: string;
  readonly span: Span;
  /** The action that it is part of, if it is. */
  readonly action?: string;
  /** The task that it is part of, if it is. */
  readonly task?: string;
  /** True if it takes a storage. */
  readonly isStored?: boolean;
  /** True if it takes a payload that does not fit. */
  readonly isMisfit?: boolean;
  /** True if it may be that nothing reaches it, since what is required rules it out: it is not missed then. */
  readonly mayBeRuledOut?: boolean;
}

/** Who is told what a run reaches. */
export interface Reach {
  /** The point `deck.admit done` is told as `deck.admit` and `done`. */
  readonly point: (at: string, what: string) => void;
  /** An expression that decides went the first way (true, there), or the second. */
  readonly decided: (expr: Expr, way: boolean) => void;
  /** A point was not reached by so much: 0 would be reached. The distance is computed if somebody wants to know. */
  readonly near: (at: string, what: string, distance: () => number) => void;
}

/** The ways in which an expression that decides something can go. */
export interface Decision {
  readonly expr: Expr;
  readonly sides: readonly [CoverPoint, CoverPoint];
}

/** Everything that a run can reach in an application, in schema order. */
export interface Coverable {
  readonly points: readonly CoverPoint[];
  readonly decisions: readonly Decision[];
}

/** All points that a run can reach: outcomes of actions and steps, changes of derived values, both sides of each decision. */
export function coverableOf(application: Application): Coverable {
  const points = application.stores.flatMap((store) => [
    ...store.derived
      .filter(({ params }) => params.length === 0)
      .flatMap(({ name, span }) =>
        ['changed', 'unchanged'].map((way) => ({ id: `${store.name}.${name} ${way}`, span })),
      ),
    ...store.actions.flatMap((action) => {
      const name = `${store.name}.${action.name}`;
      return pointsOfAction(name, action, application).map((point) => ({ ...point, action: name }));
    }),
    ...store.tasks.flatMap((task) => pointsOfTask(application, store, task)),
    ...pointsOfStored(application, store),
    ...pointsOfSaved(store),
    ...(store.lazy ? [{ id: `${store.name} attached`, span: store.span }] : []),
    ...store.reactions.flatMap(({ at, span, steps }) => [
      { id: `${at} done`, span },
      ...pointsOfSteps(steps, application),
    ]),
  ]);
  return { points, decisions: decisionsOf(application) };
}

/** The points of a payload that is refused: it does not fit at all, or breaks one of its bounds. */
function pointsOfPayload(
  name: string,
  { payload, acceptsText, span }: Pick<Action, 'payload' | 'acceptsText' | 'span'>,
  types: TypeTable,
): CoverPoint[] {
  if (payload === undefined) return [];
  const bounds = boundsIn(payload, types).map(
    (bound) => `${name}.payload${placeOf(bound)} ${bound.what}-refused`,
  );
  const refused = [`${name}.payload refused`, ...bounds];
  const texts = acceptsText ? [`${name}.text read`] : [];
  return [
    ...refused.map((id) => ({ id, span, isMisfit: true })),
    ...texts.map((id) => ({ id, span })),
  ];
}

function pointsOfAction(name: string, action: Action, application: Application): CoverPoint[] {
  if (action.move !== undefined)
    return ['done', 'refused'].map((what) => ({ id: `${name} ${what}`, span: action.span }));
  const refused = action.requires.map((needed) => ({
    id: `${needed.at} refused`,
    span: exprOf(needed).span,
  }));
  const { span } = action;
  const ofPayload = pointsOfPayload(name, action, application.types);
  return [
    { id: `${name} done`, span },
    ...ofPayload,
    ...refused,
    ...pointsOfSteps(action.steps, application),
  ];
}

/** The points of stored values that break a bound of their field, as far as types tell: then all is refused. */
function pointsOfStored(application: Application, store: Store): CoverPoint[] {
  const atRisk = boundsAtRisk(application, store);
  return store.fields.flatMap((field) => {
    const name = store.single ? store.name : `${store.name}.${field.name}`;
    return (atRisk.get(field.name) ?? []).map((bound) => ({
      id: `${name}${placeOf(bound)} ${bound.what}-refused`,
      span: field.span,
      mayBeRuledOut: true,
    }));
  });
}

/** The points of saved data when a store is made: it is read, refused, or of an earlier version. */
function pointsOfSaved({ name, saved }: Store): CoverPoint[] {
  if (saved === undefined) return [];
  const { span, from, old } = saved;
  const ways = [
    'read',
    'refused',
    ...from.map(({ version }) => `from-${version}`),
    ...(old === undefined ? [] : ['from-old']),
  ];
  return ways.map((way) => ({ id: `${name}.saved ${way}`, span, isStored: true }));
}

/** The points of a task: each moment, each kind of failure, a second start, a call that is made again. */
function pointsOfTask(application: Application, store: Store, task: Task): CoverPoint[] {
  const { span, operation, timeLimit, retry, requires, steps } = task;
  const name = `${store.name}.${task.name}`;
  const called = operation && operationNamed(application, operation);
  const isJudged = called?.result !== undefined || called?.results !== undefined;
  const mayRefuse = [...steps.finish, ...steps.each].some((step) =>
    allSteps([step]).some(mayBeRefused),
  );
  const point = (id: string) => ({ id: `${name}.${id}`, span, task: name });
  return [
    point('start done'),
    ...pointsOfPayload(name, task, application.types).map((one) => ({ ...one, task: name })),
    ...requires.map((needed) => ({
      id: `${needed.at} refused`,
      span: exprOf(needed).span,
      task: name,
    })),
    ...(called?.results === undefined ? [] : [point('each done')]),
    point('finish done'),
    ...(changedMeanwhile(application, store, task).length === 0
      ? []
      : [point('finish changed-meanwhile')]),
    ...(operation === undefined ? [] : [point('fail rejected')]),
    ...(timeLimit === undefined ? [] : [point('fail timeout')]),
    ...(isJudged ? [point('fail bad-result')] : []),
    ...(mayRefuse ? [point('fail refused')] : []),
    point('cancel done'),
    point(`overlap ${task.overlap}`),
    ...(task.per === undefined ? [] : [point('per beside')]),
    ...(retry === undefined ? [] : [point('retry again'), point('retry exhausted')]),
    ...moments
      .flatMap((moment) => pointsOfSteps(steps[moment], application))
      .map((one) => ({ ...one, task: name })),
  ];
}

function pointsOfSteps(steps: readonly Step[], application: Application): CoverPoint[] {
  return allSteps(steps).flatMap((step) => {
    const isGuarded =
      step.kind === 'run' &&
      named(storeNamed(application, step.store).actions, step.action).requires.length > 0;
    const outcomes = [...outcomesOf(step), ...(isGuarded ? ['refused'] : [])];
    return outcomes.map((outcome) => ({ id: `${step.at} ${outcome}`, span: step.span }));
  });
}

/** The expressions that decide, with the place in the schema that they belong to. */
function decisionsOf(application: Application): Decision[] {
  const found: Decision[] = [];
  const within = (owner: string, exprs: readonly Expr[], action?: string) => {
    for (const expr of exprs)
      walkExpr(expr, (node) => {
        const decision = decisionOf(owner, node, action);
        if (decision !== undefined) found.push(decision);
      });
  };
  const withinSteps = (steps: readonly Step[], action?: string) => {
    for (const step of allSteps(steps)) within(step.at, exprsOf(step), action);
  };
  for (const { name, value } of application.functions) within(name, [value]);
  for (const store of application.stores) {
    for (const { name, value } of store.derived) within(`${store.name}.${name}`, [value]);
    for (const action of store.actions) {
      const name = `${store.name}.${action.name}`;
      for (const needed of action.requires) within(needed.at, [exprOf(needed)], name);
      within(
        name,
        action.let.map(({ value }) => value),
      );
      withinSteps(action.steps, name);
    }
    for (const task of store.tasks) {
      const name = `${store.name}.${task.name}`;
      for (const needed of task.requires) within(needed.at, [exprOf(needed)]);
      within(name, [...task.let.map(({ value }) => value), ...exprsOfTask(task)]);
      for (const moment of moments) withinSteps(task.steps[moment]);
    }
    if (store.saved !== undefined) within(`${store.name}.saved`, madeOf(store.saved));
    for (const { steps } of store.reactions) withinSteps(steps);
  }
  return found;
}

function decisionOf(owner: string, expr: Expr, action?: string): Decision | undefined {
  if (expr.kind !== 'conditional' && expr.kind !== 'logical') return undefined;
  const decider = expr.kind === 'conditional' ? expr.test : expr.left;
  const ways =
    expr.kind === 'logical' && expr.operator === '??' ? ['there', 'absent'] : ['true', 'false'];
  const { span } = decider;
  const [one, other] = ways.map((way) => ({
    id: `${owner}: ${written(span)} ${way}`,
    span,
    ...(action === undefined ? {} : { action }),
  }));
  return { expr, sides: [one as CoverPoint, other as CoverPoint] };
}

/** The number of characters of an expression that a point shows. */
const longest = 48;

/** An expression as it stands in the schema, on one line. */
function written({ source, start, end }: Span): string {
  const text = source.text.slice(start, end).replace(/\s+/g, ' ');
  return text.length > longest ? `${text.slice(0, longest - 1)}…` : text;
}
