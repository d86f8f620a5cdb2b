import type { Running } from '../../model/participant.js';
import type { Names } from '../names.js';
import {
  actionOf,
  eachDerived,
  splitTarget,
  type Act,
  type Changed,
  type State,
} from './style-adapter.js';

/** An atom or a stream: something that has a value and can be watched. */
export interface Node {
  watch(changed: Changed): () => void;
}

type Member = Node & Act & ((...args: readonly unknown[]) => Node);

/** Stores in which each field and derived value is an object of its own. */
export interface NodeStores {
  readonly stores: Readonly<Record<string, Readonly<Record<string, Member>>>>;
  readonly states: Readonly<Record<string, Node>>;
  readonly state: Node;
}

/** Runs such stores; `valueOf` reads an atom or a stream. */
export function nodesRunning(
  { stores, states, state }: NodeStores,
  names: Names,
  valueOf: (node: Node | undefined) => unknown,
): Running {
  return {
    send: (owner, action, payload) => actionOf(stores, owner, action)(payload),
    read: () => valueOf(state) as State,
    derive: eachDerived(names, (owner, name) => {
      const node = stores[owner]?.[name];
      return () => valueOf(node);
    }),
    ask: (owner, name, args) => valueOf(stores[owner]?.[name]?.(...args)),
    watch(target, changed) {
      if (target === '*') return state.watch(changed);
      const [owner, name] = splitTarget(target);
      const node = name === undefined ? states[owner] : stores[owner]?.[name];
      return node?.watch(changed) ?? (() => undefined);
    },
  };
}
