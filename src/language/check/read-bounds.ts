// What a type says of its values beside their kind: bounds and formats.
import { nearest } from '../../base/suggest.js';
import type { Span } from '../../base/source.js';
import {
  formats,
  type Format,
  type ListBounds,
  type NumberBounds,
  type StringBounds,
} from '../../model/types.js';
import { textOf, valueOf, type LocatedMap } from '../syntax/located.js';

export const numberKeywords = [
  'minimum',
  'maximum',
  'exclusiveMinimum',
  'exclusiveMaximum',
  'multipleOf',
];
export const textKeywords = ['minLength', 'maxLength'];
export const listKeywords = ['minItems', 'maxItems', 'uniqueItems'];

/** Who is told that something is no type. */
export type Refuse = (span: Span, detail: string, hint?: string) => void;

/** The bounds of a number. */
export function numberBounds(map: LocatedMap, refuse: Refuse): NumberBounds {
  return bounds(map, numberKeywords, refuse);
}

/** The bounds of a text, and its format. */
export function textBounds(map: LocatedMap, refuse: Refuse): StringBounds {
  return { ...bounds(map, textKeywords, refuse), ...format(map, refuse) };
}

/** The bounds of a list. */
export function listBounds(map: LocatedMap, refuse: Refuse): ListBounds {
  const unique = valueOf(map, 'uniqueItems');
  const isUnique = unique?.kind === 'scalar' ? unique.value : undefined;
  if (unique !== undefined && typeof isUnique !== 'boolean')
    refuse(unique.span, "'uniqueItems' is true or false.");
  return {
    ...bounds(map, ['minItems', 'maxItems'], refuse),
    ...(isUnique === true ? { uniqueItems: true } : {}),
  };
}

function format(map: LocatedMap, refuse: Refuse): { format?: Format } {
  const node = valueOf(map, 'format');
  if (node === undefined) return {};
  const found = formats.find((name) => name === textOf(node));
  if (found !== undefined) return { format: found };
  const near = nearest(textOf(node) ?? '', [...formats]);
  const hint = near === undefined ? undefined : `Did you mean '${near}'?`;
  refuse(node.span, `'format' is one of: ${formats.join(', ')}.`, hint);
  return {};
}

function bounds(
  map: LocatedMap,
  keywords: readonly string[],
  refuse: Refuse,
): Record<string, number> {
  const found: Record<string, number> = {};
  for (const { key, value } of map.entries.filter((entry) => keywords.includes(entry.key))) {
    const bound = value.kind === 'scalar' ? value.value : undefined;
    const fine =
      typeof bound === 'number' && Number.isFinite(bound) && (key !== 'multipleOf' || bound > 0);
    const counts = !numberKeywords.includes(key);
    const count = !counts || (Number.isInteger(bound) && (bound as number) >= 0);
    if (fine && count) found[key] = bound;
    else refuse(value.span, `'${key}' takes ${counts ? 'a whole number from 0' : 'a number'}.`);
  }
  return found;
}
