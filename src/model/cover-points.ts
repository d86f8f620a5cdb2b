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
import { cornersOf, written, type Corner, type CornerKind } from './corners.js';
import { expressionsOf } from './expressions-of.js';
import { walkExpr, type Expr } from './expressions.js';
import { allSteps, mayBeRefused, outcomesOf } from './step-kinds.js';
import { boundsIn, placeOf } from './bounds.js';
import { boundsAtRisk } from './stored-bounds.js';
import { changedMeanwhile } from './changed-meanwhile.js';
import type { Step } from './steps.js';
import type { TypeTable } from './types.js';
import { moments, type Task } from './tasks.js';

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
  /** Of a side of a corner, its kind: a search goes there; it is counted apart. */
  readonly corner?: CornerKind;
}

/** Who is told what a run reaches. */
export interface Reach {
  /** The point `deck.admit done` is told as `deck.admit` and `done`. */
  readonly point: (at: string, what: string) => void;
  /** An expression that decides went the first way (true, there), or the second. */
  readonly decided: (expr: Expr, way: boolean) => void;
  /** The right side of `&&` or `||` was evaluated, since the left one did not decide. */
  readonly right: (expr: Expr, value: unknown) => void;
  /** Two values were compared. */
  readonly compared: (expr: Expr, left: unknown, right: unknown) => void;
  /** Items of a list were tested: `isMeant` says of one whether it matches, as often as it is asked. */
  readonly picked: (
    test: Expr,
    items: readonly unknown[],
    isMeant: (item: never, i: number) => unknown,
  ) => void;
  /** The value of an expression was stored in place of another. */
  readonly stored: (value: Expr, now: unknown, before: unknown) => void;
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
  readonly corners: readonly Corner[];
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
  const corners = cornersOf(application);
  return { points, decisions: decisionsOf(application), corners };
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
const decisionsOf = (application: Application): Decision[] =>
  expressionsOf(application).flatMap(({ owner, exprs, action }) => {
    const found: Decision[] = [];
    for (const expr of exprs)
      walkExpr(expr, (node) => {
        const decision = decisionOf(owner, node, action);
        if (decision !== undefined) found.push(decision);
      });
    return found;
  });

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
