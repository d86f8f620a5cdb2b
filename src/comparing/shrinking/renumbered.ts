import { isObject, type Json } from '../../base/json.js';
import type { ScriptDone } from '../session/difference.js';
import type { ScriptStep } from '../script.js';
import { idPrefix } from '../playing/environment.js';

/**
 * What is left of a script, its steps with their places in it, with the identifiers that are drawn once the others are left out:
 * whoever took an item by its place in the state, or by its identifier, takes the same item. `undefined` if none changes.
 */
export function renumbered(
  kept: readonly (readonly [step: ScriptStep, place: number])[],
  isLeftOut: (place: number) => boolean,
  done: ScriptDone,
): readonly ScriptStep[] | undefined {
  const names = renames(isLeftOut, done);
  if (names.size === 0) return undefined;
  return kept.map(([step, place]) => {
    const sent = done.sent[place];
    const written = sent === undefined ? step : { ...step, payload: sent, fill: undefined };
    return renamed(written as unknown as Json, names) as unknown as ScriptStep;
  });
}

/** The identifiers that are drawn under another name, by what they were. */
function renames(
  isLeftOut: (place: number) => boolean,
  { ids, before, byStep }: ScriptDone,
): ReadonlyMap<string, string> {
  const names = new Map<string, string>();
  let [gone, goneSteps] = [0, 0];
  for (const [place, from] of before.entries()) {
    const drawn = ids.slice(from, before[place + 1] ?? ids.length);
    if (isLeftOut(place)) {
      gone += drawn.length;
      goneSteps += 1;
      continue;
    }
    for (const [i, id] of drawn.entries()) {
      const name = byStep ? earlier(id, goneSteps) : ids[from + i - gone];
      if (name !== undefined && name !== id) names.set(id, name);
    }
  }
  return names;
}

/** An identifier with the number of its step, of a step that comes so many steps earlier. */
function earlier(id: string, steps: number): string | undefined {
  const [, number, rest = ''] = /^(\d+)(-\d+)?$/.exec(id.slice(idPrefix.length)) ?? [];
  return id.startsWith(idPrefix) && number !== undefined
    ? `${idPrefix}${Number(number) - steps}${rest}`
    : undefined;
}

/** A value with names in place of names, at any depth. */
function renamed(value: Json, names: ReadonlyMap<string, string>): Json {
  if (typeof value === 'string') return names.get(value) ?? value;
  if (Array.isArray(value)) return value.map((item: Json) => renamed(item, names));
  if (!isObject(value)) return value;
  const entries = Object.entries(value as Readonly<Record<string, Json | undefined>>);
  return Object.fromEntries(
    entries.flatMap(([key, part]) =>
      part === undefined ? [] : [[names.get(key) ?? key, renamed(part, names)]],
    ),
  );
}
