import { createPatch } from 'rfc6902';
import type { Json } from '../../base/json.js';
import type { ParticipantSummary, Comparison, ShrunkDifference } from '../comparison.js';
import type { Script } from '../script.js';
import type { Walked } from '../search/walk.js';
import type { Application } from '../../model/application.js';
import type { CoverPoint } from '../../model/cover-points.js';
import type { ObservedClass } from '../../model/observed-class.js';
import { placeNamed, placeOf, type PlaceJson } from '../../report/place-json.js';
import { namedJson } from '../../report/value-json.js';

/** Something that can be reached, by its name and its place in the schema. */
type PointJson = { readonly id: string } & PlaceJson;

/** The result of a comparison as one JSON value, as `schema/comparison-1.schema.json` says. Times stand in `tookMs` alone. */
export interface ComparisonJson {
  readonly leeshoreComparison: 1;
  readonly schema: string;
  readonly verdict: Comparison['verdict'];
  readonly seed: number;
  readonly shard?: string;
  readonly participants: readonly ParticipantSummary[];
  readonly steps: number;
  readonly scripts: number;
  readonly end: Comparison['end'];
  /** The number of steps that were asked for. */
  readonly budget: number;
  readonly tookMs: number;
  readonly compared: readonly ObservedClass[];
  readonly ignored: readonly ObservedClass[];
  readonly fullEvery: number;
  readonly walks: readonly WalkJson[];
  /** How many steps tried every action in states that scripts had led to. */
  readonly around: number;
  readonly alone: number;
  /** Of external stores: what of their code never ran. */
  readonly code: Comparison['code'];
  readonly coverage: {
    readonly reached: number;
    readonly total: number;
    readonly missing: readonly PointJson[];
    /** Of bounds of stored values. */
    readonly bounds: { readonly broken: number; readonly never: readonly PointJson[] };
    /** Of sides of corners. */
    readonly corners: { readonly met: number; readonly never: readonly PointJson[] };
  };
  /** The first; null if there is none. */
  readonly difference: DifferenceJson | null;
  /** Differences of other causes, in the order in which they were found. */
  readonly alsoFound: readonly DifferenceJson[];
}

/** A walk; `store` is null for one through all stores, `task` for one through all that a store does. */
export type WalkJson = Omit<Walked, 'store' | 'task'> & {
  readonly store: string | null;
  readonly task: string | null;
};

export interface DifferenceJson {
  readonly participant: string;
  /** Counted from 1. */
  readonly step: number;
  /** The action or the task that the step names; empty for other steps. */
  readonly action: string;
  /** Where it stands. */
  readonly place: PlaceJson | null;
  readonly what: ObservedClass;
  readonly at: string;
  readonly expected: Json;
  readonly actual: Json;
  /** RFC 6902: what turns `expected` into `actual`. */
  readonly patch: readonly PatchOperation[];
  readonly foundAfter: number;
  readonly stepsBefore: number;
  readonly script: Script;
  readonly savedAs: string | null;
  /** The number of scripts that have shown it. */
  readonly scripts: number;
}

/** An operation of a JSON Patch, of the kinds that a comparison of two values gives. */
export interface PatchOperation {
  readonly op: 'add' | 'remove' | 'replace';
  /** JSON Pointer. */
  readonly path: string;
  readonly value?: unknown;
}

export interface ComparisonJsonOptions {
  readonly schema: string;
  /** Where the scripts of the differences were saved, the first one first. */
  readonly savedAs?: readonly string[] | undefined;
  readonly shard?: string | undefined;
}

export function comparisonToJson(
  comparison: Comparison,
  application: Application,
  { schema, savedAs = [], shard }: ComparisonJsonOptions,
): ComparisonJson {
  const { coverage, difference } = comparison;
  return {
    leeshoreComparison: 1,
    schema,
    verdict: comparison.verdict,
    seed: comparison.seed,
    ...(shard === undefined ? {} : { shard }),
    participants: comparison.participants,
    steps: comparison.steps,
    scripts: comparison.scripts,
    end: comparison.end,
    budget: comparison.budget,
    tookMs: Math.round(comparison.tookMs),
    compared: comparison.compared,
    ignored: comparison.ignored,
    fullEvery: comparison.fullEvery,
    walks: comparison.walks.map(({ store = null, task = null, ...walk }) => ({
      store,
      task,
      ...walk,
    })),
    around: comparison.around,
    alone: comparison.alone,
    code: comparison.code,
    coverage: {
      reached: coverage.reached,
      total: coverage.total,
      missing: coverage.missing.map(pointToJson),
      bounds: { ...coverage.bounds, never: coverage.bounds.never.map(pointToJson) },
      corners: { ...coverage.corners, never: coverage.corners.never.map(pointToJson) },
    },
    difference:
      difference === undefined ? null : differenceToJson(difference, application, savedAs[0]),
    alsoFound: comparison.alsoFound.map((other, i) =>
      differenceToJson(other, application, savedAs[i + 1]),
    ),
  };
}

const pointToJson = ({ id, span }: CoverPoint): PointJson => ({ id, ...placeOf(span) });

function differenceToJson(
  difference: ShrunkDifference,
  application: Application,
  savedAs: string | undefined,
): DifferenceJson {
  const expected = namedJson(difference.expected);
  const actual = namedJson(difference.actual);
  return {
    participant: difference.participant,
    step: difference.step + 1,
    action: difference.action,
    place: placeNamed(application, difference.action),
    what: difference.what,
    at: difference.at,
    expected,
    actual,
    patch: createPatch(expected, actual) as readonly PatchOperation[],
    foundAfter: difference.foundAfter,
    stepsBefore: difference.stepsBefore,
    script: difference.script,
    savedAs: savedAs ?? null,
    scripts: difference.scripts,
  };
}
