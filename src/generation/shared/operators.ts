// The operators of TypeScript: how tightly they bind, and how they are written.
import type { BinaryOperator, LogicalOperator } from '../../model/expressions.js';
import { code, type Code } from '../build/code.js';

/** How tightly operators bind. */
export const precedences: Readonly<Record<BinaryOperator | LogicalOperator, number>> = {
  '??': 2,
  '||': 3,
  '&&': 4,
  '===': 8,
  '!==': 8,
  '<': 9,
  '<=': 9,
  '>': 9,
  '>=': 9,
  '+': 11,
  '-': 11,
  '*': 12,
  '/': 12,
  '%': 12,
  '**': 13,
};
/** How tightly other expressions bind. */
export const conditional = 1;
export const unary = 14;
export const access = 17;
export const primary = 18;

export const operatorCode: Readonly<Record<BinaryOperator | LogicalOperator, Code>> = {
  '??': code`??`,
  '||': code`||`,
  '&&': code`&&`,
  '===': code`===`,
  '!==': code`!==`,
  '<': code`<`,
  '<=': code`<=`,
  '>': code`>`,
  '>=': code`>=`,
  '+': code`+`,
  '-': code`-`,
  '*': code`*`,
  '/': code`/`,
  '%': code`%`,
  '**': code`**`,
};
