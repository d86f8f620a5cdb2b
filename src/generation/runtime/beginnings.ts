// Stores that begin with a state that the application is given, in place of their defaults.
import type { Engine } from './engine.js';
import { fieldTypes, fittingFields, type Fields } from './stored-fields.js';

/** What stores begin with. */
export interface BeginOptions {
  /** The state to begin from, by store; stores that are missing, and what does not fit, begin with their defaults. */
  readonly state?: object | undefined;
}

/** Has stores begin with the state that they are given. */
export function beginFrom({ begins, checks, turns }: Engine, { state }: BeginOptions): void {
  begins.push((store, isValue) => {
    const own = (state as Fields | undefined)?.[store];
    if (own === undefined || (own === null && !isValue)) return {};
    try {
      const types = fieldTypes(checks[store], isValue);
      return fittingFields(isValue ? { value: own } : own, types);
    } catch (error) {
      turns.report({ kind: 'storage', at: `${store}.state`, error });
      return {};
    }
  });
}
