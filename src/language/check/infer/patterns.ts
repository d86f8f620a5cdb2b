import type { ArrayPattern, ObjectPattern, Pattern } from 'acorn';
import type { Expr } from '../../../model/expressions.js';
import { literal } from '../../../model/types.js';
import { partAt, partNamed } from './access.js';
import type { Inference } from './inference.js';

/** A name that a pattern binds, with the part that it stands for. */
export interface BoundPart {
  readonly name: string;
  readonly pattern: Pattern;
  readonly part: Expr;
}

/** The names that a pattern binds in a value: `{ plate, lane: where }`, `[key, metres]`. */
export function partsOf(cx: Inference, pattern: Pattern, value: Expr): readonly BoundPart[] {
  switch (pattern.type) {
    case 'Identifier':
      return [{ name: pattern.name, pattern, part: value }];
    case 'ObjectPattern':
      return partsOfObject(cx, pattern, value);
    case 'ArrayPattern':
      return partsOfList(cx, pattern, value);
    default:
      // The list of what is allowed leaves nothing else.
      return [];
  }
}

function partsOfObject(cx: Inference, pattern: ObjectPattern, value: Expr): readonly BoundPart[] {
  return pattern.properties.flatMap((property) => {
    if (property.type !== 'Property') return [];
    const key = property.key as { name?: string; value?: unknown };
    const name = key.name ?? String(key.value);
    return partsOf(cx, property.value, partNamed(cx, value, name, property.key));
  });
}

function partsOfList(cx: Inference, pattern: ArrayPattern, value: Expr): readonly BoundPart[] {
  return pattern.elements.flatMap((element, i) => {
    if (element === null) return [];
    const index: Expr = { kind: 'literal', value: i, span: cx.spanOf(element), type: literal(i) };
    return partsOf(cx, element, partAt(cx, value, index, element));
  });
}
