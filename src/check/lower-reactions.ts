import type { Action, Parameter, Reaction } from '../model/application.js';
import { union, type Type } from '../model/types.js';
import { itemsOf, valueOf, type Located } from '../syntax/located.js';
import { actionNamed } from './action-names.js';
import type { StoreDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';
import { checkLocalName } from './infer/local-names.js';
import { emptyScope, withLocals } from './infer/scope.js';
import { lowerSteps } from './lower-steps.js';

/** Checks the reactions of a store to the actions of others, which are checked already. */
export function lowerReactions(
  store: StoreDeclaration,
  actions: ReadonlyMap<string, readonly Action[]>,
  cx: Expressions,
): Reaction[] {
  return store.reacts.map((node, i) => {
    const at = `${store.name}.reacts[${i}]`;
    const to = valueOf(node, 'to');
    const named = to?.kind === 'list' ? to.items : to === undefined ? [] : [to];
    const targets = named.flatMap((item) => targetOf(item, store, actions, cx));
    const given = givenBy(targets.map(({ action }) => action));
    const outside = emptyScope(store, true);
    for (const { name } of given)
      if (name !== 'payload') checkLocalName(cx, name, outside, to?.span ?? node.span);
    const scope = withLocals(
      outside,
      given.map(({ name, type }) => [name, type] as const),
    );
    const steps = lowerSteps(itemsOf(valueOf(node, 'steps')), `${at}.steps`, scope, cx);
    return {
      to: targets.map((target) => ({ store: target.store, action: target.action.name })),
      given,
      steps,
      at,
      span: to?.span ?? node.span,
    };
  });
}

function targetOf(
  node: Located,
  store: StoreDeclaration,
  actions: ReadonlyMap<string, readonly Action[]>,
  cx: Expressions,
): { readonly store: string; readonly action: Action }[] {
  const target = actionNamed(node, store, cx);
  if (target === undefined) return [];
  if (target.store === store.name) {
    const detail = 'A store reacts to the actions of other stores.';
    const hint = 'Put the steps into the action itself.';
    cx.problems.add('wrong-structure', node.span, { detail, hint });
    return [];
  }
  const action = actions.get(target.store)?.find(({ name }) => name === target.action);
  return action === undefined ? [] : [{ store: target.store, action }];
}

/** What is readable whichever of the actions it was: the payload and the names of `let` that all of them have. */
function givenBy(actions: readonly Action[]): Parameter[] {
  const each = actions.map(
    (action) =>
      new Map<string, Type>([
        ...(action.payload === undefined ? [] : [['payload', action.payload] as const]),
        ...action.let.map(({ name, value }) => [name, value.type] as const),
      ]),
  );
  const [first, ...others] = each;
  const common = [...(first?.keys() ?? [])].filter((name) => others.every((map) => map.has(name)));
  return common.map((name) => ({
    name,
    type: union(each.flatMap((map) => map.get(name) ?? [])),
  }));
}
