// Where nothing is judged, what comes in may still have properties that are undefined: they are absent.

/** A value without properties that are undefined, at every depth; itself if it has none. */
export function withoutAbsent(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  if (Array.isArray(value)) {
    const items = value.map(withoutAbsent);
    return items.some((item, i) => item !== value[i]) ? items : value;
  }
  const before = Object.entries(value);
  const parts = before
    .filter(([, part]) => part !== undefined)
    .map(([name, part]) => [name, withoutAbsent(part)] as const);
  const isSame =
    parts.length === before.length && parts.every(([, part], i) => part === before[i]?.[1]);
  return isSame ? value : Object.fromEntries(parts);
}
