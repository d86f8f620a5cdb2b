import { hasWithin, type Type, type TypeTable } from './types.js';

/** True if values of a type may have properties that are absent, at any depth. */
export const hasOptionalParts = (type: Type, types: TypeTable): boolean =>
  hasWithin(
    type,
    types,
    (one) => one.kind === 'record' && one.fields.some(({ optional }) => optional),
  );
