import { isObject } from '../base/json.js';
import type { Comparison } from '../explore/compare.js';
import type { Script, ScriptFile, ScriptStep } from '../explore/script.js';

/** The result of a comparison as one JSON value. Times stand in `tookMs` alone. */
export function comparisonToJson(
  comparison: Comparison,
  schema: string,
  savedAs: string | undefined,
) {
  const { coverage, difference } = comparison;
  return {
    leeshoreComparison: 1,
    schema,
    verdict: comparison.verdict,
    seed: comparison.seed,
    participants: comparison.participants,
    steps: comparison.steps,
    scripts: comparison.scripts,
    end: comparison.end,
    tookMs: Math.round(comparison.tookMs),
    compared: comparison.compared,
    fullEvery: comparison.fullEvery,
    ignored: comparison.ignored,
    coverage: {
      reached: coverage.reached,
      total: coverage.total,
      missing: coverage.missing.map(({ id, span }) => ({
        id,
        ...span.source.placeOf(span.start),
        file: span.source.path,
      })),
    },
    difference:
      difference === undefined
        ? null
        : {
            participant: difference.participant,
            step: difference.step + 1,
            action: difference.action,
            what: difference.what,
            at: difference.at,
            expected: jsonOrName(difference.expected),
            actual: jsonOrName(difference.actual),
            foundAfter: difference.foundAfter,
            script: difference.script.steps,
            savedAs: savedAs ?? null,
          },
  };
}

/** Values that JSON does not have are named: `absent`, `NaN`. */
function jsonOrName(value: unknown): unknown {
  if (value === undefined) return { absent: true };
  return typeof value === 'number' && !Number.isFinite(value) ? String(value) : value;
}

/** A script as the text of a script file. */
export function scriptText(script: Script, schema: string, seed: number): string {
  const file: ScriptFile = { leeshoreScript: 1, schema, seed, steps: script.steps };
  return `${JSON.stringify(file, null, 2)}\n`;
}

/** Reads the text of a script file; a text that says what is wrong with it, if it is none. */
export function readScript(
  text: string,
): { readonly script: Script; readonly seed: number } | string {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return `it is no JSON: ${(error as Error).message}`;
  }
  if (!isObject(value) || value.leeshoreScript !== 1) return "it has no 'leeshoreScript': 1";
  const { steps, seed } = value;
  if (!Array.isArray(steps)) return "it has no list of 'steps'";
  const odd = steps.findIndex((step) => !isStep(step));
  if (odd >= 0) return `step ${odd + 1} has no 'send' of the form store.action`;
  return { script: { steps: steps as ScriptStep[] }, seed: typeof seed === 'number' ? seed : 0 };
}

function isStep(value: unknown): value is ScriptStep {
  if (!isObject(value) || typeof value.send !== 'string' || !/^[^.]+\.[^.]+$/.test(value.send))
    return false;
  return (
    value.fill === undefined ||
    (isObject(value.fill) && Object.values(value.fill).every((from) => typeof from === 'string'))
  );
}
