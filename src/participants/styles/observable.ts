import { nodesRunning, type Node, type NodeStores } from './nodes.js';
import type { StyleAdapter } from './style-adapter.js';

interface Stream extends Node {
  readonly latest: unknown;
}

/** Streams: one for each field and derived value. */
export const observableAdapter: StyleAdapter = {
  adapt: (created: NodeStores, names, lazyStore) =>
    nodesRunning(created, names, lazyStore, (node) => (node as Stream | undefined)?.latest),
  engine: ['runtime/streams', 'Streams'],
};
