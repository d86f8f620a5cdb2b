import { coverPoints, type CoverPoint } from '../model/cover-points.js';
import type { Application } from '../model/application.js';
import type { Participant } from '../model/participant.js';
import { replay } from './replay.js';
import type { Script } from './script.js';
import { searchRandomly, type SearchOptions, type SearchResult } from './search.js';
import {
  fullEvery,
  observables,
  observedOf,
  type Difference,
  type ObservedClass,
} from './session.js';
import { shrink } from './shrink.js';

/** What a comparison found, and how far it looked. */
export interface Comparison {
  readonly verdict: 'same' | 'different' | 'nothing compared';
  readonly seed: number;
  readonly participants: readonly string[];
  readonly steps: number;
  readonly scripts: number;
  readonly end: SearchResult['end'] | 'script';
  /** Milliseconds that the search took. */
  readonly tookMs: number;
  readonly compared: readonly ObservedClass[];
  /** Every so many steps all of it was compared in full; between them, parts that kept their identity were not. */
  readonly fullEvery: number;
  /** The classes that were left out on request. */
  readonly ignored: readonly ObservedClass[];
  readonly coverage: Coverage;
  readonly difference: ShrunkDifference | undefined;
}

export interface Coverage {
  readonly reached: number;
  readonly total: number;
  readonly missing: readonly CoverPoint[];
}

export interface ShrunkDifference extends Difference {
  readonly script: Script;
  /** How many steps the script had when it was found. */
  readonly foundAfter: number;
  /** `store.action` of the step after which they differ. */
  readonly action: string;
}

/** Searches for a difference between the participants, and shrinks the first. */
export async function compareRandomly(
  application: Application,
  participants: readonly Participant[],
  reached: ReadonlySet<string>,
  options: SearchOptions,
): Promise<Comparison> {
  const start = options.clock();
  const result = await searchRandomly(application, participants, options);
  const tookMs = options.clock() - start;
  const observed = observedOf(application, options.classes);
  const coverage = coverageOf(application, reached);
  const shrunk =
    result.found === undefined
      ? undefined
      : shrink(result.found, (script) => replay(script, participants, observed));
  return {
    verdict:
      shrunk === undefined ? (result.steps === 0 ? 'nothing compared' : 'same') : 'different',
    seed: options.seed,
    participants: participants.map(({ name }) => name),
    steps: result.steps,
    scripts: result.scripts,
    end: result.end,
    tookMs,
    ...comparedAs(options.classes),
    fullEvery,
    coverage,
    difference:
      shrunk === undefined
        ? undefined
        : described(shrunk.difference, shrunk.script, result.found?.script.steps.length ?? 0),
  };
}

/** Replays one script. */
export function compareScript(
  application: Application,
  participants: readonly Participant[],
  reached: ReadonlySet<string>,
  script: Script,
  { seed, clock, classes }: Pick<SearchOptions, 'seed' | 'clock' | 'classes'>,
): Comparison {
  const start = clock();
  const difference = replay(script, participants, observedOf(application, classes));
  return {
    verdict:
      difference === undefined
        ? script.steps.length === 0
          ? 'nothing compared'
          : 'same'
        : 'different',
    seed,
    participants: participants.map(({ name }) => name),
    steps: difference === undefined ? script.steps.length : difference.step + 1,
    scripts: 1,
    end: 'script',
    tookMs: clock() - start,
    ...comparedAs(classes),
    fullEvery: 1,
    coverage: coverageOf(application, reached),
    difference:
      difference === undefined ? undefined : described(difference, script, script.steps.length),
  };
}

function comparedAs(classes: readonly ObservedClass[] = observables) {
  return { compared: classes, ignored: observables.filter((one) => !classes.includes(one)) };
}

function described(difference: Difference, script: Script, foundAfter: number): ShrunkDifference {
  return { ...difference, script, foundAfter, action: script.steps[difference.step]?.send ?? '' };
}

function coverageOf(application: Application, reached: ReadonlySet<string>): Coverage {
  const points = coverPoints(application);
  const missing = points.filter(({ id }) => !reached.has(id));
  return { reached: points.length - missing.length, total: points.length, missing };
}
