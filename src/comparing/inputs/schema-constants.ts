import type { Application } from '../../model/application.js';
import type { Constants } from './odd-values.js';

/** Texts longer than that are messages: nobody compares with them. */
const longest = 24;

/** The texts and numbers that the expressions of a schema have, and the keys of its lists. */
export function schemaConstants({ stores }: Application): Constants {
  const texts = new Set<string>();
  const numbers = new Set<number>();
  const keys = new Set<string>();
  const seen = new WeakSet<object>();
  const visit = (part: unknown): void => {
    if (typeof part !== 'object' || part === null || seen.has(part)) return;
    seen.add(part);
    const { kind, value, key } = part as Readonly<Record<string, unknown>>;
    const isConstant = kind === 'literal' || kind === 'constant';
    if (isConstant && typeof value === 'string' && value.length <= longest) texts.add(value);
    if (isConstant && typeof value === 'number') numbers.add(value);
    if (kind === 'list' && typeof key === 'string') keys.add(key);
    for (const own of Object.values(part)) visit(own);
  };
  visit(stores);
  return { texts: [...texts], numbers: [...numbers], keys: [...keys] };
}

/** Constants of several places; each once. */
export function allConstants(each: readonly Constants[]): Constants {
  return {
    texts: [...new Set(each.flatMap(({ texts }) => texts))],
    numbers: [...new Set(each.flatMap(({ numbers }) => numbers))],
    keys: [...new Set(each.flatMap(({ keys }) => keys))],
  };
}
