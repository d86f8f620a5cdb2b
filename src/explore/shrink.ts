import { escapePointer, isObject, pointerParts, type Json } from '../base/json.js';
import type { Script, ScriptStep } from './script.js';
import type { Difference } from './session.js';

/** A failing script, with how it fails. */
export interface Failing {
  readonly script: Script;
  readonly difference: Difference;
}

/** At most this many scripts are tried. */
const mostTries = 3000;

/**
 * A script that still fails, in which no single step can be left out, and payloads are as plain as can be.
 * The same failing script always shrinks to the same one.
 */
export function shrink(
  failing: Failing,
  fails: (script: Script) => Difference | undefined,
): Failing {
  let tries = 0;
  let best = cut(failing);
  const attempt = (steps: readonly ScriptStep[]): boolean => {
    if (tries++ >= mostTries) return false;
    const difference = fails({ steps });
    if (difference === undefined) return false;
    best = cut({ script: { steps }, difference });
    return true;
  };
  for (let changed = true; changed;) {
    changed = removeSteps(() => best.script.steps, attempt);
    changed = simplifyPayloads(() => best.script.steps, attempt) || changed;
  }
  return best;
}

/** The script without what comes after the step that fails. */
function cut({ script, difference }: Failing): Failing {
  return { script: { steps: script.steps.slice(0, difference.step + 1) }, difference };
}

type Attempt = (steps: readonly ScriptStep[]) => boolean;

/** Leaves out runs of steps, long ones first, then single ones. */
function removeSteps(steps: () => readonly ScriptStep[], attempt: Attempt): boolean {
  let changed = false;
  for (let size = Math.max(1, steps().length >> 1); size >= 1; size >>= 1) {
    for (let from = steps().length - size; from >= 0;) {
      const now = steps();
      if (attempt([...now.slice(0, from), ...now.slice(from + size)])) changed = true;
      from = Math.min(from, steps().length) - Math.max(1, size >> 1);
    }
  }
  return changed;
}

function simplifyPayloads(steps: () => readonly ScriptStep[], attempt: Attempt): boolean {
  let changed = false;
  for (let i = 0; i < steps().length; i++) {
    for (let progress = true; progress;) {
      progress = false;
      const step = steps()[i];
      if (step?.payload === undefined) break;
      for (const simpler of simplerSteps(step)) {
        if (attempt(steps().with(i, simpler))) {
          changed = progress = true;
          break;
        }
      }
    }
  }
  return changed;
}

/** The step with one part of its payload made plainer, each way: first those that take less from the state. */
function simplerSteps(step: ScriptStep): readonly ScriptStep[] {
  const filled = new Set(Object.keys(step.fill ?? {}));
  return [...[...filled].map((at) => unfilled(step, at)), ...plainerSteps(step, filled)];
}

/** The step with a part written out that was taken from the state. */
function unfilled({ send, payload, fill }: ScriptStep, at: string): ScriptStep {
  const left = Object.fromEntries(Object.entries(fill ?? {}).filter(([place]) => place !== at));
  const plain: ScriptStep = payload === undefined ? { send } : { send, payload };
  return Object.keys(left).length === 0 ? plain : { ...plain, fill: left };
}

function plainerSteps(step: ScriptStep, filled: ReadonlySet<string>): readonly ScriptStep[] {
  return simplerValues(step.payload ?? null, '', filled).map(({ value, without }) => {
    const fill = Object.fromEntries(
      Object.entries(step.fill ?? {}).filter(([at]) => !isBelow(at, without)),
    );
    const { send } = step;
    return Object.keys(fill).length === 0
      ? { send, payload: value }
      : { send, payload: value, fill };
  });
}

function isBelow(pointer: string, parent: string | undefined): boolean {
  if (parent === undefined) return false;
  const [own, above] = [pointerParts(pointer), pointerParts(parent)];
  return above.every((part, i) => own[i] === part);
}

interface Simpler {
  readonly value: Json;
  /** The part that is gone from the payload, with what was filled in there. */
  readonly without?: string;
}

function simplerValues(value: Json, at: string, filled: ReadonlySet<string>): readonly Simpler[] {
  if (filled.has(at)) return [];
  if (typeof value === 'string')
    return ['', 'a', value.slice(0, value.length >> 1)]
      .filter((text) => rank(text) < rank(value))
      .map((text) => ({ value: text }));
  if (typeof value === 'number')
    return [0, 1, Math.trunc(value)]
      .filter((n) => numberRank(n) < numberRank(value))
      .map((n) => ({ value: n }));
  if (value === true) return [{ value: false }];
  if (typeof value !== 'object' || value === null) return [];
  const keys = Object.keys(value);
  const parts = value as Readonly<Record<string, Json>>;
  const fewer = keys.map((key): Simpler => {
    const left = Array.isArray(value)
      ? value.filter((_, i) => String(i) !== key)
      : Object.fromEntries(Object.entries(parts).filter(([own]) => own !== key));
    return { value: left as Json, without: `${at}/${escapePointer(key)}` };
  });
  const plainer = keys.flatMap((key) =>
    simplerValues(parts[key] ?? null, `${at}/${escapePointer(key)}`, filled).map(
      ({ value: part, without }): Simpler => {
        const whole = Array.isArray(value)
          ? value.with(Number(key), part)
          : { ...parts, [key]: part };
        return without === undefined ? { value: whole as Json } : { value: whole as Json, without };
      },
    ),
  );
  return [...(isObject(value) || filled.size === 0 ? fewer : []), ...plainer];
}

function rank(text: string): number {
  return text.length * 2 + (/^a*$/.test(text) ? 0 : 1);
}

function numberRank(n: number): number {
  if (n === 0) return 0;
  if (n === 1) return 1;
  return Number.isInteger(n) ? 2 + Math.min(Math.abs(n), 1e6) : 2e6 + Math.abs(n);
}
