import type { ComparisonJson } from '../../../src/comparing/reports/comparison-json.js';

/** The result of a comparison that found nothing, with what is changed in it. */
export function comparisonMade(change: Partial<ComparisonJson> = {}): ComparisonJson {
  return {
    leeshoreComparison: 1,
    schema: 'ferry.stores.yaml',
    verdict: 'same',
    seed: 1,
    participants: ['reference', 'atom'].map((name) => participantMade(name)),
    steps: 100,
    scripts: 2,
    end: 'steps',
    budget: 100,
    tookMs: 10,
    compared: ['state'],
    ignored: [],
    fullEvery: 6,
    walks: [],
    around: 0,
    alone: 0,
    code: [],
    coverage: {
      reached: 3,
      total: 3,
      missing: [],
      bounds: { broken: 0, never: [] },
      corners: { met: 0, never: [] },
    },
    difference: null,
    alsoFound: [],
    ...change,
  };
}

export const participantMade = (
  name: string,
  notReported = 0,
): ComparisonJson['participants'][number] => ({
  name,
  lacks: [],
  unfilled: [],
  sharedOperations: [],
  without: [],
  refusesMisfits: true,
  judgesAnswers: true,
  notSent: { payloads: 0, answers: 0 },
  notReported,
  known: [],
  tolerance: null,
});
