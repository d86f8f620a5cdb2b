import { nodesRunning, type Node, type NodeStores } from './nodes.js';
import type { StyleAdapter } from './style-adapter.js';

interface Atom extends Node {
  get(): unknown;
}

/** Atoms: one for each field, and derived values that are read alike. */
export const atomAdapter: StyleAdapter = {
  adapt: (created: NodeStores, names, lazyStore) =>
    nodesRunning(created, names, lazyStore, (node) => (node as Atom | undefined)?.get()),
  engine: ['runtime/atoms', 'Graph'],
};
