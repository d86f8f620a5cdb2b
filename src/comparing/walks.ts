import type { SearchEnd } from './comparison.js';
import { isSend, type ScriptStep } from './script.js';
import type { Goals } from './search/goals.js';
import { Walk, type WalkScope, type Walked } from './search/walk.js';
import type { KeptScript } from './searching.js';
import type { WorkItem, WorkResult } from './work-item.js';

/** Does some work items, and adds their results to `all`; gives why the search is over, if it is. */
export type DoItems = (
  items: readonly WorkItem[],
  all?: WorkResult[],
) => Promise<SearchEnd | undefined>;

/** A walk begins after so many steps at most. */
const longestBase = 40;

/** The number of inputs that a walk may always be ahead of another. */
const farAhead = 300;

/** The walks through small scopes of one search. */
export class Walks {
  readonly #walks: readonly Walk[];
  readonly #do: DoItems;
  /** What leads to where a walk may begin, of the scripts that were looked at for that; nothing if it is too long. */
  readonly #bases = new Map<KeptScript, readonly ScriptStep[]>();

  constructor(scopes: readonly WalkScope[], doItems: DoItems) {
    this.#walks = scopes.map((scope) => new Walk(scope));
    this.#do = doItems;
  }

  get walked(): readonly Walked[] {
    return this.#walks.map(({ walked }) => walked);
  }

  /** The number of steps that were done. */
  get steps(): number {
    return this.#walks.reduce((sum, { walked }) => sum + walked.steps, 0);
  }

  /** True if any walk can go on. */
  get isOpen(): boolean {
    return this.#walks.some(canGoOn);
  }

  /** Those whose turn it is go on, side by side. */
  goOn(walks: readonly Walk[] = this.#walks): Promise<SearchEnd | undefined> {
    return this.#walk(whoseTurn(walks));
  }

  /** Goes through all scopes; what those of single stores have left of their steps is for that of all. */
  async goThroughAll(): Promise<SearchEnd> {
    const early = await this.#goThrough(this.#walks);
    if (early !== undefined) return early;
    const whole = this.#walks.find(({ walked: { store } }) => store === undefined);
    if (whole === undefined) return this.#end;
    whole.grant(this.#walks.reduce((sum, walk) => sum + (walk === whole ? 0 : walk.left), 0));
    return (await this.#goThrough([whole])) ?? this.#end;
  }

  /** Walks in which nothing could be done begin where a script has led that did something of theirs. */
  async beginElsewhere(goals: Goals): Promise<SearchEnd | undefined> {
    for (const walk of this.#walks.filter(({ isVain }) => isVain)) {
      const { store, task } = walk.walked;
      const isMeant = (name: string) =>
        task === undefined ? name.startsWith(`${store ?? ''}.`) : name === `${store ?? ''}.${task}`;
      const known = goals.doing(isMeant);
      if (known === undefined) continue;
      if (!this.#bases.has(known.script)) {
        const results: WorkResult[] = [];
        const early = await this.#do([{ kind: 'shorten', ...known }], results);
        if (early !== undefined) return early;
        this.#bases.set(known.script, baseOf(results[0]?.kept[0]));
      }
      const base = this.#bases.get(known.script) ?? [];
      // Where there are no tasks, actions alone lead anywhere.
      if (base.length > 0 && (task !== undefined || base.every(isSend))) walk.beginAfter(base);
    }
    return undefined;
  }

  async #goThrough(walks: readonly Walk[]): Promise<SearchEnd | undefined> {
    while (walks.some(canGoOn)) {
      const early = await this.goOn(walks);
      if (early !== undefined) return early;
    }
    return undefined;
  }

  async #walk(turn: readonly Walk[]): Promise<SearchEnd | undefined> {
    const shares = turn.map((walk) => walk.next());
    const results: WorkResult[] = [];
    const end = await this.#do(shares.flat(), results);
    let at = 0;
    for (const [i, walk] of turn.entries()) {
      const own = results.slice(at, (at += shares[i]?.length ?? 0));
      walk.take(own.flatMap(({ probing }) => probing ?? []));
    }
    return end;
  }

  /** Why walks have ended: nothing is left to try in any state, or not within the depth, or no steps are left. */
  get #end(): SearchEnd {
    const states = this.#walks.filter(({ walked: { by } }) => by === 'state');
    if (states.every(({ walked: { isClosed } }) => isClosed)) return 'closed';
    return this.#walks.every(({ isOut }) => isOut) ? 'depth' : 'steps';
  }
}

/** What leads to where the last step of a script was done; nobody watches in walks. */
function baseOf(script: KeptScript | undefined): readonly ScriptStep[] {
  const steps = script?.steps.slice(0, -1) ?? [];
  const base = steps.filter((step) => !('watch' in step || 'stop' in step));
  return base.length > longestBase ? [] : base;
}

const canGoOn = ({ isOut, left }: Walk): boolean => !isOut && left > 0;

/** Of walks that can go on, those that are not far ahead of the others: a small scope needs many short turns. */
function whoseTurn(walks: readonly Walk[]): readonly Walk[] {
  const open = walks.filter(canGoOn);
  const least = Math.min(...open.map(({ walked }) => walked.transitions));
  return open.filter(({ walked }) => walked.transitions <= 2 * least + farAhead);
}
