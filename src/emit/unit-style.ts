import type { Derived } from '../model/application.js';
import type { Code } from './code.js';
import type { Names } from './identifiers.js';
import type { Imports } from './imports.js';
import type { Project } from './project.js';

/** What differs between the styles in which each field is a unit of its own: atoms and streams. */
export interface UnitStyle {
  /** The object that units belong to, and its class. */
  readonly owner: string;
  readonly ownerType: string;
  /** The type in which fields and derived values are handed out. */
  readonly unitType: string;
  /** The transaction that an action is given, its class and its methods. */
  readonly transactionType: string;
  readonly transaction: string;
  readonly read: string;
  readonly write: string;
  /** How the unit of a field is made. */
  field(name: Code, initial: Code): Code;
  /** How the unit of a derived value is made. */
  derived(name: Code, derived: Derived, units: Units, imports: Imports, project: Project): Code;
  /** How the unit is made that holds the answer for some arguments. */
  answer(name: Code, answers: Code, type: Code, args: Code): Code;
  /** How a unit is made whose value is an object of those of others. */
  gathered(
    name: Code,
    type: Code,
    parts: readonly { readonly name: string; readonly unit: Code }[],
  ): Code;
}

/** How the units of all stores are named within the function that makes one store. */
export interface Units {
  unit(store: string, name: string): Code;
  readonly names: Names;
}
