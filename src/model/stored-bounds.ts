import { deedsOf, type Application, type Store } from './application.js';
import { boundsIn, implies, typesAt, type Bound } from './bounds.js';
import { allSteps } from './step-kinds.js';
import type { ItemChange, Path, Step } from './steps.js';
import { membersOf, type Type, type TypeTable } from './types.js';

/** The bounds of the fields of a store that something which is stored may not keep, as far as types tell. */
export function boundsAtRisk(
  { types }: Application,
  store: Store,
): ReadonlyMap<string, readonly Bound[]> {
  const all = deedsOf(store).flatMap(({ steps }) =>
    allSteps(steps).flatMap((step) => storedBy(step, types)),
  );
  return new Map(
    store.fields.map(({ name, type }) => {
      const own = all.filter(({ field }) => field === name);
      const isAtRisk = (bound: Bound) =>
        own.some((stored) => !keeps(stored, bound, typesAt(type, bound.parts, types), types));
      return [name, boundsIn(type, types).filter(isAtRisk)];
    }),
  );
}

/** Values of a type that are stored somewhere in a field, or a list there that gets more items, or fewer. */
interface Stored {
  readonly field: string;
  /** Where, as in {@link Bound}. */
  readonly parts: readonly string[];
  readonly stored: Type | 'more' | 'fewer';
}

/** The bounds of a list that more items may break, or others than there were. */
const ofMore: ReadonlySet<Bound['what']> = new Set(['maxItems', 'uniqueItems', 'key']);

function keeps(
  { parts, stored }: Stored,
  bound: Bound,
  list: readonly Type[],
  types: TypeTable,
): boolean {
  const isWithin = bound.parts.every((part, i) => part === parts[i]);
  const isAbove = parts.every((part, i) => part === bound.parts[i]);
  if (!isAbove) return !isWithin || !mayRepeat(parts.slice(bound.parts.length), bound, list);
  if (stored === 'more') return !isWithin || !ofMore.has(bound.what);
  if (stored === 'fewer') return !isWithin || bound.what !== 'minItems';
  return typesAt(stored, bound.parts.slice(parts.length), types).every((one) =>
    implies(one, bound),
  );
}

/** True if what is stored at a place within a list, `[]` and what follows, may make an item as another is. */
function mayRepeat([, name]: readonly string[], { what }: Bound, list: readonly Type[]): boolean {
  if (what === 'uniqueItems') return true;
  return what === 'key' && list.some((one) => one.kind === 'list' && one.key === name);
}

function storedBy(step: Step, types: TypeTable): readonly Stored[] {
  switch (step.kind) {
    case 'set':
      return step.entries.map(({ path, value }) => ({ ...placeOf(path), stored: value.type }));
    case 'add':
      return itemsIn(step.to, step.value.type, step.many, types);
    case 'put':
      return itemsIn(step.in, step.value.type, step.many, types);
    case 'toggle':
      if (step.value === undefined) return [];
      return [fewerIn(step.in), ...itemsIn(step.in, step.value.type, false, types)];
    case 'update':
    case 'updateEntries':
      return step.changes.map((change) => changedBy(change, itemOf(step.in, types)));
    case 'remove':
    case 'removeEntries':
    case 'drop':
      return [fewerIn(step.from)];
    case 'when':
    case 'reset':
    case 'resetStores':
    case 'run':
    case 'start':
    case 'cancel':
    case 'history':
    case 'move':
    case 'let':
      return [];
  }
}

const fewerIn = (path: Path): Stored => ({ ...placeOf(path), stored: 'fewer' });

/** Items that a list or a dictionary gets. */
function itemsIn(path: Path, type: Type, many: boolean, types: TypeTable): readonly Stored[] {
  const place = placeOf(path);
  const items = many ? place : itemOf(path, types);
  return [
    { ...place, stored: 'more' },
    { ...items, stored: type },
  ];
}

function changedBy(change: ItemChange, { field, parts }: StoredPlace): Stored {
  const stored = change.value.type;
  if (change.kind === 'spread') return { field, parts, stored };
  return { field, parts: [...parts, change.name], stored };
}

type StoredPlace = Omit<Stored, 'stored'>;

function itemOf(path: Path, types: TypeTable): StoredPlace {
  const { field, parts } = placeOf(path);
  const isMap = membersOf(path.type, types).some(({ kind }) => kind === 'map');
  return { field, parts: [...parts, isMap ? '{}' : '[]'] };
}

function placeOf({ field, segments }: Path): StoredPlace {
  const parts = segments.map((segment) => {
    if (segment.kind === 'property') return segment.name;
    return segment.kind === 'entry' ? '{}' : '[]';
  });
  return { field, parts };
}
