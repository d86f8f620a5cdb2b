import { addCounts } from '../base/add-counts.js';
import { Random } from '../base/random.js';
import { hasTasks } from '../model/application.js';
import { observables } from '../model/observed-class.js';
import { observablesOf } from './session/observed.js';
import type { Comparison, SearchEnd, ShrunkDifference } from './comparison.js';
import { codeRun, coverageOf } from './missed.js';
import type { Executor } from './executor.js';
import type { Shrunk } from './shrinking/shrink.js';
import { choicesOf, startsOf } from './inputs/inputs.js';
import {
  firstRandom,
  mostKept,
  randomRound,
  scopesFor,
  scriptsInRound,
  scriptsInShard,
  shareOfWalks,
  walkedAtFirst,
} from './plan.js';
import type { Script } from './script.js';
import type { Compared, SearchOptions } from './search-options.js';
import { actionOf, keyOf, participantsOf } from './summary.js';
import { fullEvery } from './session/session.js';
import type { KeptScript, Known } from './searching.js';
import type { WorkItem, WorkResult } from './work-item.js';
import { Around, shareOfAround } from './search/around.js';
import { Approaches, approachesLeft, shareOfAlone, spentBefore } from './search/approaches.js';
import { Goals } from './search/goals.js';
import { mixed } from './search/planned-script.js';
import { Walks } from './walks.js';

/** Searches for a difference between the participants, and shrinks the first. */
export async function compareBySearch(
  compared: Compared,
  executor: Executor,
  options: SearchOptions,
): Promise<Comparison> {
  const start = options.clock();
  const search = new Search(compared, executor, options);
  const end = await search.run();
  return search.result(end, options.clock() - start);
}

/** Replays one script. */
export async function compareScript(
  compared: Compared,
  executor: Executor,
  script: Script,
  options: Pick<SearchOptions, 'seed' | 'clock' | 'classes'>,
): Promise<Comparison> {
  const start = options.clock();
  const search = new Search(compared, executor, { ...options, steps: 0, until: Infinity });
  await search.replay(script);
  return { ...(await search.result('script', options.clock() - start)), fullEvery: 1 };
}

/** A difference that was found and shrunk, and how many scripts have shown it by now. */
interface Counted {
  readonly isRepeatable: boolean;
  readonly difference: ShrunkDifference;
  scripts: number;
}

/** A random script counts at least so much of the steps that were planned for it. */
const leastOfScript = 0.2;

/** The number of differences that are shrunk for each that is wanted: many turn out to have the same cause. */
const mostShrunk = 8;

class Search {
  readonly #compared: Compared;
  readonly #executor: Executor;
  readonly #options: SearchOptions;
  #steps = 0;
  #scripts = 0;
  readonly #reached = new Set<number>();
  #walks: Walks | undefined;
  /** The ways that code of participants went, and the traits of the states that were met. */
  readonly #gone = new Set<number>();
  readonly #traits = new Set<string>();
  readonly #kept: KeptScript[] = [];
  /** What scripts are to get to. */
  #goals: Goals | undefined;
  readonly #notReported = new Map<string, number>();
  readonly #passedOver = new Map<string, number>();
  #found: WorkResult['found'];
  #stepsBefore = 0;
  /** How many steps count that were not done, of scripts that ended early. */
  #unused = 0;
  /** The number of steps that were done with the first participant alone to get to corners. */
  #alone = 0;
  #approaches: Approaches | undefined;
  /** The number of steps that were done around the states that scripts led to. */
  #around = 0;
  /** What was found and shrunk, by cause; empty if one difference is wanted. */
  readonly #causes = new Map<string, Counted>();
  /** The causes of differences as they were found, each with what it was shrunk to. */
  readonly #shrunkTo = new Map<string, string>();
  /** The script that is given is the shortest already. */
  #isGiven = false;

  constructor(compared: Compared, executor: Executor, options: SearchOptions) {
    this.#compared = compared;
    this.#executor = executor;
    this.#options = options;
  }

  async run(): Promise<SearchEnd> {
    const end = await this.#search();
    if (end === 'found' || end === 'stopped') return end;
    if (this.#causes.size > 0) return end;
    // What was set off and comes late belongs to what has been done.
    this.#found = await this.#executor.settle();
    if (this.#found !== undefined) this.#stepsBefore = this.#steps;
    return this.#found === undefined ? end : 'found';
  }

  async #search(): Promise<SearchEnd> {
    const { seed, search = 'both', corpus = [], depth } = this.#options;
    const { shard = { number: 1, of: 1 } } = this.#options;
    const { application } = this.#compared;
    const steps = Math.ceil(this.#options.steps / shard.of);
    // Where nobody shares an action with all others, there is nothing to compare.
    const { participants } = this.#compared;
    const inputs = [
      ...choicesOf(application, participants),
      ...startsOf(application, participants),
    ];
    if (inputs.length === 0) return 'steps';
    const names = inputs.map(({ name }) => name);
    const goals = (this.#goals = new Goals(this.#compared, names));
    this.#approaches = new Approaches(this.#compared.points, participants, goals);
    const replays = corpus.map((script): WorkItem => ({ kind: 'replay', script }));
    this.#kept.push(...corpus.map(keptFrom));
    let early = await this.#do(replays);
    if (early !== undefined) return early;
    let first = (shard.number - 1) * scriptsInShard;
    // External stores are asked in the shortest way first: what is wrong with them is mostly seen at once.
    const isWhole = this.#compared.participants.every(({ has }) => has === undefined);
    if (search === 'both' && isWhole) {
      const items = firstRandom(seed, first, steps);
      early = await this.#do(items);
      if (early !== undefined) return early;
      first += items.length;
    }
    const scopes = scopesFor(application, this.#options.steps, { kind: search, depth }, shard);
    const walks = (this.#walks = new Walks(scopes, (items, all) => this.#do(items, all)));
    if (search === 'small') return walks.goThroughAll();
    // Walks and random scripts take turns by steps, never by time: so the same seed tries the same. Steps that walks
    // have left over, since nothing was left to try, are spent on scripts.
    const looking = new Around(application);
    for (;;) {
      const left = steps - this.#spent;
      if (left <= 0) return 'steps';
      early = await walks.beginElsewhere(goals);
      if (early !== undefined) return early;
      const isTurnOfWalks = walks.steps < Math.max(walkedAtFirst, shareOfWalks * (steps - left));
      if (isTurnOfWalks && walks.isOpen) {
        early = await walks.goOn();
        if (early !== undefined) return early;
        continue;
      }
      if (search === 'both' && this.#around < shareOfAround * (steps - left)) {
        const before = this.#steps;
        const most = Math.min(left, Math.ceil(shareOfAround * steps) - this.#around);
        early = await this.#do(looking.next(this.#kept, most));
        if (early !== undefined) return early;
        this.#around += this.#steps - before;
        if (this.#steps > before) continue;
      }
      early = await this.#drawScripts(first, left, goals);
      if (early !== undefined) return early;
      first += scriptsInRound;
    }
  }

  /** A round of random scripts, numbered from `first`: first it is looked ahead for ways to what was never reached. */
  async #drawScripts(first: number, left: number, goals: Goals): Promise<SearchEnd | undefined> {
    const { seed } = this.#options;
    const ways: WorkResult[] = [];
    const looks = goals.looks(this.#reached, this.#kept, new Random(mixed(seed, first)));
    const early =
      (await this.#do(looks, ways)) ??
      (await this.#do(this.#nextApproaches(first), ways)) ??
      (await this.#do(goals.shortenings()));
    if (early !== undefined) return early;
    const items = randomRound(seed, first, left, this.#kept.slice(-mostKept), {
      told: this.#told,
      isSlow: hasTasks(this.#compared.application),
      ways: ways.flatMap(({ kept }) => kept.filter(({ near }) => near === undefined)),
      goals: goals.left(this.#reached, this.#gone),
      rare: goals.rare(),
    });
    const before = this.#steps;
    const results: WorkResult[] = [];
    const end = await this.#do(items, results);
    // Scripts that end early count a part of what was planned: there may be nothing that they can do.
    const planned = items.map(({ script }, i) =>
      Math.max(results[i]?.steps ?? 0, Math.ceil(script.length * leastOfScript)),
    );
    this.#unused += planned.reduce((sum, one) => sum + one, 0) - (this.#steps - before);
    return end;
  }

  #nextApproaches(first: number): readonly WorkItem[] {
    const { seed, steps, shard = { of: 1 } } = this.#options;
    if (this.#spent < spentBefore * (steps / shard.of)) return [];
    const most = approachesLeft(steps / shard.of, this.#alone);
    if (most <= 0) return [];
    return this.#approaches?.next(this.#reached, new Random(mixed(seed, first) ^ 1), most) ?? [];
  }

  /** The number of points that were reached, without the sides of corners. */
  get #counted(): number {
    const { points } = this.#compared;
    return [...this.#reached].filter((index) => points[index]?.corner === undefined).length;
  }

  /** How much of the budget is spent. */
  get #spent(): number {
    return this.#steps + this.#unused + Math.ceil(this.#alone * shareOfAlone);
  }

  async replay(script: Script): Promise<void> {
    this.#isGiven = true;
    await this.#do([{ kind: 'replay', script }]);
    this.#found ??= await this.#executor.settle();
  }

  /** Does some work items, and adds their results to `all`; gives why the search is over, if it is. */
  async #do(items: readonly WorkItem[], all: WorkResult[] = []): Promise<SearchEnd | undefined> {
    if (items.length === 0) return undefined;
    const { clock, until, isStopped, onProgress } = this.#options;
    let [steps, scripts] = [this.#steps, this.#scripts];
    const results = await this.#executor.run(items, this.#known, (result) => {
      steps += result.steps;
      scripts += result.scripts;
      onProgress?.({ steps, scripts, reached: this.#counted });
    });
    for (const result of results) this.#add(result);
    all.push(...results);
    if (this.#found !== undefined && (await this.#isEnough(this.#found))) return 'found';
    if (isStopped?.() === true) return 'stopped';
    return clock() >= until ? 'time' : undefined;
  }

  get #known(): Known {
    return {
      reached: [...this.#reached],
      led: this.#goals?.led ?? [...this.#reached],
      near: this.#goals?.nearest ?? [],
      gone: [...this.#gone],
      traits: [...this.#traits],
    };
  }

  /** The actions and tasks that have shown a difference. */
  get #told(): readonly string[] {
    const actions = [...this.#causes.values()].map(({ difference }) => difference.action);
    return [...new Set(actions.filter((name) => name !== ''))];
  }

  /** True if the search ends with what was found: no more differences are wanted, or too many were shrunk. */
  async #isEnough(found: NonNullable<WorkResult['found']>): Promise<boolean> {
    const { differences = 1 } = this.#options;
    if (differences === 1 || this.#isGiven) return true;
    this.#found = undefined;
    const asFound = keyOf(found);
    const known = this.#causes.get(this.#shrunkTo.get(asFound) ?? '');
    if (known !== undefined) {
      known.scripts += 1;
      return false;
    }
    const shrunk = await this.#executor.shrink(found);
    const cause = keyOf(shrunk);
    this.#shrunkTo.set(asFound, cause);
    const counted = this.#causes.get(cause);
    if (counted !== undefined) counted.scripts += 1;
    else
      this.#causes.set(cause, {
        isRepeatable: shrunk.isRepeatable,
        difference: this.#described(shrunk, found),
        scripts: 1,
      });
    // Where results are not repeatable, further differences say nothing.
    return (
      !shrunk.isRepeatable ||
      this.#causes.size >= differences ||
      this.#shrunkTo.size >= mostShrunk * differences
    );
  }

  #add({ steps, alone, scripts, reached, hits, gone, kept, ...result }: WorkResult): void {
    const { notReported, passedOver, found } = result;
    // Of work items that ran side by side several may have reached the same: the first counts.
    for (const script of kept) {
      const { reaches, gone: ways = [], traits = [] } = script;
      const isNearer = this.#goals?.note(script) === true;
      const isNew =
        isNearer ||
        reaches.some((index) => !this.#reached.has(index)) ||
        ways.some((way) => !this.#gone.has(way)) ||
        traits.some((trait) => !this.#traits.has(trait));
      if (isNew) this.#kept.push(script);
      for (const index of reaches) this.#reached.add(index);
      for (const way of ways) this.#gone.add(way);
      for (const trait of traits) this.#traits.add(trait);
    }
    for (const index of reached) this.#reached.add(index);
    this.#goals?.count(hits);
    for (const way of gone) this.#gone.add(way);
    if (found !== undefined) [this.#found, this.#stepsBefore] = [found, this.#steps];
    this.#steps += steps;
    this.#alone += alone;
    this.#scripts += scripts;
    addCounts(this.#notReported, notReported);
    addCounts(this.#passedOver, passedOver);
  }

  async result(end: SearchEnd, tookMs: number): Promise<Comparison> {
    const { points } = this.#compared;
    const { seed, classes = observables } = this.#options;
    const all = observablesOf(this.#compared.application);
    const shrunk = await this.#shrunk();
    const counted = [...this.#causes.values()];
    const [first, ...others] = counted.map(({ difference, scripts }) => ({
      ...difference,
      scripts,
    }));
    return {
      verdict: this.#verdict(
        shrunk ?? counted.find(({ isRepeatable }) => !isRepeatable) ?? counted[0],
      ),
      seed,
      participants: participantsOf(this.#compared, this.#notReported, this.#passedOver),
      steps: this.#steps,
      scripts: this.#scripts,
      end: first === undefined ? end : 'found',
      budget: Math.ceil(this.#options.steps / (this.#options.shard?.of ?? 1)),
      tookMs,
      compared: all.filter((one) => classes.includes(one)),
      ignored: all.filter((one) => !classes.includes(one)),
      fullEvery,
      walks: this.#walks?.walked ?? [],
      around: this.#around,
      alone: this.#alone,
      code: codeRun(this.#compared.ways ?? [], this.#gone),
      coverage: coverageOf(points, this.#reached, this.#compared.participants),
      difference: shrunk === undefined ? first : this.#described(shrunk, this.#found),
      alsoFound: others,
      // What shows only in code, or in what states are like, is of use in this search alone.
      kept: this.#kept.filter(({ reaches }) => reaches.length > 0),
    };
  }

  async #shrunk(): Promise<Shrunk | undefined> {
    if (this.#found === undefined) return undefined;
    if (this.#isGiven) return { ...this.#found, isRepeatable: true };
    return this.#executor.shrink(this.#found);
  }

  #verdict(shrunk: Pick<Shrunk, 'isRepeatable'> | undefined): Comparison['verdict'] {
    if (shrunk !== undefined) return shrunk.isRepeatable ? 'different' : 'not repeatable';
    return this.#steps === 0 ? 'nothing compared' : 'same';
  }

  #described({ script, difference }: Shrunk, found: WorkResult['found']): ShrunkDifference {
    return {
      ...difference,
      script,
      foundAfter: found?.script.steps.length ?? 0,
      stepsBefore: this.#stepsBefore,
      action: actionOf({ script, difference }),
      scripts: 1,
    };
  }
}

/** A script that was given, to be varied: under the circumstances that it has. */
const keptFrom = ({ steps, ids, beside }: Script): KeptScript => ({
  steps,
  circumstances: { ...(ids && { ids }), ...(beside && { beside }) },
  reaches: [],
});
