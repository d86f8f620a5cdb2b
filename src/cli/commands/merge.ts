import type { Argv } from 'yargs';
import type { ComparisonJson } from '../../core.js';
import { readText } from '../files.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'merge <reports..>';
export const describe =
  'Put the results of shares of a comparison together (compare --shard --json)';

export function builder(yargs: Argv) {
  return yargs
    .positional('reports', { describe: 'what the shares printed', type: 'string', array: true })
    .demandOption('reports')
    .example('$0 merge share-1.json share-2.json', 'exit code 1 if one of them found a difference');
}

export type MergeArguments = ArgumentsOf<'merge'> & { readonly reports: readonly string[] };

export async function run(io: Io, { reports, json }: MergeArguments): Promise<number> {
  const { comparisonText, mergeComparisons } = await import('../../core.js');
  const shares = await Promise.all(reports.map((path) => reportIn(io, path)));
  const merged = mergeComparisons(shares);
  if (typeof merged === 'string')
    throw new Unusable(
      `These results are no shares of one search: ${merged}.`,
      'Give all shares that were run with the same schema, seed and options.',
    );
  if (json) io.stdout(`${JSON.stringify(merged, null, 2)}\n`);
  else io.print(`${comparisonText(merged, { paint: paintFor(io), origins: new Map() })}\n`);
  if (merged.difference !== null) return exitCodes.findings;
  return merged.verdict === 'same' ? exitCodes.fine : exitCodes.findings;
}

async function reportIn(io: Io, path: string): Promise<ComparisonJson> {
  const { reportProblem } = await import('../report-in.js');
  let value: unknown;
  try {
    value = JSON.parse(readText(io, path));
  } catch (error) {
    if (error instanceof Unusable) throw error;
    throw new Unusable(`${path} is not valid JSON: ${(error as Error).message}.`, wayOut);
  }
  const problem = reportProblem(value);
  if (problem !== undefined)
    throw new Unusable(`${path} is not a result of compare: ${problem}.`, wayOut);
  return value as ComparisonJson;
}

const wayOut = 'Give what leeshore compare --shard --json printed.';
