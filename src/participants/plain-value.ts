import { thrownText } from '../base/thrown-text.js';

/**
 * A value of the user's as it is compared: a property that is `undefined` counts as absent, what is no JSON
 * data is named. The value itself where there is nothing of both in it.
 */
export function plainValue(value: unknown): unknown {
  try {
    return plainPart(value, []);
  } catch (error) {
    return { notJson: `something that throws when it is read (${thrownText(error)})` };
  }
}

function plainPart(value: unknown, around: readonly object[]): unknown {
  if (typeof value !== 'object' || value === null)
    return isOdd(value) ? { notJson: typeof value } : value;
  if (around.includes(value)) return { notJson: 'a cycle' };
  const name = oddName(value);
  if (name !== undefined) return { notJson: name };
  const inside = [...around, value];
  let changed: unknown[] | Record<string, unknown> | undefined;
  for (const [key, part] of Object.entries(value) as [string, unknown][]) {
    const plain = plainPart(part, inside);
    if (plain === part && part !== undefined) continue;
    changed ??= Array.isArray(value) ? [...(value as unknown[])] : { ...value };
    if (part === undefined && !Array.isArray(changed)) Reflect.deleteProperty(changed, key);
    else (changed as Record<string, unknown>)[key] = plain;
  }
  return changed ?? value;
}

const isOdd = (value: unknown): boolean =>
  typeof value === 'function' || typeof value === 'symbol' || typeof value === 'bigint';

/** The name of a class whose instances hold what no JSON object has. */
function oddName(value: object): string | undefined {
  const odd = [Map, Set, Date, RegExp, Promise, WeakMap, WeakSet, ArrayBuffer];
  return odd.find((one) => value instanceof one)?.name;
}
