import { addCounts } from '../base/add-counts.js';
import type { Difference } from './difference.js';
import type { Probing, ProbeUnit } from './probe.js';
import { randomScript, type PlannedScript } from './random-scripts.js';
import { runProbe } from './run-probe.js';
import { replay } from './replay.js';
import type { Script } from './script.js';
import type { Finding, KeptScript, Searching } from './searching.js';

/** Some random scripts. */
export interface RandomUnit {
  readonly kind: 'random';
  readonly seed: number;
  readonly scripts: readonly PlannedScript[];
}

/** A share of a search that can be done by itself: what it gives depends on nothing but what stands in it. */
export type Unit = { readonly kind: 'replay'; readonly script: Script } | ProbeUnit | RandomUnit;

export interface UnitResult {
  readonly steps: number;
  /** How many scripts were replayed or drawn. */
  readonly scripts: number;
  /** What has been reached, by its place among the cover points. */
  readonly reached: readonly number[];
  readonly kept: readonly KeptScript[];
  readonly untold: ReadonlyMap<string, number>;
  readonly found: { readonly script: Script; readonly difference: Difference } | undefined;
  /** Of a share of a walk: what was tried. */
  readonly probing: Pick<Probing, 'steps' | 'transitions' | 'probed'> | undefined;
}

/** Does a share of a search. `known` is what was reached before; it ends early if `isOver` says so. */
export async function runUnit(
  searching: Searching,
  unit: Unit,
  known: readonly number[],
  isOver: () => Promise<boolean>,
): Promise<UnitResult> {
  const { reached } = searching;
  reached.restart(known);
  // Many stores refuse by throwing: nobody looks at where, and taking that down costs more than the rest.
  const { stackTraceLimit } = Error;
  Error.stackTraceLimit = 0;
  try {
    return await doUnit(searching, unit, isOver);
  } finally {
    Error.stackTraceLimit = stackTraceLimit;
  }
}

async function doUnit(
  searching: Searching,
  unit: Unit,
  isOver: () => Promise<boolean>,
): Promise<UnitResult> {
  const tally = new Tally();
  let probing: UnitResult['probing'];
  switch (unit.kind) {
    case 'replay': {
      const { script } = unit;
      const { participants, observed } = searching;
      const replayed = await replay(script, participants, observed, searching.reached);
      tally.add({ script, ...replayed, kept: [] });
      break;
    }
    case 'probe': {
      const { steps, transitions, probed, untold, found } = await runProbe(searching, unit, isOver);
      probing = { steps, transitions, probed };
      tally.add({ script: noScript, difference: undefined, ...found, untold, steps, kept: [] }, 0);
      break;
    }
    case 'random':
      for (const [i, planned] of unit.scripts.entries()) {
        if (tally.found !== undefined || (i > 0 && (await isOver()))) break;
        tally.add(await randomScript(searching, unit.seed, planned));
      }
  }
  const { steps, scripts, untold, kept, found } = tally;
  return { steps, scripts, untold, kept, found, probing, reached: searching.reached.indices };
}

const noScript: Script = { steps: [] };

/** Adds up what became of scripts. */
class Tally {
  steps = 0;
  scripts = 0;
  readonly untold = new Map<string, number>();
  readonly kept: KeptScript[] = [];
  found: UnitResult['found'];

  add(
    finding: Finding & { readonly steps: number; readonly kept: readonly KeptScript[] },
    scripts = 1,
  ): void {
    this.steps += finding.steps;
    this.scripts += scripts;
    addCounts(this.untold, finding.untold);
    this.kept.push(...finding.kept);
    const { script, difference } = finding;
    if (difference !== undefined) this.found ??= { script, difference };
  }
}
