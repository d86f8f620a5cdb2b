import { nearest } from '../base/suggest.js';
import type { Type } from '../model/types.js';
import { textOf, type Located } from '../syntax/located.js';
import type { StoreDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';

/** An action that is named somewhere, with what it takes. */
export interface NamedAction {
  readonly store: string;
  readonly action: string;
  readonly payload: Type | undefined;
  readonly hasDefault: boolean;
}

/** The action that a text names: `board` of the store itself, or `wind.measure` of any; a problem if there is none. */
export function actionNamed(
  node: Located,
  own: StoreDeclaration,
  cx: Pick<Expressions, 'declarations' | 'problems'>,
): NamedAction | undefined {
  const written = textOf(node) ?? '';
  const dot = written.indexOf('.');
  const storeName = dot < 0 ? own.name : written.slice(0, dot);
  const action = written.slice(dot + 1);
  const store = cx.declarations.stores.get(storeName);
  const declared = store?.actions.get(action);
  if (declared !== undefined) {
    const { payload, payloadDefault } = declared;
    return { store: storeName, action, payload, hasDefault: payloadDefault !== undefined };
  }
  const setter = store?.setters.get(action);
  if (setter !== undefined)
    return { store: storeName, action, payload: setter.field.type, hasDefault: false };
  const known = [...cx.declarations.stores.values()].flatMap((other) =>
    [...other.actions.keys(), ...other.setters.keys()].flatMap((name) =>
      other === own ? [name, `${other.name}.${name}`] : [`${other.name}.${name}`],
    ),
  );
  cx.problems.add('unknown-name', node.span, {
    name: written,
    near: nearest(written, known),
    textFits: false,
  });
  return undefined;
}
