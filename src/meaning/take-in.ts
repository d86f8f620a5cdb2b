/** What stands for a part that is no JSON data: it fits no type. */
export const notJson = Symbol('not JSON');

/**
 * A value that comes in, as JSON data: properties that are `undefined` are left out. In the place of a number that is
 * not finite, a hole, a cycle, a function or an object that is not plain stands {@link notJson}.
 */
export function takeIn(value: unknown, around: readonly unknown[] = []): unknown {
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return value;
  if (typeof value === 'number') return Number.isFinite(value) ? value : notJson;
  if (typeof value !== 'object' || around.includes(value)) return notJson;
  const inner = [...around, value];
  if (Array.isArray(value))
    return Array.from({ length: value.length }, (_, i) =>
      i in value ? takeIn(value[i], inner) : notJson,
    );
  const prototype: unknown = Object.getPrototypeOf(value);
  if (prototype !== null && Object.getPrototypeOf(prototype) !== null) return notJson;
  if (Object.getOwnPropertySymbols(value).length > 0) return notJson;
  const copy: Record<string, unknown> = { ...value };
  for (const key of Object.keys(copy)) {
    const part = copy[key];
    if (part === undefined) delete copy[key];
    else if (key !== '__proto__') copy[key] = takeIn(part, inner);
  }
  return copy;
}
