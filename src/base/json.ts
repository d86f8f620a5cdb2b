/** A JSON value, as it stands in states, payloads and results. */
export type Json = null | boolean | number | string | readonly Json[] | JsonObject;

/** A JSON object. */
export interface JsonObject {
  readonly [key: string]: Json;
}

/** True if a value is an object that is neither `null` nor a list. */
export function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** One part of a JSON Pointer (RFC 6901), escaped. */
export function escapePointer(part: string | number): string {
  return String(part).replaceAll('~', '~0').replaceAll('/', '~1');
}

/** The unescaped parts of a JSON Pointer (RFC 6901); `''` has none. */
export function pointerParts(pointer: string): string[] {
  if (pointer === '') return [];
  const parts = pointer.slice(1).split('/');
  if (!pointer.includes('~')) return parts;
  return parts.map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'));
}

/** What stands at a JSON Pointer in a value, by own properties only; `undefined` where nothing does. */
export function atPointer(root: unknown, pointer: string): unknown {
  let here: unknown = root;
  for (const part of pointerParts(pointer)) {
    if (typeof here !== 'object' || here === null || !Object.hasOwn(here, part)) return undefined;
    here = (here as Record<string, unknown>)[part];
  }
  return here;
}

/** A copy of `root` with the value at `pointer` replaced; parts that do not exist leave it unchanged. */
export function withPointer(root: unknown, pointer: string, value: unknown): unknown {
  const [first, ...rest] = pointerParts(pointer);
  if (first === undefined) return value;
  if (typeof root !== 'object' || root === null || !Object.hasOwn(root, first)) return root;
  const below = rest.map((part) => `/${escapePointer(part)}`).join('');
  const changed = withPointer((root as Record<string, unknown>)[first], below, value);
  if (Array.isArray(root)) return (root as unknown[]).with(Number(first), changed);
  return { ...root, [first]: changed };
}
