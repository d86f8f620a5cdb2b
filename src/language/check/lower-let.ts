import type { Binding } from '../../model/steps.js';
import { membersOf, unknown } from '../../model/types.js';
import { entriesOf, type Located } from '../syntax/located.js';
import type { Expressions } from './expressions.js';
import { checkLocalName } from './infer/local-names.js';
import { withLocals, type Scope } from './infer/scope.js';

/** Checks the names that a `let` binds, each of which the ones after it can use; gives the scope with all of them. */
export function lowerLet(node: Located | undefined, scope: Scope, cx: Expressions) {
  const bindings: Binding[] = [];
  let here = scope;
  for (const { key, keySpan, value } of entriesOf(node)) {
    checkLocalName(cx, key, here, keySpan);
    const expr = cx.read(value, here);
    const missing = membersOf(expr.type, cx.types).some(({ kind }) => kind === 'unknown');
    bindings.push({ name: key, value: expr });
    here = withLocals(here, [[key, missing ? unknown : expr.type]]);
  }
  return { bindings, scope: here };
}
