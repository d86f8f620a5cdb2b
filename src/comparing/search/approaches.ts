import type { Random } from '../../base/random.js';
import type { CornerKind } from '../../model/corners.js';
import type { CoverPoint } from '../../model/cover-points.js';
import type { Participant } from '../../model/participant.js';
import { sentTo } from '../missed.js';
import type { ApproachItem } from './approach.js';
import type { Goal } from './goal.js';
import type { Goals } from './goals.js';

/** The number of corners that are approached at once. */
const atOnce = 24;
/** How often one is approached without coming nearer, and how often at all. */
const mostVain = 3;
const mostTries = 12;
/** The most steps that the first approach of a corner takes, with the first participant alone, and the most that any takes. */
const stepsAtFirst = 100;
const mostSteps = 500;
/** What is gone on from is done so often more: to make it shorter takes that. */
const timesAsLong = 6;
/** For so many rounds others go first: numbers that must be equal are seldom so by chance, lists and stored values more often. */
const handicaps = { comparison: 0, right: 0, pick: 1, stored: 2 };

/** What a step costs that is done with the first participant alone, as a share of one that is compared. */
export const shareOfAlone = 0.2;
/** Approaches cost at most so much of the steps of a search. */
const shareOfApproaches = 0.25;

/** The share of the steps of a search that is spent before the first approach: most sides are met by chance. */
export const spentBefore = 0.1;

/** How many approaches more a search can have. */
export const approachesLeft = (steps: number, alone: number): number =>
  Math.floor((shareOfApproaches * steps - alone * shareOfAlone) / (mostSteps * shareOfAlone));

/** The corners with sides that nothing led to, one after the other: those first that were tried least, then those that are nearest. */
export class Approaches {
  readonly #points: readonly CoverPoint[];
  readonly #goals: Goals;
  readonly #isSent: (point: CoverPoint) => boolean;
  /** How often each corner was approached, by what its sides have in common. */
  readonly #tries = new Map<string, Tries>();

  constructor(
    points: readonly CoverPoint[],
    participants: readonly Pick<Participant, 'has' | 'refusesMisfits' | 'judgesAnswers'>[],
    goals: Goals,
  ) {
    this.#points = points;
    this.#goals = goals;
    this.#isSent = sentTo(participants);
  }

  /** The next ones, at most so many. */
  next(reached: ReadonlySet<number>, random: Random, most: number): readonly ApproachItem[] {
    return this.#open(reached)
      .sort((a, b) => turnOf(a) - turnOf(b) || a.far - b.far)
      .slice(0, Math.min(most, atOnce))
      .map(({ id, kind, sides, goals, far, tries }) => {
        this.#tries.set(id, { all: tries.all + 1, vain: tries.vain + 1, far });
        const { name, levels } = random.pick(goals);
        const longest = Math.max(...sides.map(({ from }) => from.steps.length));
        return {
          kind: 'approach',
          seed: random.below(2 ** 31),
          sides,
          isOfNumbers: kind === 'comparison',
          aim: { name, by: levels.slice(0, 2).flat(), point: undefined },
          steps: Math.min(mostSteps, stepsAtFirst * (1 + tries.all) + timesAsLong * longest),
        };
      });
  }

  /** The corners that are worth it, each with its sides. */
  #open(reached: ReadonlySet<number>): OpenCorner[] {
    const corners = new Map<string, OpenCorner>();
    for (const { index, far, script: from, goals } of this.#goals.near(isOfCorner)) {
      const point = this.#points[index];
      const isOpen = !reached.has(index) && goals.length > 0;
      if (point?.corner === undefined || !isOpen || !this.#isSent(point)) continue;
      const id = cornerOf(point);
      const known = corners.get(id);
      const tries = this.#triesOf(id, far + (known?.far ?? 0));
      corners.set(id, {
        id,
        kind: point.corner,
        sides: [...(known?.sides ?? []), { point: index, from }],
        goals,
        far: far + (known?.far ?? 0),
        tries,
      });
    }
    return [...corners.values()].filter(
      ({ tries: { all, vain } }) => vain < mostVain && all < mostTries,
    );
  }

  #triesOf(id: string, far: number): Tries {
    const tries = this.#tries.get(id) ?? { all: 0, vain: 0, far: Infinity };
    return far < tries.far ? { ...tries, vain: 0 } : tries;
  }
}

interface OpenCorner extends Pick<ApproachItem, 'sides'> {
  /** What all of its sides have in common. */
  readonly id: string;
  readonly kind: CornerKind;
  readonly goals: readonly Goal[];
  /** How far its open sides are, all together. */
  readonly far: number;
  readonly tries: Tries;
}

/** How often a corner was approached, how often since it came nearer, and how far it was then. */
interface Tries {
  readonly all: number;
  readonly vain: number;
  readonly far: number;
}

/** The place of its expression, with what is told of that. */
const cornerOf = ({ span, corner }: CoverPoint): string =>
  [corner, span.source.path, span.start, span.end].join(' ');

const isOfCorner = ({ corner }: CoverPoint): boolean => corner !== undefined;

const turnOf = ({ kind, tries: { all } }: Pick<OpenCorner, 'kind' | 'tries'>): number =>
  all + handicaps[kind];
