import { createPatch } from 'rfc6902';
import type { Comparison, ShrunkDifference } from '../explore/compare.js';
import { namedJson } from './value-json.js';

/** The result of a comparison as one JSON value. Times stand in `tookMs` alone. */
export function comparisonToJson(
  comparison: Comparison,
  {
    schema,
    savedAs,
    shard,
  }: { schema: string; savedAs?: string | undefined; shard?: string | undefined },
) {
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
    tookMs: Math.round(comparison.tookMs),
    compared: comparison.compared,
    ignored: comparison.ignored,
    fullEvery: comparison.fullEvery,
    walks: comparison.walks.map(({ store = null, ...walk }) => ({ store, ...walk })),
    coverage: {
      reached: coverage.reached,
      total: coverage.total,
      missing: coverage.missing.map(({ id, span }) => ({
        id,
        ...span.source.placeOf(span.start),
        file: span.source.path,
      })),
    },
    difference: difference === undefined ? null : differenceToJson(difference, savedAs),
  } as const;
}

export type ComparisonJson = ReturnType<typeof comparisonToJson>;

function differenceToJson(difference: ShrunkDifference, savedAs: string | undefined) {
  const expected = namedJson(difference.expected);
  const actual = namedJson(difference.actual);
  return {
    participant: difference.participant,
    step: difference.step + 1,
    action: difference.action,
    what: difference.what,
    at: difference.at,
    expected,
    actual,
    patch: createPatch(expected, actual),
    foundAfter: difference.foundAfter,
    stepsBefore: difference.stepsBefore,
    script: difference.script,
    savedAs: savedAs ?? null,
  } as const;
}
