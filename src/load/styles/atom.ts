import { nodesRunning, type Node, type NodeStores } from './nodes.js';
import { noting, placesIn, restoring, type State, type StyleAdapter } from './style-adapter.js';

interface Atom extends Node {
  get(): unknown;
  set(value: unknown): void;
}

interface Graph {
  action(name: string, work: (state: State) => void): (state: State) => unknown;
}

/** Atoms: one for each field, and derived values that are read alike. */
export const atomAdapter: StyleAdapter = {
  adapt: (created: NodeStores, names, lazyStore) =>
    nodesRunning(created, names, lazyStore, (node) => (node as Atom | undefined)?.get()),
  runtime: 'runtime/atoms',
  makeRestorable(exports, names, made) {
    if (typeof exports.Graph !== 'function') return;
    exports.Graph = noting(exports.Graph as new () => object, (graph) => {
      made(({ stores }: NodeStores) => {
        const atoms = placesIn(names).flatMap(({ store, field, read }) => {
          const atom = stores[store]?.[field] as unknown as Atom | undefined;
          return atom === undefined ? [] : [{ atom, read }];
        });
        const restore = (graph as Graph).action(restoring, (state) => {
          for (const { atom, read } of atoms) {
            const value = read(state);
            if (atom.get() !== value) atom.set(value);
          }
        });
        return (state) => void restore(state);
      });
    });
  },
};
