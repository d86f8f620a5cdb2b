import { isObject } from '../../base/json.js';
import type { Application } from '../../model/application.js';
import type { Abilities, Participant } from '../../model/participant.js';

/** What of a state a participant can be held against: the fields that it has. */
export function stateWithin(state: unknown, has: Abilities | undefined): unknown {
  if (has === undefined || !isObject(state)) return state;
  return pick(state, has.fields);
}

/** What of the derived values a participant can be held against: those that it has. */
export function derivedWithin(derived: unknown, has: Abilities | undefined): unknown {
  if (has === undefined || !isObject(derived)) return derived;
  const questions = Object.keys(derived).filter((name) => name.includes('('));
  const asked = questions.filter((text) => has.derived.has(text.slice(0, text.indexOf('('))));
  const plain = Object.fromEntries(Object.entries(derived).filter(([name]) => !name.includes('(')));
  return {
    ...pick(plain, has.derived),
    ...Object.fromEntries(asked.map((text) => [text, derived[text]])),
  };
}

/** The parts of each store that are named; a store that is one value goes by its own name. */
function pick(
  stores: Readonly<Record<string, unknown>>,
  names: ReadonlySet<string>,
): Record<string, unknown> {
  const picked: Record<string, unknown> = {};
  for (const [store, own] of Object.entries(stores)) {
    if (names.has(store)) picked[store] = own;
    else if (isObject(own)) {
      const parts = Object.entries(own).filter(([name]) => names.has(`${store}.${name}`));
      if (parts.length > 0) picked[store] = Object.fromEntries(parts);
    }
  }
  return picked;
}

/** True if stores can be attached later with all of them: stores of one's own are all there from the beginning. */
export const allAttachLater = (participants: readonly Pick<Participant, 'has'>[]): boolean =>
  participants.every(({ has }) => has === undefined);

/** True if all of them keep in storage what the schema saves. */
export const allSave = (participants: readonly Pick<Participant, 'has'>[]): boolean =>
  participants.every(({ has }) => has?.reopens !== false);

/** True if all of them read what the schema has written. */
export const allReadTexts = (participants: readonly Pick<Participant, 'has'>[]): boolean =>
  participants.every(({ has }) => has?.classes.has('storage') !== false);

/** True if all of them read what the application kept before it had a schema. */
export const allReadOldTexts = (participants: readonly Pick<Participant, 'has'>[]): boolean =>
  participants.every(({ has }) => has === undefined || !has.classes.has('storage'));

/** Whether one of them does part of its work, or tells its watchers, only when the call that sent an action is over. */
export const someTellLater = (participants: readonly Pick<Participant, 'has'>[]): boolean =>
  participants.some(({ has }) => has?.settlesLater === true || (has?.targets.size ?? 0) > 0);

/** What of an application a participant does not have: stores, or actions, fields and derived values of them. What is not filled in is told apart. */
export function lackedBy(has: Abilities, { stores }: Application): string[] {
  return stores.flatMap((store) => {
    const full = (parts: readonly { readonly name: string }[]) =>
      parts.map(({ name }) => `${store.name}.${name}`);
    const fields = store.single ? [store.name] : full(store.fields);
    const all = [...fields, ...full(store.derived), ...full(store.actions), ...full(store.tasks)];
    const lacked = [
      ...fields.filter((name) => !has.fields.has(name)),
      ...full(store.derived).filter((name) => !has.derived.has(name)),
      ...full(store.actions).filter((name) => !has.actions.has(name)),
      ...full(store.tasks).filter((name) => !has.tasks.has(name)),
    ];
    const { unfilled = [] } = has;
    const missing = lacked.filter((name) => !unfilled.includes(name));
    return missing.length === all.length ? [store.name] : missing;
  });
}
