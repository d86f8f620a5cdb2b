import type { Json } from '../../base/json.js';
import { named, type Application, type Store } from '../../model/application.js';
import type { Participant } from '../../model/participant.js';
import type { Random } from '../../base/random.js';
import type { OlderVersion, Saved } from '../../model/saved.js';
import { allAttachLater, allReadTexts, allSave } from '../session/abilities.js';
import { oldProperties, oldValue } from './old-data.js';
import type { PayloadSource } from './payloads.js';
import { poolOf } from './pool.js';
import type { ReopenStep, StorageStep } from '../script.js';

type SavedStore = Store & { readonly saved: Saved };

const reopen: ReopenStep = { reopen: true };

/** Texts that no store has saved. */
const broken = [
  '',
  '{',
  'null',
  '[]',
  '7',
  '"tide"',
  '{"version":99,"fields":{}}',
  '{"version":1}',
];

/** The stores that are saved; none if a participant does not save them. */
export function savedStores(
  { stores }: Application,
  participants: readonly Pick<Participant, 'has'>[],
): readonly SavedStore[] {
  if (!allSave(participants)) return [];
  return stores.filter((store): store is SavedStore => store.saved !== undefined);
}

/** The names of lazy stores; none if a participant has no lazy stores. */
export function lazyStores(
  { stores }: Application,
  participants: readonly Pick<Participant, 'has'>[],
): readonly string[] {
  if (!allAttachLater(participants)) return [];
  return stores.flatMap(({ name, lazy }) => (lazy ? [name] : []));
}

/** The storage steps of a small scope: stores are made anew, on what they saved or on broken texts. */
export function smallStorageInputs(
  stores: readonly SavedStore[],
  participants: readonly Pick<Participant, 'has'>[],
): readonly (ReopenStep | StorageStep)[] {
  if (stores.length === 0) return [];
  const all = allReadTexts(participants) ? stores : [];
  const texts = all.flatMap(({ saved: { key } }) =>
    ['{', '{"version":99,"fields":{}}'].map((text) => ({ storage: { key, text } })),
  );
  return [reopen, ...texts, { storage: 'full' }, { storage: 'works' }];
}

/** The chance that the storage holds only some of the fields, and that data of another version. */
const shareOfPartial = 0.3;
const shareOfVersions = 0.7;
/** The chance that it holds what was kept before there was a schema, where that can be read. */
const shareOfOld = 0.5;

/** Storage steps at random: one, or a text and a reopening. */
export function drawnStorage(
  application: Application,
  stores: readonly SavedStore[],
  source: PayloadSource,
  state: Readonly<Record<string, unknown>>,
): readonly (ReopenStep | StorageStep)[] {
  const { random } = source;
  const kind = random.fraction();
  if (kind < 0.4) return [reopen];
  if (kind < 0.5) return [{ storage: random.pick(['full', 'denied'] as const) }];
  if (kind < 0.6) return [{ storage: 'works' }];
  const store = random.pick(stores);
  const { key, old } = store.saved;
  if (old !== undefined && random.chance(shareOfOld))
    return [...textsOfOld(application, store, source), reopen];
  const text = random.chance(0.3)
    ? random.pick(broken)
    : JSON.stringify(drawnData(application, store, source, state));
  return [{ storage: { key, text } }, reopen];
}

/** Random data of a store, of its present version or of an earlier one. */
function drawnData(
  application: Application,
  store: SavedStore,
  source: PayloadSource,
  state: Readonly<Record<string, unknown>>,
): Json {
  const { random } = source;
  const { fields, version, from } = store.saved;
  const pool = poolOf(application, state);
  const names = random.chance(shareOfPartial) ? fields.filter(() => random.chance(0.6)) : fields;
  const entries = names.map((name): [string, Json] => [
    name,
    source.draw(named(store.fields, name).type, pool).payload,
  ]);
  const data = Object.fromEntries(entries);
  if (version === undefined) return data;
  if (!random.chance(shareOfVersions)) return { version, fields: data };
  const older = from.length === 0 ? undefined : random.pick(from);
  const told = random.chance(0.7) ? (older?.version ?? 0) : random.pick([0, version, version + 1]);
  const added = oldEntries(older, application, store, random);
  const old = { ...data, ...Object.fromEntries(added) };
  return told === 0 && random.chance(0.5) ? old : { version: told, fields: old };
}

/** Most of what the expressions of an earlier version read of `old`, with values at random. */
function oldEntries(
  older: Pick<OlderVersion, 'fields'> | undefined,
  application: Application,
  store: SavedStore,
  random: Random,
): readonly (readonly [string, Json])[] {
  const properties = oldProperties(older, store.fields, application.types);
  const { own: ownNames, within } = properties;
  const item = (): Json =>
    Object.fromEntries(
      within
        .filter(() => random.chance(0.85))
        .map((name) => [name, oldValue(name, properties, random)]),
    );
  return ownNames
    .filter(() => random.chance(0.85))
    .map((name) => {
      const isList = within.length > 0 && !properties.kinds.has(name) && random.chance(0.75);
      return [
        name,
        isList ? Array.from({ length: random.below(3) }, item) : oldValue(name, properties, random),
      ] as const;
    });
}

/** What was kept before there was a schema, under some of its keys. */
function textsOfOld(
  application: Application,
  store: SavedStore,
  { random }: PayloadSource,
): readonly StorageStep[] {
  const { old } = store.saved;
  return oldEntries(old, application, store, random).flatMap(([name, value]) => {
    const found = old?.keys.find((one) => one.name === name);
    if (found === undefined) return [];
    const { key, isText } = found;
    return [
      {
        storage: { key, text: isText && typeof value === 'string' ? value : JSON.stringify(value) },
      },
    ];
  });
}
