import type { CodeRun, NeverRun, ParticipantSummary } from '../comparison.js';
import { causeKey } from '../cause-key.js';
import type { ComparisonJson, DifferenceJson } from './comparison-json.js';

/** The shares of one search as one result; a text that says why they do not belong together, if they do not. */
export function mergeComparisons(shares: readonly ComparisonJson[]): ComparisonJson | string {
  const [first, ...others] = shares;
  if (first === undefined) return 'there is nothing to merge';
  for (const part of ['schema', 'seed', 'compared', 'fullEvery'] as const)
    if (others.some((other) => JSON.stringify(other[part]) !== JSON.stringify(first[part])))
      return `they differ in '${part}'`;
  const names = (share: ComparisonJson) => share.participants.map(({ name }) => name).join();
  if (others.some((other) => names(other) !== names(first)))
    return 'they do not compare the same participants';
  if (others.some(({ coverage }) => coverage.total !== first.coverage.total))
    return 'the schema was not the same';
  const seen = new Set<string>();
  for (const { shard } of shares) {
    if (shard === undefined) return 'not all are shares of a search (--shard)';
    if (seen.has(shard)) return `share ${shard} is given twice`;
    seen.add(shard);
  }
  const counts = new Set([...seen].map((shard) => shard.split('/')[1]));
  if (counts.size > 1) return 'they are shares of searches of different size';
  const inOrder = shares.toSorted((a, b) => numberOf(a) - numberOf(b));
  const found = inOrder.find(({ difference }) => difference !== null);
  const [difference = null, ...alsoFound] = differencesOf(inOrder);
  const total = Number([...counts][0]);
  const missing = first.coverage.missing.filter(({ id }) =>
    shares.every(({ coverage }) => coverage.missing.some((other) => other.id === id)),
  );
  const bounds = first.coverage.bounds.broken + first.coverage.bounds.never.length;
  const never = first.coverage.bounds.never.filter(({ id }) =>
    shares.every(({ coverage }) => coverage.bounds.never.some((other) => other.id === id)),
  );
  const corners = first.coverage.corners.met + first.coverage.corners.never.length;
  const neverMet = first.coverage.corners.never.filter(({ id }) =>
    shares.every(({ coverage }) => coverage.corners.never.some((other) => other.id === id)),
  );
  const { shard: _, ...merged } = first;
  return {
    ...merged,
    ...(seen.size === total
      ? {}
      : { shard: inOrder.map((share) => numberOf(share)).join('+') + `/${total}` }),
    verdict: found?.verdict ?? (shares.some(({ steps }) => steps > 0) ? 'same' : first.verdict),
    participants: first.participants.map((participant, i) => together(participant, shares, i)),
    steps: sum(shares.map(({ steps }) => steps)),
    scripts: sum(shares.map(({ scripts }) => scripts)),
    budget: sum(shares.map(({ budget }) => budget)),
    end: found?.end ?? ends.find((end) => shares.some((share) => share.end === end)) ?? 'steps',
    tookMs: Math.max(...shares.map(({ tookMs }) => tookMs)),
    walks: inOrder.flatMap(({ walks }) => walks),
    around: sum(shares.map(({ around }) => around)),
    alone: sum(shares.map(({ alone }) => alone)),
    code: first.code.map((code, i) => ({
      ...code,
      never: code.never.filter((one) => shares.every((share) => isNever(share.code[i], one))),
    })),
    coverage: {
      reached: first.coverage.total - missing.length,
      total: first.coverage.total,
      missing,
      bounds: { broken: bounds - never.length, never },
      corners: { met: corners - neverMet.length, never: neverMet },
    },
    difference,
    alsoFound,
  };
}

/** True if a share never went a way either. */
const isNever = (code: CodeRun | undefined, { file, line, column, kind }: NeverRun): boolean =>
  code?.never.some(
    (one) => one.file === file && one.line === line && one.column === column && one.kind === kind,
  ) === true;

/** The differences of all shares; those of one cause as one, with the scripts of all. */
function differencesOf(shares: readonly ComparisonJson[]): readonly DifferenceJson[] {
  const all = shares.flatMap(({ difference, alsoFound }) =>
    difference === null ? [] : [difference, ...alsoFound],
  );
  const byCause = new Map<string, DifferenceJson>();
  for (const one of all) {
    const key = causeKey(one);
    const first = byCause.get(key);
    const scripts = (first?.scripts ?? 0) + one.scripts;
    byCause.set(key, { ...(first ?? one), scripts });
  }
  return [...byCause.values()];
}

/** Why shares have ended: what comes first here holds for all of them together. */
const ends = ['stopped', 'time', 'steps', 'depth', 'closed'] as const;

const numberOf = ({ shard = '' }: ComparisonJson): number => Number(shard.split('/')[0]);

function together(
  participant: ParticipantSummary,
  shares: readonly ComparisonJson[],
  place: number,
): ParticipantSummary {
  const notReported = sum(shares.map(({ participants }) => participants[place]?.notReported ?? 0));
  const known = participant.known.map((one, i) => ({
    ...one,
    shown: sum(shares.map(({ participants }) => participants[place]?.known[i]?.shown ?? 0)),
  }));
  const notSent = (what: 'payloads' | 'answers') =>
    sum(shares.map(({ participants }) => participants[place]?.notSent[what] ?? 0));
  return {
    ...participant,
    notReported,
    known,
    notSent: { payloads: notSent('payloads'), answers: notSent('answers') },
  };
}

const sum = (numbers: readonly number[]): number => numbers.reduce((all, one) => all + one, 0);
