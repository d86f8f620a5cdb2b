import type { FaultKind, TriedFault } from '../faults/fault.js';

/** How good comparing is at finding faults, as one JSON value: `schema/faults-1.schema.json` says more. */
export interface FaultsJson {
  readonly leeshoreFaults: 1;
  readonly schema: string;
  readonly seed: number;
  /** The budget of each fault. */
  readonly steps: number;
  readonly tookMs: number;
  /** True if all that were chosen were tried. */
  readonly isWhole: boolean;
  readonly tried: number;
  readonly found: number;
  /** How many of them are known to be none: nobody can tell them from what is right. */
  readonly equal: number;
  readonly medianSteps: number | null;
  readonly mostSteps: number | null;
  readonly kinds: readonly KindJson[];
  readonly missed: readonly {
    readonly style: string;
    readonly kind: FaultKind;
    readonly at: string;
    readonly why: string;
  }[];
}

export interface KindJson {
  readonly kind: FaultKind;
  readonly planted: number;
  readonly found: number;
  readonly equal: number;
  readonly medianSteps: number | null;
  readonly mostSteps: number | null;
}

export interface FaultsJsonOptions {
  readonly schema: string;
  readonly seed: number;
  readonly steps: number;
  readonly tookMs: number;
  readonly isWhole: boolean;
}

export function faultsToJson(
  tried: readonly TriedFault[],
  { schema, seed, steps, tookMs, isWhole }: FaultsJsonOptions,
): FaultsJson {
  const kinds = [...new Set(tried.map(({ kind }) => kind))].sort();
  const found = tried.filter(isFound);
  return {
    leeshoreFaults: 1,
    schema,
    seed,
    steps,
    tookMs: Math.round(tookMs),
    isWhole,
    tried: tried.length,
    found: found.length,
    equal: tried.filter(isEqual).length,
    ...stepsOf(found),
    kinds: kinds.map((kind) => {
      const own = tried.filter((fault) => fault.kind === kind);
      const foundOnes = own.filter(isFound);
      return {
        kind,
        planted: own.length,
        found: foundOnes.length,
        equal: own.filter(isEqual).length,
        ...stepsOf(foundOnes),
      };
    }),
    missed: tried
      .filter((fault) => !isFound(fault))
      .map((fault) => ({
        style: fault.style,
        kind: fault.kind,
        at: fault.at,
        why: whyMissed(fault),
      })),
  };
}

function whyMissed({ equal, missed }: TriedFault): string {
  if (equal !== undefined) return `equivalent under the contract: ${equal}`;
  return missed.length === 0 ? 'no difference shown' : `never reached: ${missed.join(', ')}`;
}

const isEqual = ({ equal }: TriedFault): boolean => equal !== undefined;

const isFound = ({ foundBy }: TriedFault): boolean => foundBy !== undefined;

function stepsOf(found: readonly TriedFault[]): {
  readonly medianSteps: number | null;
  readonly mostSteps: number | null;
} {
  const steps = found.map((fault) => fault.steps).sort((a, b) => a - b);
  return { medianSteps: steps[steps.length >> 1] ?? null, mostSteps: steps.at(-1) ?? null };
}
