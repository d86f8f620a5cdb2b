import { isObject } from '../base/json.js';
import type { Application } from '../model/application.js';
import type { ExternalParticipant } from '../model/external.js';
import type { NotSent, PassedOver } from '../model/participant.js';
import { observables } from '../model/observed-class.js';
import { LoadError } from './load-error.js';
import { requireOneOf } from './require-one-of.js';

/** Counts which known differences have shown, and which steps were passed over. */
export function countingKnown(): PassedOver {
  let counts = new Map<number | NotSent, number>();
  return {
    note: (what) => void counts.set(what, (counts.get(what) ?? 0) + 1),
    take() {
      const taken = counts;
      counts = new Map();
      return taken;
    },
  };
}

/** Refuses a tolerance or a known difference that says nothing, or names what the schema does not have. */
export function requireLeniency(
  file: string,
  { tolerance, known = [] }: ExternalParticipant,
  { stores }: Application,
): void {
  const names = stores.flatMap((store) => [
    ...(store.single ? [store.name] : store.fields.map(({ name }) => `${store.name}.${name}`)),
    ...store.derived.map(({ name }) => `${store.name}.${name}`),
  ]);
  const isOff = (value: unknown) => typeof value === 'number' && value >= 0;
  if (isObject(tolerance)) {
    for (const [name, value] of Object.entries(tolerance)) {
      requireOneOf(file, 'tolerance', name, names);
      if (!isOff(value)) throw new LoadError(file, `'tolerance' of '${name}' is no number from 0`);
    }
  } else if (tolerance !== undefined && !isOff(tolerance))
    throw new LoadError(file, "'tolerance' is no number from 0, and no table of such numbers");
  const list: unknown = known;
  if (!Array.isArray(list)) throw new LoadError(file, "'known' is no list of differences");
  const actions = stores.flatMap((store) =>
    [...store.actions, ...store.tasks].map(({ name }) => `${store.name}.${name}`),
  );
  for (const [i, one] of known.entries()) {
    const at = `difference ${i + 1} of 'known'`;
    if (!isObject(one)) throw new LoadError(file, `${at} is no object`);
    if (typeof one.reason !== 'string' || one.reason.trim() === '')
      throw new LoadError(file, `${at} has no 'reason'`);
    if (!(observables as readonly unknown[]).includes(one.what))
      throw new LoadError(file, `'what' of ${at} is none of ${observables.join(', ')}`);
    if (one.at !== undefined && (typeof one.at !== 'string' || !/^(\/|$)/.test(one.at)))
      throw new LoadError(file, `'at' of ${at} is no JSON Pointer, as /deck/hold`);
    if (one.action !== undefined) requireOneOf(file, 'known', one.action, actions);
  }
}
