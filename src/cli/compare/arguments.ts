import type { ObservedClass, Shard } from '../../core.js';
import { Unusable } from '../io.js';
import type { ArgumentsOf } from '../options/table.js';

/** What 'compare' is asked for. */
export type CompareArguments = ArgumentsOf<'compare'> & {
  readonly files: readonly string[];
  /** True if the result is told in a few lines. */
  readonly brief?: boolean;
};

/** Refuses options that do not go together. Throws {@link Unusable}. */
export function requireSense({ depth, search }: CompareArguments): void {
  if (depth !== undefined && search === 'random')
    throw new Unusable('--depth is for a small scope.', 'Leave it out, or --search random.');
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
