import type { ObservedClass, SearchKind, Shard } from '../../core.js';
import { Unusable } from '../io.js';

/** What 'compare' is asked for. */
export interface CompareArguments {
  readonly files: readonly string[];
  readonly style: string;
  readonly generated?: string | undefined;
  readonly steps?: number | undefined;
  readonly for: number;
  readonly seed: number;
  readonly search: SearchKind;
  readonly ignore?: string | undefined;
  /** How many differences of different causes are told. */
  readonly differences: number;
  readonly requireCoverage?: number | undefined;
  readonly junit?: string | undefined;
  readonly script?: string | undefined;
  readonly save?: string | undefined;
  readonly with?: string | undefined;
  readonly limit: number;
  readonly jobs: number;
  readonly shard?: string | undefined;
  readonly corpus?: string | undefined;
  readonly depth?: number | undefined;
  readonly faults?: string | undefined;
  readonly json: boolean;
  /** Whether to compare again when a file is saved. */
  readonly watch?: boolean;
  /** Whether the result is told in a few lines. */
  readonly brief?: boolean;
}

/** More workers than that are a slip. */
const mostJobs = 64;

/** Refuses numbers that mean nothing. Throws {@link Unusable}. */
export function requireNumbers(args: CompareArguments): void {
  const { requireCoverage: required } = args;
  if (required !== undefined && !(required >= 0 && required <= 100))
    throw new Unusable('--require-coverage takes percent.', 'For example --require-coverage 90.');
  if (args.steps !== undefined && (!Number.isInteger(args.steps) || args.steps < 1))
    throw new Unusable('--steps takes a whole number from 1.', 'For example --steps 100000.');
  if (!Number.isInteger(args.differences) || args.differences < 1)
    throw new Unusable(
      '--differences takes a whole number from 1.',
      'For example --differences 5.',
    );
  if (!Number.isInteger(args.seed))
    throw new Unusable('--seed takes a whole number.', 'For example --seed 7.');
  const { jobs } = args;
  if (!Number.isInteger(jobs) || jobs < 1 || jobs > mostJobs)
    throw new Unusable(
      `--jobs takes a whole number from 1 to ${mostJobs}.`,
      'For example --jobs 2.',
    );
  if (args.depth !== undefined && (!Number.isInteger(args.depth) || args.depth < 1))
    throw new Unusable('--depth takes a whole number from 1.', 'For example --depth 3.');
  if (args.depth !== undefined && args.search === 'random')
    throw new Unusable('--depth is for a small scope.', 'Leave it out, or --search random.');
  if (!(args.limit > 0))
    throw new Unusable('--limit takes a number of seconds.', 'For example --limit 5.');
  if (!(args.for > 0))
    throw new Unusable('--for takes a number of seconds.', 'For example --for 30.');
}

/** The share of a search that is asked for, as `2/8`. Throws {@link Unusable}. */
export function shardOf(text: string | undefined): Shard | undefined {
  if (text === undefined) return undefined;
  const [, number, of] = (/^(\d+)\/(\d+)$/.exec(text) ?? []).map(Number);
  if (number === undefined || of === undefined || number < 1 || number > of)
    throw new Unusable(
      '--shard takes a share, as the second of eight.',
      'For example --shard 2/8.',
    );
  return { number, of };
}

/** The classes of observations that are compared: all but some. Throws {@link Unusable}. */
export async function classesBut(ignored: string | undefined): Promise<readonly ObservedClass[]> {
  const { observables } = await import('../../core.js');
  const names = ignored?.split(',').map((name) => name.trim()) ?? [];
  const odd = names.find((name) => !(observables as readonly string[]).includes(name));
  if (odd !== undefined)
    throw new Unusable(
      `Nothing called '${odd}' is compared.`,
      `There are: ${observables.join(', ')}.`,
    );
  const left = observables.filter((name) => !names.includes(name));
  if (left.length === 0)
    throw new Unusable('--ignore leaves nothing to compare.', 'Leave at least one of them.');
  return left;
}
