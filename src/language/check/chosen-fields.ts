import { nearest } from '../../base/suggest.js';
import type { Problems } from '../problems/problem.js';
import { itemsOf, textOf, type Located } from '../syntax/located.js';
import type { StoreDeclaration } from './declarations.js';

/** The fields of a store that a list names, in schema order; all of them if there is no list. */
export function chosenFields(
  { fields }: StoreDeclaration,
  list: Located | undefined,
  problems: Problems,
): readonly string[] {
  const names = [...fields.keys()];
  if (list === undefined) return names;
  const chosen = new Set<string>();
  for (const item of itemsOf(list)) {
    const name = textOf(item) ?? '';
    chosen.add(name);
    if (!fields.has(name))
      problems.add('unknown-name', item.span, {
        name,
        near: nearest(name, names),
        textFits: false,
      });
  }
  return names.filter((name) => chosen.has(name));
}
