import type { Span } from '../../base/source.js';
import type { Action, Field, Requirement } from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import type { Path } from '../../model/steps.js';
import { without, type Type } from '../../model/types.js';
import { itemsOf, textOf, valueOf, type Located } from '../syntax/located.js';
import type { ActionDeclaration, StoreDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';
import { requireCondition, warnOfForegone } from './infer/operators.js';
import { assume, emptyScope, withLocals, type Scope } from './infer/scope.js';
import { lowerLet } from './lower-let.js';
import { lowerSteps } from './lower-steps.js';

/** Checks the actions of a store, those that the `setter` of a field makes included. */
export function lowerActions(store: StoreDeclaration, cx: Expressions): Action[] {
  const written = [...store.actions].map(([name, declared]) =>
    lowerAction(name, declared, store, cx),
  );
  return [
    ...written,
    ...[...store.setters].map(([name, { field, span }]) => setterAction(name, span, field, store)),
  ];
}

function setterAction(name: string, span: Span, field: Field, store: StoreDeclaration): Action {
  const path: Path = { field: field.name, segments: [], type: field.type, span, text: field.name };
  const value: Expr = { kind: 'local', name: 'payload', span, type: field.type };
  const at = `${store.name}.${name}.steps[0]`;
  return {
    name,
    span,
    about: `Stores '${field.name}'.`,
    payload: field.type,
    payloadDefault: undefined,
    acceptsText: false,
    requires: [],
    let: [],
    steps: [{ kind: 'set', at, span, entries: [{ path, value }], none: undefined }],
  };
}

function lowerAction(
  name: string,
  { span, body: node, payload, payloadDefault, acceptsText, dropsExtra }: ActionDeclaration,
  store: StoreDeclaration,
  cx: Expressions,
): Action {
  const at = `${store.name}.${name}`;
  const start = emptyScope(store, false);
  const scope = payload === undefined ? start : withLocals(start, [['payload', payload]]);
  const required = lowerRequires(itemsOf(valueOf(node, 'requires')), at, scope, cx);
  const bound = lowerLet(valueOf(node, 'let'), { ...required.scope, draws: true }, cx);
  const steps = itemsOf(node.kind === 'list' ? node : valueOf(node, 'steps'));
  return {
    name,
    span,
    about: textOf(valueOf(node, 'about')),
    payload,
    payloadDefault,
    acceptsText,
    ...(dropsExtra && { dropsExtra }),
    requires: required.requires,
    let: bound.bindings,
    steps: lowerSteps(steps, `${at}.steps`, bound.scope, cx),
  };
}

/** Checks what an action or a task requires; gives the scope in which it holds. */
export function lowerRequires(
  nodes: readonly Located[],
  at: string,
  scope: Scope,
  cx: Expressions,
) {
  const requires: Requirement[] = [];
  let here = scope;
  for (const [i, node] of nodes.entries()) {
    const otherwise = textOf(valueOf(node, 'otherwise')) ?? '';
    const base = { otherwise, at: `${at}.requires[${i}]` };
    const [condition, value] = [valueOf(node, 'that'), valueOf(node, 'let')];
    if ((condition === undefined) === (value === undefined)) {
      const detail =
        "A requirement has either 'that', which must hold, or 'let', which must be there.";
      cx.problems.add('wrong-structure', node.span, { detail });
    } else if (condition !== undefined) {
      const that = cx.read(condition, here);
      requireCondition(cx, that, "'that'");
      warnOfForegone(cx, that, here);
      here = assume(here, that, true, cx.types);
      requires.push({ kind: 'condition', ...base, that });
    } else {
      const [binding, ...more] = lowerLet(value, here, cx).bindings;
      if (binding === undefined || more.length > 0) {
        const detail = "'let' in a requirement binds one name.";
        cx.problems.add('wrong-structure', value?.span ?? node.span, { detail });
        continue;
      }
      const missing = ({ kind }: Type) => kind === 'absent' || kind === 'null';
      here = withLocals(here, [[binding.name, without(binding.value.type, cx.types, missing)]]);
      requires.push({ kind: 'value', ...base, binding });
    }
  }
  return { requires, scope: here };
}
