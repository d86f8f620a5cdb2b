import { nodesRunning, type Node, type NodeStores } from './nodes.js';
import { noting, restoring, type State, type StyleAdapter } from './style-adapter.js';

interface Stream extends Node {
  readonly latest: unknown;
}

interface Change {
  readonly action: string;
}

interface Action {
  (state: State): unknown;
  map(change: (state: State) => () => State): Change;
}

interface Streams {
  action(name: string): Action;
  accumulateAll(store: string, changes: readonly Change[]): void;
}

/** Streams: one for each field and derived value. */
export const observableAdapter: StyleAdapter = {
  adapt: (created: NodeStores, names, lazyStore) =>
    nodesRunning(created, names, lazyStore, (node) => (node as Stream | undefined)?.latest),
  runtime: 'runtime/streams',
  makeRestorable(exports, _names, made) {
    if (typeof exports.Streams !== 'function') return;
    exports.Streams = noting(exports.Streams as new () => object, (streams) => {
      made(() => {
        const action = (streams as Streams).action(restoring);
        (streams as Streams).accumulateAll(restoring, [action.map((state) => () => state)]);
        return (state) => void action(state);
      });
    });
  },
};
