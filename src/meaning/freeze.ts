/** Freezes a value through and through; stops where it is frozen already. */
export function freeze<T>(value: T): T {
  if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
  Object.freeze(value);
  for (const part of Object.values(value)) freeze(part);
  return value;
}
