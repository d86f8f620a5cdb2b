import { isObject } from '../base/json.js';

/** A segment of a path with its key or position known. */
export type FoundSegment =
  | { readonly kind: 'property'; readonly name: string }
  | { readonly kind: 'item'; readonly key: string; readonly value: unknown }
  | { readonly kind: 'entry'; readonly name: string }
  | { readonly kind: 'position'; readonly index: number };

/** Thrown by {@link alter} where a path leads nowhere. No error: it is an answer. */
export class NothingThere {}

/**
 * A copy of `root` in which what stands at the path is replaced by what `change` makes of it. The last
 * property may be absent (`change` gets `undefined`); everything else must be there.
 */
export function alter(
  root: unknown,
  path: readonly FoundSegment[],
  change: (old: unknown) => unknown,
): unknown {
  const [first, ...rest] = path;
  if (first === undefined) return change(root);
  if (first.kind === 'item' || first.kind === 'position') {
    const list = root as readonly unknown[];
    const at =
      first.kind === 'position'
        ? first.index
        : list.findIndex((item) => isObject(item) && item[first.key] === first.value);
    if (!Number.isInteger(at) || at < 0 || at >= list.length) throw new NothingThere();
    return list.with(at, alter(list[at], rest, change));
  }
  const object = root as Record<string, unknown>;
  const there = Object.hasOwn(object, first.name);
  if (!there && (first.kind === 'entry' || rest.length > 0)) throw new NothingThere();
  return { ...object, [first.name]: alter(there ? object[first.name] : undefined, rest, change) };
}

/** A copy of an object without one of its properties. */
export function withoutProperty(
  object: Readonly<Record<string, unknown>>,
  name: string,
): Record<string, unknown> {
  return Object.fromEntries(Object.entries(object).filter(([key]) => key !== name));
}
