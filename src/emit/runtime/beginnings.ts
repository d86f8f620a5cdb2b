// The values that stores begin with in place of their defaults: from the state that the application is given, and from storage.
// <given>
import type { StoreChecks } from './value-types.js';
// </given>
// <saved>
import type { SavedStores } from './saved.js';
// </saved>
import {
  type Fields,
  // <given>
  fieldTypes,
  fittingFields,
  // </given>
} from './stored-fields.js';
// <given>
import type { Options, Turns } from './transaction.js';
// </given>

/** Reads the fields that stores begin with. A store that is one value has one field here, `value`. */
export class Beginnings {
  // <given>
  readonly #turns: Turns;
  readonly #options: Options;
  readonly #checks: Readonly<Record<string, StoreChecks>>;
  // </given>
  // <saved>
  readonly #saved: SavedStores;
  // </saved>

  constructor(
    // <given>
    turns: Turns,
    options: Options,
    checks: Readonly<Record<string, StoreChecks>>,
    // </given>
    // <saved>
    saved: SavedStores,
    // </saved>
  ) {
    // <given>
    this.#turns = turns;
    this.#options = options;
    this.#checks = checks;
    // </given>
    // <saved>
    this.#saved = saved;
    // </saved>
  }

  /** The fields of a store that do not begin with their defaults. */
  of(store: string, isValue: boolean): Fields {
    return {
      // <given>
      ...this.#given(store, isValue),
      // </given>
      // <saved>
      ...this.#saved.of(store, isValue),
      // </saved>
    };
  }

  /** The state that a store begins with. */
  begun(store: string, initial: unknown, isValue = false): unknown {
    const fields = this.of(store, isValue);
    if (!isValue) return { ...(initial as Fields), ...fields };
    const { value = initial } = fields as { readonly value?: unknown };
    return value;
  }
  // <given>

  #given(store: string, isValue: boolean): Fields {
    const own = (this.#options.state as Fields | undefined)?.[store];
    if (own === undefined || (own === null && !isValue)) return {};
    try {
      const types = fieldTypes(this.#checks[store], isValue);
      return fittingFields(isValue ? { value: own } : own, types);
    } catch (error) {
      this.#turns.report({ kind: 'storage', at: `${store}.state`, error });
      return {};
    }
  }
  // </given>
}
