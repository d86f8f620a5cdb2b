import { nearest } from '../../base/suggest.js';
import type { Action, Parameter, Reaction } from '../../model/application.js';
import { errorType, moments, type Moment, type Task } from '../../model/tasks.js';
import { union, without, type Type } from '../../model/types.js';
import { itemsOf, textOf, valueOf, type Located } from '../syntax/located.js';
import { actionNamed, moveNamed } from './action-names.js';
import type { StoreDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';
import { checkLocalName } from './infer/local-names.js';
import { emptyScope, withLocals } from './infer/scope.js';
import { lowerSteps } from './lower-steps.js';

/** What stores do that others can react to, checked already. */
export interface Done {
  readonly actions: ReadonlyMap<string, readonly Action[]>;
  readonly tasks: ReadonlyMap<string, readonly Task[]>;
}

/** Something that a reaction follows: an action, or a moment of a task, and what can be read of it. */
interface Cause {
  readonly store: string;
  readonly action: string;
  readonly given: ReadonlyMap<string, Type>;
}

/** Checks the reactions of a store. */
export function lowerReactions(store: StoreDeclaration, done: Done, cx: Expressions): Reaction[] {
  return store.reacts.map((node, i) => {
    const at = `${store.name}.reacts[${i}]`;
    const to = valueOf(node, 'to');
    const named = to?.kind === 'list' ? to.items : to === undefined ? [] : [to];
    const causes = named.flatMap((item) => causeOf(item, store, done, cx) ?? []);
    const given = givenByAll(causes);
    const outside = emptyScope(store, true);
    for (const { name } of given)
      if (name !== 'payload') checkLocalName(cx, name, outside, to?.span ?? node.span);
    const scope = withLocals(
      outside,
      given.map(({ name, type }) => [name, type] as const),
    );
    const steps = lowerSteps(itemsOf(valueOf(node, 'steps')), `${at}.steps`, scope, cx);
    return {
      to: causes.map(({ store: owner, action }) => ({ store: owner, action })),
      given,
      steps,
      at,
      span: to?.span ?? node.span,
    };
  });
}

function causeOf(
  node: Located,
  store: StoreDeclaration,
  done: Done,
  cx: Expressions,
): Cause | undefined {
  const ofTask = momentNamed(node, store, cx);
  if (ofTask !== undefined) return causeOfTask(ofTask, done, cx);
  const ofHistory = moveNamed(node, store, cx);
  if (ofHistory !== undefined) {
    const detail = `Nothing can react to '${ofHistory.store}.${ofHistory.move}': it puts fields back and does nothing else.`;
    const hint = 'Compute what depends on those fields under derived, or follow them with a task.';
    cx.problems.add('wrong-structure', node.span, { detail, hint });
    return undefined;
  }
  const target = actionNamed(node, store, cx);
  if (target === undefined) return undefined;
  if (target.store === store.name) {
    const detail = 'A store reacts to the actions of other stores.';
    const hint = 'Put the steps into the action itself.';
    cx.problems.add('wrong-structure', node.span, { detail, hint });
    return undefined;
  }
  const action = done.actions.get(target.store)?.find(({ name }) => name === target.action);
  return action && { store: target.store, action: target.action, given: givenByAction(action) };
}

/** A moment of a task. */
interface MomentName {
  readonly store: string;
  readonly task: string;
  readonly moment: Moment;
}

/** The moment that a text names: `load.finish` of the store itself, or `timetable.load.finish` of any. */
function momentNamed(
  node: Located,
  own: StoreDeclaration,
  cx: Expressions,
): MomentName | undefined {
  const parts = (textOf(node) ?? '').split('.');
  const [store = '', task = '', moment = ''] = parts.length === 2 ? [own.name, ...parts] : parts;
  if (cx.declarations.stores.get(store)?.tasks.has(task) !== true) return undefined;
  const known = moments.find((one) => one === moment);
  if (known !== undefined) return { store, task, moment: known };
  const near = nearest(moment, moments);
  const of = `The task '${task}'`;
  cx.problems.add('no-such-property', node.span, { name: moment, of, near });
  return undefined;
}

function causeOfTask({ store, task: name, moment }: MomentName, { tasks }: Done, cx: Expressions) {
  const task = tasks.get(store)?.find((one) => one.name === name);
  if (task === undefined) return undefined;
  const given = new Map<string, Type>(boundBy(task, cx));
  const { services } = cx.declarations;
  const operation = services
    .get(task.operation?.service ?? '')
    ?.operations.find((one) => one.name === task.operation?.operation);
  const result = moment === 'each' ? operation?.results : operation?.result;
  if ((moment === 'each' || moment === 'finish') && result !== undefined)
    given.set('result', result);
  if (moment === 'fail') given.set('error', errorType(operation?.error));
  return { store, action: `${name}.${moment}`, given };
}

/** What of a run can be read in all that follows: its payload, and what its requirements and its `let` bind. */
function boundBy({ payload, requires, let: bindings }: Task, cx: Expressions): [string, Type][] {
  const isMissing = ({ kind }: Type) => kind === 'absent' || kind === 'null';
  return [
    ...(payload === undefined ? [] : ([['payload', payload]] as [string, Type][])),
    ...requires.flatMap((one): [string, Type][] =>
      one.kind === 'value'
        ? [[one.binding.name, without(one.binding.value.type, cx.types, isMissing)]]
        : [],
    ),
    ...bindings.map(({ name, value }): [string, Type] => [name, value.type]),
  ];
}

function givenByAction({ payload, let: bindings }: Action): ReadonlyMap<string, Type> {
  return new Map<string, Type>([
    ...(payload === undefined ? [] : [['payload', payload] as const]),
    ...bindings.map(({ name, value }) => [name, value.type] as const),
  ]);
}

/** What is readable whichever of the causes it was. */
function givenByAll(causes: readonly Cause[]): Parameter[] {
  const [first, ...others] = causes.map(({ given }) => given);
  const common = [...(first?.keys() ?? [])].filter((name) => others.every((map) => map.has(name)));
  return common.map((name) => ({
    name,
    type: union(causes.flatMap(({ given }) => given.get(name) ?? [])),
  }));
}
