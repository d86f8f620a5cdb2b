import type ts from 'typescript';
import { nearest } from '../../base/suggest.js';
import type { SlipKind } from '../survey-result.js';

/** Something that is wrong where the new stores are used. */
export interface Slip {
  readonly kind: SlipKind;
  readonly node: ts.Node;
  readonly message: string;
  readonly hint: string;
}

/** A name that the stores do not have; `known` are those that could stand there. */
export function unknownName(
  node: ts.Node,
  message: string,
  name: string,
  known: readonly string[],
): Slip {
  const meant = nearest(name, known);
  const hint = meant === undefined ? `There are: ${known.join(', ')}.` : `Did you mean '${meant}'?`;
  return { kind: 'unknown-name', node, message, hint };
}
