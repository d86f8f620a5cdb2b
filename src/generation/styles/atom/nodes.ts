import type { Code, Name } from '../../build/code.js';

/** How the atoms and derived values of all stores are named within the function that makes one store. */
export interface Nodes {
  node(store: string, name: string): Code;
  /** Something of what the function is given: `graph`, `stores`, `newId`. */
  around(name: string): Name;
}
