import { pointerParts } from '../../base/json.js';
import type { PatchOperation } from './log-lines.js';

/** A patch that does not fit the value that it is for. */
export class PatchError extends Error {
  constructor(readonly path: string) {
    super(`there is nothing at ${path}`);
  }
}

/** A value after some changes; parts that do not change are the same objects. Throws {@link PatchError}. */
export function applyChanges<T>(value: T, changes: readonly PatchOperation[]): T {
  // What this call has copied may be changed in place.
  const own = new Set<object>();
  let root: unknown = value;
  for (const change of changes) root = applied(root, pointerParts(change.path), 0, change, own);
  return root as T;
}

function applied(
  here: unknown,
  path: readonly string[],
  depth: number,
  change: PatchOperation,
  own: Set<object>,
): unknown {
  const key = path[depth];
  if (key === undefined) return change.op === 'remove' ? null : change.value;
  if (typeof here !== 'object' || here === null) throw new PatchError(change.path);
  const copy = copyOf(here, own);
  const isLast = depth === path.length - 1;
  if (Array.isArray(copy)) {
    const at = key === '-' ? copy.length : Number(key);
    const isAdd = isLast && change.op === 'add';
    if (!Number.isInteger(at) || at < 0 || at > copy.length - (isAdd ? 0 : 1))
      throw new PatchError(change.path);
    if (!isLast) copy[at] = applied(copy[at], path, depth + 1, change, own);
    else if (change.op === 'remove') copy.splice(at, 1);
    else copy.splice(at, isAdd ? 0 : 1, change.value);
    return copy;
  }
  const parts = copy as Record<string, unknown>;
  const isThere = Object.hasOwn(parts, key);
  if (!isThere && !(isLast && change.op === 'add')) throw new PatchError(change.path);
  if (!isLast) set(parts, key, applied(parts[key], path, depth + 1, change, own));
  else if (change.op === 'remove') delete parts[key];
  else set(parts, key, change.value);
  return parts;
}

function copyOf(here: object, own: Set<object>): object {
  if (own.has(here)) return here;
  const copy = Array.isArray(here) ? [...(here as readonly unknown[])] : { ...here };
  own.add(copy);
  return copy;
}

/** Sets an own property, `__proto__` like any other. */
function set(parts: Record<string, unknown>, key: string, value: unknown): void {
  if (key === '__proto__')
    Object.defineProperty(parts, key, {
      value,
      enumerable: true,
      configurable: true,
      writable: true,
    });
  else parts[key] = value;
}
