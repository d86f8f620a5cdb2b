import type { NextState, ExpandItem, Expansion, FrontierState, WalkedBy } from './expansion.js';
import type { ScriptStep } from '../script.js';

/** How far a walk goes. */
export interface WalkScope {
  /** The store whose actions are sent; all stores if not given. */
  readonly store: string | undefined;
  /** The task of that store whose runs are tried in every order; all inputs of the store if not given. */
  readonly task?: string | undefined;
  readonly by: WalkedBy;
  /** The most steps, and the longest sequence of inputs. */
  readonly steps: number;
  readonly depth: number;
}

/** What a walk through all states, or all sequences, of a small scope came to. */
export interface Walked {
  /** The store whose actions were sent; all stores if not given. */
  readonly store: string | undefined;
  /** The task whose runs were tried in every order; none if not given. */
  readonly task: string | undefined;
  readonly by: WalkedBy;
  /** The number of steps that were done; what leads somebody anew to where something is left to try is not counted. */
  readonly steps: number;
  /** The number of states that were met, or sequences done. */
  readonly states: number;
  /** How many pairs of one of them and an input were tried. */
  readonly transitions: number;
  /** Every sequence of inputs of this length has been tried, as far as what they lead to counts once. */
  readonly depth: number;
  /** True if nothing is left: every input was tried in every state within the scope. */
  readonly isClosed: boolean;
  /** True if anything was done at all: an input changed something; of a task, that a run was started. */
  readonly isEntered: boolean;
  /** True if some states were left aside since their lists are too long. */
  readonly isBounded: boolean;
  /** The number of steps that were done before it began: 0 if it began at the start. */
  readonly begunAfter: number;
}

/** The number of states that are one work item, and how many items are done before what they led to is gone on from. */
const statesInItem = 4;
const itemsInRound = 8;

/** A task that was not started after so many inputs needs something else first. */
export const levelsForTask = 2;

/** A state, or a sequence, where something is left to try. */
interface Node {
  readonly from: { readonly node: Node; readonly input: ScriptStep } | undefined;
  readonly tried: number;
}

/**
 * Tries every input of a small set in every state that such inputs lead to, nearest states first, each state once,
 * or after every sequence of such inputs, shortest first. It says what is to be done next, and is told what came of
 * it: who does it does not matter.
 */
export class Walk {
  readonly #scope: WalkScope;
  #most: number;
  readonly #keys = new Set<string>();
  /** What is left of the present level, and what has been met of the next. */
  #level: Node[] = [{ from: undefined, tried: 0 }];
  #next: Node[] = [];
  #depth = 0;
  #states = 1;
  #steps = 0;
  #transitions = 0;
  #isBounded = false;
  #isEntered = false;
  /** What leads to where it began. */
  #base: readonly ScriptStep[] = [];
  /** The most steps that the inputs of one state have taken. */
  #mostOfStand = Infinity;
  /** What was given out last. */
  #given: readonly (readonly Node[])[] = [];

  constructor(scope: WalkScope) {
    this.#scope = scope;
    this.#most = scope.steps;
  }

  /** What can be done now, side by side; nothing if the walk is over. What came of it is told to `take`. */
  next(): readonly ExpandItem[] {
    const { by, store, task, depth } = this.#scope;
    let { left } = this;
    const given: (readonly Node[])[] = [];
    const items: ExpandItem[] = [];
    while (items.length < itemsInRound && left > 0 && this.#depth < depth) {
      const nodes = this.#level.splice(0, statesInItem);
      if (nodes.length === 0) break;
      const most = Math.min(left, nodes.length * this.#mostOfStand);
      left -= most;
      given.push(nodes);
      items.push({
        kind: 'expansion',
        by,
        store,
        task,
        base: this.#base.length,
        states: nodes.map((node) => frontierStateOf(node, this.#base)),
        steps: most,
      });
    }
    this.#given = given;
    return items;
  }

  /** The results of the work items that were given out last, in their order; fewer if not all were done. */
  take(results: readonly Pick<Expansion, 'steps' | 'transitions' | 'expanded'>[]): void {
    const left: Node[] = [];
    for (const [i, nodes] of this.#given.entries()) {
      const result = results[i];
      this.#steps += result?.steps ?? 0;
      this.#transitions += result?.transitions ?? 0;
      for (const [n, node] of nodes.entries()) {
        const expanded = result?.expanded[n];
        if (expanded !== undefined && this.#scope.by === 'state') this.#keys.add(expanded.key);
        for (const nextState of expanded?.nextStates ?? []) this.#add(node, nextState);
        if (expanded?.isDone !== true) left.push({ ...node, tried: expanded?.tried ?? node.tried });
      }
      if (result !== undefined && result.expanded.length > 0) this.#estimate(result);
    }
    this.#level.unshift(...left);
    this.#given = [];
    while (this.#level.length === 0 && this.#next.length > 0) this.#descend();
    if (this.#level.length === 0) this.#depth += 1;
  }

  /** How many of its steps it has not needed. */
  get left(): number {
    return this.#most - this.#steps;
  }

  /** True if nothing is left within its depth. */
  get isOut(): boolean {
    return this.#level.length === 0 || this.#depth >= this.#scope.depth;
  }

  /** Whether nothing could be done where it began, or nothing of its task: it may begin elsewhere, once. */
  get isVain(): boolean {
    if (this.#isEntered || this.#base.length > 0) return false;
    return this.isOut || (this.#scope.task !== undefined && this.#depth >= levelsForTask);
  }

  /** Begins anew, after some steps. */
  beginAfter(base: readonly ScriptStep[]): void {
    this.#base = base;
    this.#keys.clear();
    this.#level = [{ from: undefined, tried: 0 }];
    this.#next = [];
    this.#depth = 0;
    this.#states = 1;
    this.#isBounded = false;
  }

  /** It may take more steps. */
  grant(steps: number): void {
    this.#most += steps;
  }

  get walked(): Walked {
    const { store, task, by } = this.#scope;
    return {
      store,
      task,
      by,
      steps: this.#steps,
      states: this.#states,
      transitions: this.#transitions,
      depth: this.#depth,
      isClosed: this.#level.length === 0,
      isBounded: this.#isBounded,
      isEntered: this.#isEntered,
      begunAfter: this.#base.length,
    };
  }

  #descend(): void {
    this.#depth += 1;
    [this.#level, this.#next] = [this.#next, []];
  }

  #estimate({ steps, expanded }: Pick<Expansion, 'steps' | 'expanded'>): void {
    // A state in which nothing could be done says nothing of the next one: that gets a step at least.
    const each = Math.max(1, Math.ceil(steps / expanded.length));
    this.#mostOfStand = Math.max(Number.isFinite(this.#mostOfStand) ? this.#mostOfStand : 0, each);
  }

  #add(node: Node, { input, key, isWithin }: NextState): void {
    const { store = '', task } = this.#scope;
    const isStart = 'start' in input && input.start === `${store}.${task ?? ''}`;
    this.#isEntered ||= task === undefined || isStart;
    if (this.#scope.by === 'state') {
      if (this.#keys.has(key)) return;
      this.#keys.add(key);
    }
    this.#states += 1;
    if (!isWithin) this.#isBounded = true;
    else this.#next.push({ from: { node, input }, tried: 0 });
  }
}

function frontierStateOf(node: Node, base: readonly ScriptStep[]): FrontierState {
  const path: ScriptStep[] = [];
  for (let at = node; at.from !== undefined; at = at.from.node) path.unshift(at.from.input);
  return { path: [...base, ...path], tried: node.tried };
}
