import { Random } from '../../base/random.js';
import { Session } from '../session/session.js';
import { isAsked, type Circumstances, type ScriptStep } from '../script.js';
import type { KeptScript, Searching } from '../searching.js';
import { Drawing } from './drawing.js';
import { isNumeric, leavesOf, withMore, type Leaf } from './leaves.js';
import type { Aim } from './planned-script.js';
import { asDrawnAnew, variation, type PlannedStep } from './vary.js';

/** Goes from what came nearest to the sides of a corner on to them, with the first participant alone. */
export interface ApproachItem {
  readonly kind: 'approach';
  readonly seed: number;
  /** The sides that nothing led to, by their places among the points, each with what came nearest. */
  readonly sides: readonly { readonly point: number; readonly from: KeptScript }[];
  /** True if numbers are compared there: it can be computed by how much they were missed. */
  readonly isOfNumbers: boolean;
  readonly aim: Aim;
  /** The most steps. */
  readonly steps: number;
}

/** What came of it. */
export interface Approached {
  /** What reaches a side, or comes nearer than what was known; and what reaches other points on the way. */
  readonly kept: readonly KeptScript[];
  /** The number of steps that were done. */
  readonly steps: number;
}

/** The share of the steps that is spent at once on leaving out steps of what came nearest. */
const shareOfThinning = 0.4;
/** At most so many numbers and texts are changed, those of the last steps first; a change that leads elsewhere is halved so often. */
const mostLeaves = 10;
const mostHalved = 4;
/** The number of steps that are drawn after what came nearest. */
const mostDrawn = 8;
/** The chance that it is varied first, that a part of it is done again, and that what is aimed at is done several times. */
const shareOfVaried = 0.25;
const shareOfRepeated = 0.3;
const shareOfInsisting = 0.25;
const mostInsisting = 6;
/** At most so many other points are told of. */
const mostOthers = 3;
/** Scripts that are longer are not gone on from. */
export const longestPath = 60;

/** The steps that came near to a side, under their circumstances, how near, and by how much they missed it. */
interface Tried {
  readonly steps: readonly ScriptStep[];
  readonly circumstances: Circumstances;
  readonly far: number;
  readonly miss: number;
}

/** Approaches the sides of a corner. What was reached meanwhile counts for nothing: nobody was compared. */
export async function approach(searching: Searching, item: ApproachItem): Promise<Approached> {
  const approaching = new Approach(searching, item);
  await approaching.run();
  return approaching;
}

class Approach implements Approached {
  readonly kept: KeptScript[] = [];
  steps = 0;
  readonly #searching: Searching;
  readonly #item: ApproachItem;
  readonly #random: Random;
  /** What came nearest to each side that is not reached yet. */
  readonly #best = new Map<number, Tried>();
  readonly #told = new Set<number>();

  constructor(searching: Searching, item: ApproachItem) {
    this.#searching = searching;
    this.#item = item;
    this.#random = new Random(item.seed);
    for (const { point, from } of item.sides) {
      const { steps, circumstances = {} } = from;
      this.#best.set(point, { steps, circumstances, far: Infinity, miss: 0 });
      this.#told.add(point);
    }
  }

  get #isOver(): boolean {
    return this.#best.size === 0 || this.steps >= this.#item.steps;
  }

  async run(): Promise<void> {
    const { sides, isOfNumbers } = this.#item;
    /** What was known of each side when this began. */
    const before = new Map<number, Tried>();
    /** How far what was made shorter came, and what was tried with other numbers, by side. */
    const thinned = new Map<number, number>();
    const solved = new Map<number, Tried>();
    for (const { point } of sides) {
      const from = this.#best.get(point);
      // What led to another side may have reached this one, or come nearer.
      if (from === undefined || from.far < Infinity) continue;
      await this.#try(from.steps, from.circumstances);
    }
    for (const [point, best] of this.#best) before.set(point, best);
    for (let turn = 0; !this.#isOver; turn++) {
      const open = [...this.#best.keys()];
      const point = open[turn % open.length] as number;
      const best = () => this.#best.get(point);
      if (best()?.far !== thinned.get(point)) await this.#thin(point);
      const now = best();
      thinned.set(point, now?.far ?? 0);
      if (now === undefined || this.#isOver) continue;
      if (isOfNumbers && solved.get(point) !== now) {
        solved.set(point, now);
        await this.#solve(point, now);
      }
      if (best() === now && !this.#isOver) await this.#wander(now);
    }
    for (const [point, { steps, circumstances, far }] of this.#best) {
      // What is as near in fewer steps is better to go on from.
      const known = before.get(point);
      const isBetter = far < (known?.far ?? 0) || steps.length < (known?.steps.length ?? 0);
      if (isBetter && far < Infinity)
        this.kept.push({ steps, circumstances, reaches: [], near: [[point, far]] });
    }
  }

  /** Leaves out steps that are not needed to come as near: first many at once, then fewer. */
  async #thin(point: number): Promise<void> {
    const most = this.steps + shareOfThinning * this.#item.steps;
    const length = () => this.#best.get(point)?.steps.length ?? 0;
    for (let size = length() >> 1; size >= 1; size >>= 1)
      for (let end = length() - 1; end > 0; end -= size) {
        const best = this.#best.get(point);
        if (best === undefined || this.#isOver || this.steps + best.steps.length > most) return;
        const at = Math.max(0, Math.min(end, best.steps.length - 1) - size);
        await this.#try(best.steps.toSpliced(at, size), best.circumstances);
      }
  }

  /** Exchanges a number, or a text for one of another length: by as much as was missed, or by what that change tells. */
  async #solve(point: number, from: Tried): Promise<void> {
    const all = from.steps
      .flatMap((step, at) => leavesOf(step).map((leaf) => ({ at, leaf })))
      .sort((a, b) => Number(isNumeric(b.leaf)) - Number(isNumeric(a.leaf)) || b.at - a.at);
    for (const { at, leaf } of all.slice(0, mostLeaves)) {
      await this.#solveBy(point, from, at, leaf);
      if (this.#best.get(point) !== from || this.#isOver) return;
    }
  }

  async #solveBy(point: number, from: Tried, at: number, leaf: Leaf): Promise<void> {
    const { steps, circumstances, miss } = from;
    const tried = async (more: number) =>
      (await this.#try(steps.with(at, withMore(leaf, more)), circumstances)).get(point);
    let more = -miss;
    let first = await tried(more);
    // It may be more than is allowed there.
    for (let i = 0; i < mostHalved && first === undefined && Math.abs(more) > 1; i++)
      first = await tried((more /= 2));
    const isUseless = first === undefined || first.far < from.far || first.miss === miss;
    if (first === undefined || isUseless || this.#isOver) return;
    await tried((-miss * more) / (first.miss - miss));
  }

  /** What came nearest, as it is, varied or with a part of it again, and then with some steps more. */
  async #wander({ steps, circumstances }: Tried): Promise<void> {
    const { name } = this.#item.aim;
    const kind = this.#random.fraction();
    if (name !== undefined && kind < shareOfInsisting) {
      const times = 1 + this.#random.below(mostInsisting);
      const more = Array.from({ length: times }, () => ({ again: name }));
      await this.#try([...steps, ...more], circumstances);
      return;
    }
    const planned =
      kind > 1 - shareOfVaried
        ? variation(steps, [], this.#random)
        : kind > 1 - shareOfVaried - shareOfRepeated
          ? this.#repeated(steps)
          : steps;
    const drawn = planned === steps ? 1 : 0;
    await this.#try(planned, circumstances, drawn + this.#random.below(mostDrawn));
  }

  /** With a part of it again, drawn anew: what counts rises, lists get longer. */
  #repeated(steps: readonly ScriptStep[]): readonly PlannedStep[] {
    if (steps.length === 0) return steps;
    const from = this.#random.below(steps.length);
    const end = from + 1 + this.#random.below(steps.length - from);
    return [
      ...steps.slice(0, end),
      ...steps.slice(from, end).map(asDrawnAnew),
      ...steps.slice(end),
    ];
  }

  /** Does steps, and some more that are drawn; gives how near that came to each side, those left out that were reached. */
  async #try(
    planned: readonly PlannedStep[],
    circumstances: Circumstances,
    drawn = 0,
  ): Promise<ReadonlyMap<number, Tried>> {
    const { participants, observed, reached } = this.#searching;
    const { aim } = this.#item;
    const session = new Session(participants, observed, {
      watches: false,
      isAlone: true,
      circumstances,
      reached,
    });
    const drawing = new Drawing(this.#searching, this.#random, { aim });
    const steps: ScriptStep[] = [];
    const nearest = new Map<number, { far: number; miss: number; end: number }>();
    reached.listen((index, far, miss = 0) => {
      if (!this.#best.has(index) || far >= (nearest.get(index)?.far ?? Infinity)) return;
      nearest.set(index, { far, miss, end: steps.length + 1 });
    });
    const most = Math.min(planned.length, longestPath) + drawn;
    for (let i = 0; i < most && !this.#isOver; i++) {
      const known = i < longestPath ? planned[i] : undefined;
      const next = known === undefined ? drawing.next(session) : drawing.known(known, session);
      if (next === undefined) continue;
      this.steps += 1;
      const added = reached.added.length;
      const { done } = await session.play(next, { skipIdle: known === undefined && isAsked(next) });
      if (!done) continue;
      steps.push(next);
      this.#tell(reached.added.slice(added), steps, circumstances);
    }
    reached.listen(undefined);
    session.close();
    const all = new Map<number, Tried>();
    for (const [point, { far, miss, end }] of nearest) {
      const best = this.#best.get(point);
      if (best === undefined) continue;
      const tried = { steps: steps.slice(0, end), circumstances, far, miss };
      all.set(point, tried);
      const isShorter = far === best.far && tried.steps.length < best.steps.length;
      if (far < best.far || isShorter) this.#best.set(point, tried);
    }
    return all;
  }

  /** Keeps what reached a side, or another point for the first time. */
  #tell(added: readonly number[], steps: readonly ScriptStep[], circumstances: Circumstances) {
    const sides = added.filter((index) => this.#best.delete(index));
    const others = added.filter((index) => !this.#told.has(index));
    const isTold = this.#told.size < this.#item.sides.length + mostOthers;
    for (const index of others) this.#told.add(index);
    if (sides.length === 0 && (others.length === 0 || !isTold)) return;
    this.kept.push({ steps: [...steps], circumstances, reaches: [] });
  }
}
