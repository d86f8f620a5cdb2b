import { nearest } from '../../base/suggest.js';
import { moves, type Move } from '../../model/history.js';
import type { Type } from '../../model/types.js';
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

/** A task that is named somewhere. */
export interface NamedTask {
  readonly store: string;
  readonly task: string;
  readonly payload: Type | undefined;
  readonly hasDefault: boolean;
}

/** The task that a text names: `load` of the store itself, or `timetable.load` of any; a problem if there is none. */
export function taskNamed(
  node: Located,
  own: StoreDeclaration,
  cx: Pick<Expressions, 'declarations' | 'problems'>,
): NamedTask | undefined {
  const name = textOf(node) ?? '';
  const dot = name.indexOf('.');
  const store = dot < 0 ? own.name : name.slice(0, dot);
  const task = name.slice(dot + 1);
  const declared = cx.declarations.stores.get(store)?.tasks.get(task);
  if (declared !== undefined) {
    const { payload, payloadDefault } = declared;
    return { store, task, payload, hasDefault: payloadDefault !== undefined };
  }
  const known = [...cx.declarations.stores.values()].flatMap((other) =>
    [...other.tasks.keys()].flatMap((one) =>
      other === own ? [one, `${other.name}.${one}`] : [`${other.name}.${one}`],
    ),
  );
  cx.problems.add('unknown-name', node.span, { name, near: nearest(name, known), textFits: false });
  return undefined;
}

/** What a text names of the history of a store: `undo` of the store itself, or `deck.redo`; nothing if it is something else. */
export function moveNamed(
  node: Located | undefined,
  own: StoreDeclaration,
  { declarations }: Pick<Expressions, 'declarations'>,
): { readonly store: string; readonly move: Move } | undefined {
  const written = textOf(node) ?? '';
  const dot = written.indexOf('.');
  const store = dot < 0 ? own.name : written.slice(0, dot);
  const move = moves.find((one) => one === written.slice(dot + 1));
  const hasHistory = declarations.stores.get(store)?.history !== undefined;
  return move === undefined || !hasHistory ? undefined : { store, move };
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
