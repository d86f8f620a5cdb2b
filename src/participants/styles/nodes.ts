import type { Followed, Outcome, Running, Target } from '../../model/participant.js';
import type { Names } from '../names.js';
import {
  actionOf,
  byHandles,
  eachDerived,
  eachTask,
  splitTarget,
  type Act,
  type Changed,
  type LazyStoreOf,
  type State,
} from './style-adapter.js';

/** An atom or a stream: something that has a value and can be watched. */
export interface Node extends Followed {
  watch(changed: Changed): () => void;
}

type Member = Node & Act & ((...args: readonly unknown[]) => Node);

/** Stores in which each field and derived value is an object of its own. */
export interface NodeStores {
  readonly close?: () => void;
  /** A lazy store is null until it is attached. */
  readonly stores: Readonly<Record<string, Readonly<Record<string, Member>> | null>>;
  readonly attach?: (store: unknown) => Outcome;
  readonly states: Readonly<Record<string, Node>>;
  readonly state: Node;
}

/** Runs such stores; `valueOf` reads an atom or a stream. */
export function nodesRunning(
  made: NodeStores,
  names: Names,
  lazyStore: LazyStoreOf,
  valueOf: (node: Node | undefined) => unknown,
): Running {
  const { stores, state, close, attach } = made;
  const isThere = (owner: string) => stores[owner] !== null;
  return {
    send: (owner, action, payload) => actionOf(stores, owner, action)(payload),
    read: () => valueOf(state) as State,
    derive: eachDerived(names, isThere, (owner, name) => {
      const node = stores[owner]?.[name];
      return () => valueOf(node);
    }),
    ...byHandles(stores),
    tasks: eachTask(names, isThere, (owner, task) => {
      const read = (reading: string) => valueOf(partOf(stores[owner]?.[task], reading));
      return { running: read('running'), runs: read('runs'), waiting: read('waiting') } as never;
    }),
    attach: (store) => attach?.(lazyStore(store)),
    close: () => close?.(),
    ask: (owner, name, args) => valueOf(stores[owner]?.[name]?.(...args)),
    watch: (target, changed) => nodeOf(made, target)?.watch(changed) ?? (() => undefined),
    follow: (target) => nodeOf(made, target),
    json: () => JSON.stringify(state),
  };
}

/** A target as an object of its own. */
function nodeOf({ stores, states, state }: NodeStores, target: Target): Node | undefined {
  if (target === '*') return state;
  const [owner, name, reading] = splitTarget(target);
  const member = name === undefined ? states[owner] : stores[owner]?.[name];
  return reading === undefined ? member : partOf(member, reading);
}

function partOf(member: Node | undefined, name: string): Node | undefined {
  return member === undefined ? undefined : (Reflect.get(member, name) as Node | undefined);
}
