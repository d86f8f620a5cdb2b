import type { Span } from '../../../base/source.js';
import { globalNames, whyNoName } from '../names.js';
import type { Inference } from './inference.js';
import type { Scope } from './scope.js';

/** Reports a local name that is no name, or that would hide another. */
export function checkLocalName(
  cx: Pick<Inference, 'problems' | 'declarations'>,
  name: string,
  scope: Scope,
  span: Span,
  siblings: readonly string[] = [],
): void {
  const why = whyNoName(name);
  if (why !== undefined) {
    cx.problems.add('bad-name', span, { name, why });
    return;
  }
  const { store } = scope;
  const owner = [store.fields, store.derived, store.constants, store.tasks]
    .find((names) => names.has(name))
    ?.get(name);
  const named = cx.declarations.functions.get(name);
  const local = scope.locals.has(name) || siblings.includes(name);
  const other = name === store.name ? undefined : cx.declarations.stores.get(name);
  if (owner !== undefined || other !== undefined || named !== undefined) {
    const by =
      owner !== undefined
        ? `something in the store '${store.name}'`
        : other === undefined
          ? 'a function'
          : 'a store';
    const first = (owner ?? other ?? named)?.span;
    cx.problems.add(
      'name-taken',
      span,
      { name, by },
      first === undefined ? [] : [{ message: 'first defined here', span: first }],
    );
  } else if (globalNames.has(name))
    cx.problems.add('name-taken', span, { name, by: 'something in the expression language' });
  else if (local) cx.problems.add('name-taken', span, { name, by: 'a name that is in use here' });
}
