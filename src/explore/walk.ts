import { canonicalText } from '../base/canonical.js';
import { isObject } from '../base/json.js';
import type { Difference } from './difference.js';
import { choicesOf, smallInputs, type Choice } from './inputs.js';
import { replay } from './replay.js';
import { isSend, type ScriptStep, type SendStep } from './script.js';
import { Session } from './session.js';
import { stateKey } from './state-key.js';
import type { Finding, Searching } from './searching.js';

/**
 * What counts once: each `state`, whatever has led to it, but for generated names; or each `sequence` of inputs that
 * change something, even if it leads back: that finds what hides in the past.
 */
export type WalkedBy = 'state' | 'sequence';

/** What a walk through all states of a small scope came to. */
export interface Walked {
  readonly finding: Finding;
  /** The store whose actions were sent; all stores if not given. */
  readonly store: string | undefined;
  readonly by: WalkedBy;
  /** How many steps were done, those that lead back to where something is left to try among them. */
  readonly steps: number;
  /** How many states were met, or sequences done. */
  readonly states: number;
  /** How many pairs of one of them and an input were tried. */
  readonly transitions: number;
  /** Every sequence of inputs of this length has been tried, as far as what they lead to counts once. */
  readonly depth: number;
  /** Whether nothing is left: every input was tried in every state within the scope. */
  readonly isClosed: boolean;
  /** Whether some states were left aside since their lists are too long. */
  readonly isBounded: boolean;
}

/** How far a walk goes. */
interface Scope {
  /** The store whose actions are sent; all stores if not given. */
  readonly store: string | undefined;
  readonly by: WalkedBy;
  /** The most steps, and the longest sequence of inputs. */
  readonly steps: number;
  readonly depth: number;
}

/** States whose lists and dictionaries have more items than that are not gone on from. */
export const mostItems = 3;

/** A session that is this long is ended: what it found would take long to shrink. */
const mostSteps = 600;

/** At most so many states are looked through for a way back. */
const mostLookedThrough = 400;

/** How many steps are done between two looks at the clock. */
const betweenLooks = 50;

interface Node {
  readonly key: string;
  readonly depth: number;
  /** Whether it is small enough to be gone on from. */
  readonly isWithin: boolean;
  /** What has not been tried, the next one last; not known before it is gone on from. */
  untried: SendStep[] | undefined;
  readonly edges: { readonly input: SendStep; readonly to: Node }[];
  /** How it was reached first; none from the start. */
  readonly from: { readonly node: Node; readonly input: SendStep } | undefined;
}

/**
 * Tries every input of a small set in every state that such inputs lead to, nearest states first, each state once,
 * or after every sequence of such inputs, shortest first. Participants are not put into states: they are led there, so that each state is met with many pasts.
 */
export async function walk(
  searching: Searching,
  scope: Scope,
  isOver: () => Promise<boolean>,
): Promise<Walked> {
  const walk = new Walk(searching, scope);
  for (let i = 1; walk.isGoingOn(); i++) {
    if (i % betweenLooks === 0 && (await isOver())) break;
    walk.go();
  }
  return walk.result();
}

class Walk {
  readonly #searching: Searching;
  readonly #scope: Scope;
  readonly #choices: readonly Choice[];
  readonly #nodes = new Map<string, Node>();
  /** The states where something is left to try, by their depth. */
  readonly #open: Set<Node>[] = [];
  #level = 0;
  #session: Session;
  #here: Node;
  #done: ScriptStep[] = [];
  #steps = 0;
  #transitions = 0;
  #isBounded = false;
  #difference: Difference | undefined;
  readonly #untold = new Map<string, number>();

  constructor(searching: Searching, scope: Scope) {
    const { store } = scope;
    this.#searching = searching;
    this.#scope = scope;
    this.#choices = choicesOf(searching.application, searching.participants).filter(
      (choice) => store === undefined || choice.store.name === store,
    );
    this.#session = this.#start();
    this.#here = this.#nodeOf(this.#session.state, undefined);
  }

  isGoingOn(): boolean {
    while (this.#level < this.#open.length && this.#open[this.#level]?.size === 0) this.#level++;
    const isLeft = this.#level < this.#open.length && this.#level < this.#scope.depth;
    return isLeft && this.#steps < this.#scope.steps && this.#difference === undefined;
  }

  /** Tries one input, here or in the nearest state where one is left. */
  go(): void {
    if (this.#done.length >= mostSteps) this.#restart();
    if (!this.#isWanted(this.#here)) this.#lead();
    if (this.#difference !== undefined || this.#steps >= this.#scope.steps) return;
    const node = this.#here;
    // The way may have led elsewhere, if names or times mattered by more than their order.
    if (!this.#isWanted(node)) return;
    const untried = (node.untried ??= this.#inputs());
    const input = untried.pop();
    if (untried.length === 0) this.#open[node.depth]?.delete(node);
    if (input === undefined) return;
    if (!this.#do(input, false) || this.#difference !== undefined) return;
    const next = this.#nodeOf(this.#session.state, { node, input });
    if (next !== node) node.edges.push({ input, to: next });
    this.#here = next;
  }

  #isWanted(node: Node): boolean {
    const isLeft = node.isWithin && node.untried?.length !== 0;
    return isLeft && node.depth === this.#level;
  }

  /** Does an input; whether it changed anything. On a way that is known it is only done, not looked at. */
  #do(input: SendStep, isKnown: boolean): boolean {
    this.#steps++;
    const { done, changed, difference } = this.#session.step(
      input,
      isKnown ? { look: 'nothing' } : {},
    );
    if (done) this.#done.push(input);
    if (done && !isKnown) this.#transitions++;
    this.#difference = difference;
    return changed;
  }

  #nodeOf(state: Readonly<Record<string, unknown>>, from: Node['from']): Node {
    const key = this.#keyOf(state, from);
    const known = this.#nodes.get(key);
    if (known !== undefined) return known;
    const isWithin = Object.values(state).every(isSmall);
    if (!isWithin) this.#isBounded = true;
    const depth = from === undefined ? 0 : from.node.depth + 1;
    const node: Node = { key, depth, isWithin, untried: undefined, edges: [], from };
    this.#nodes.set(key, node);
    if (isWithin) (this.#open[depth] ??= new Set()).add(node);
    for (let i = 0; i < this.#open.length; i++) this.#open[i] ??= new Set();
    return node;
  }

  #keyOf(state: Readonly<Record<string, unknown>>, from: Node['from']): string {
    if (this.#scope.by === 'state') return stateKey(state);
    return from === undefined ? '' : `${from.node.key} ${canonicalText(from.input)}`;
  }

  /** What can be done in the present state, the first one last. */
  #inputs(): SendStep[] {
    const { state } = this.#session;
    return this.#choices
      .flatMap((choice) => smallInputs(this.#searching.application, choice, state))
      .reverse();
  }

  /** Goes to the nearest state of the present depth where something is left to try: from here, or from the start. */
  #lead(): void {
    const way = this.#wayFromHere() ?? this.#restart();
    for (const { input, to } of way) {
      if (this.#steps >= this.#scope.steps) return;
      const from = { node: this.#here, input };
      this.#do(input, true);
      this.#here = this.#nodeOf(this.#session.state, from);
      if (this.#here !== to) return;
    }
  }

  #wayFromHere(): readonly { readonly input: SendStep; readonly to: Node }[] | undefined {
    const cameBy = new Map<Node, { readonly node: Node; readonly input: SendStep }>();
    const line = [this.#here];
    const seen = new Set(line);
    // A way that is longer than the one from the start is of no use.
    for (let i = 0; i < line.length && i < mostLookedThrough; i++) {
      const node = line[i] as Node;
      for (const { input, to } of node.edges) {
        if (seen.has(to)) continue;
        seen.add(to);
        cameBy.set(to, { node, input });
        if (!this.#isWanted(to)) {
          line.push(to);
          continue;
        }
        const way: { input: SendStep; to: Node }[] = [];
        for (let at = to; at !== this.#here;) {
          const last = cameBy.get(at) as { node: Node; input: SendStep };
          way.unshift({ input: last.input, to: at });
          at = last.node;
        }
        return way;
      }
    }
    return undefined;
  }

  /** Begins anew; gives the way from the start to a state of the present depth. */
  #restart(): readonly { readonly input: SendStep; readonly to: Node }[] {
    this.#end();
    this.#session = this.#start();
    this.#here = this.#nodeOf(this.#session.state, undefined);
    const [to] = this.#open[this.#level] ?? [];
    return to === undefined ? [] : wayTo(to);
  }

  #start(): Session {
    this.#done = [];
    const { participants, observed, reached } = this.#searching;
    return new Session(participants, observed, { reached });
  }

  #end(): void {
    for (const [name, count] of this.#session.untold)
      this.#untold.set(name, (this.#untold.get(name) ?? 0) + count);
    this.#session.close();
  }

  async result(): Promise<Walked> {
    this.#end();
    const left = this.#open.findIndex((nodes) => nodes.size > 0);
    return {
      finding: {
        ...(await this.#finding()),
        untold: this.#untold,
      },
      store: this.#scope.store,
      by: this.#scope.by,
      steps: this.#steps,
      states: this.#nodes.size,
      transitions: this.#transitions,
      depth: left < 0 ? this.#open.length : left,
      isClosed: left < 0,
      isBounded: this.#isBounded,
    };
  }

  /** The shortest script that is known to lead to the difference: the nearest way to its state, or all that was done. */
  async #finding(): Promise<Pick<Finding, 'script' | 'difference'>> {
    const all = { script: { steps: this.#done }, difference: this.#difference };
    const last = this.#done.at(-1);
    if (this.#difference === undefined || last === undefined || !isSend(last)) return all;
    const { participants, observed } = this.#searching;
    const script = { steps: [...wayTo(this.#here).map(({ input }) => input), last] };
    const { difference } = await replay(script, participants, observed);
    return difference === undefined ? all : { script, difference };
  }
}

function wayTo(node: Node): readonly { readonly input: SendStep; readonly to: Node }[] {
  const way: { input: SendStep; to: Node }[] = [];
  for (let at = node; at.from !== undefined; at = at.from.node)
    way.unshift({ input: at.from.input, to: at });
  return way;
}

/** Whether no list in a value has too many items. */
function isSmall(value: unknown): boolean {
  if (Array.isArray(value)) return value.length <= mostItems && value.every(isSmall);
  return !isObject(value) || Object.values(value).every(isSmall);
}
