import type { Span } from '../diagnostics/source.js';
import type { Action, Requirement } from '../model/application.js';
import type { Type } from '../model/types.js';
import { entriesOf, itemsOf, textOf, valueOf, type Located } from '../syntax/located.js';
import type { StoreDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';
import { requireCondition } from './infer/operators.js';
import { assume, emptyScope, withLocals, type Scope } from './infer/scope.js';
import { lowerLet } from './lower-let.js';
import { lowerSteps } from './lower-steps.js';
import type { TypeReader } from './read-types.js';
import { refuseLater } from './refuse-later.js';

/** Checks the actions of a store. */
export function lowerActions(
  store: StoreDeclaration,
  reader: TypeReader,
  cx: Expressions,
): Action[] {
  return [...store.actions].map(([name, node]) => {
    const span = store.actionSpans.get(name) as Span;
    return lowerAction(name, span, node, store, reader, cx);
  });
}

function lowerAction(
  name: string,
  span: Span,
  node: Located,
  store: StoreDeclaration,
  reader: TypeReader,
  cx: Expressions,
): Action {
  const at = `${store.name}.${name}`;
  refuseLater('action', node, cx.problems);
  const payload = readPayload(valueOf(node, 'payload'), reader, cx);
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
    requires: required.requires,
    let: bound.bindings,
    steps: lowerSteps(steps, `${at}.steps`, bound.scope, cx),
  };
}

function readPayload(
  node: Located | undefined,
  reader: TypeReader,
  cx: Expressions,
): Type | undefined {
  if (node === undefined) return undefined;
  const written = entriesOf(node).find(({ key }) => key === 'default');
  if (written !== undefined)
    cx.problems.add('not-supported-yet', written.keySpan, { what: "A payload's 'default'" });
  return reader.read(node, true);
}

function lowerRequires(nodes: readonly Located[], at: string, scope: Scope, cx: Expressions) {
  const requires: Requirement[] = [];
  let here = scope;
  for (const [i, node] of nodes.entries()) {
    if (refuseLater('requirement', node, cx.problems)) continue;
    const condition = valueOf(node, 'that');
    if (condition === undefined) {
      cx.problems.add('wrong-structure', node.span, {
        detail: "A requirement says 'that' something holds.",
      });
      continue;
    }
    const that = cx.read(condition, here);
    requireCondition(cx, that, "'that'");
    here = assume(here, that, true, cx.types);
    requires.push({
      that,
      otherwise: textOf(valueOf(node, 'otherwise')) ?? '',
      at: `${at}.requires[${i}]`,
    });
  }
  return { requires, scope: here };
}
