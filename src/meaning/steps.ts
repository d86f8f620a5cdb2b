import type { Store } from '../model/application.js';
import type { Expr } from '../model/expressions.js';
import type { Move } from '../model/history.js';
import { reasons } from '../model/participant.js';
import type {
  Binding,
  ItemChange,
  Choice,
  EntryNames,
  Path,
  Step,
  TaskName,
} from '../model/steps.js';
import { resolve, type Type, type TypeTable } from '../model/types.js';
import { alter, NothingThere, withoutProperty, type FoundSegment } from './alter.js';
import { bind, evaluate, type Frame } from './compile-expression.js';
import { Refusal } from './refusal.js';

/** Where the steps of an action read and store. */
export interface Workspace {
  readonly store: Store;
  readonly types: TypeTable;
  read(field: string): unknown;
  write(field: string, value: unknown): void;
  /** Puts a whole store back to its defaults. */
  reset(store: string): void;
  /** Does another action as part of this one. */
  run(store: string, action: string, payload: unknown): void;
  /** Asks for a task to be started after the transaction. */
  start(store: string, task: string, payload: unknown): void;
  /** Abandons the runs of tasks. */
  cancel(tasks: readonly TaskName[], per: { readonly value: unknown } | undefined): void;
  /** Asks for an undo or a redo after the transaction, or empties a history at its end. */
  history(store: string, does: Move | 'reset'): void;
  /** Notes that a point of the schema was reached. */
  cover(at: string, what: string): void;
  /** Notes which items a test met. */
  picked(test: Expr, items: readonly unknown[], isMeant: (item: never) => unknown): void;
  /** Notes that the value of an expression was stored in place of another. */
  stored(value: Expr, now: unknown, before: unknown): void;
  /** Notes that a point was not reached, since a condition is not as it would have to be. */
  near(at: string, what: string, test: Expr, frame: Frame, wanted: boolean): void;
}

type Item = Readonly<Record<string, unknown>>;

/** Does a list of steps, each seeing what the ones before it did. Throws {@link Refusal}. */
export function performSteps(steps: readonly Step[], frame: Frame, space: Workspace): void {
  let here = frame;
  for (const step of steps) {
    if (step.kind === 'let') here = bindAll(step.bindings, here);
    else performStep(step, here, space);
  }
}

/** The frame with names bound to the values of expressions, each of which sees the ones before it. */
export function bindAll(bindings: readonly Binding[], frame: Frame): Frame {
  return bindings.reduce((here, { name, value }) => bind(here, name, evaluate(value, here)), frame);
}

type Perform<K extends Step['kind']> = (
  step: Extract<Step, { readonly kind: K }>,
  frame: Frame,
  space: Workspace,
) => void;

/** What each kind of step does; `let` binds names for those after it. */
const performed: { readonly [K in Exclude<Step['kind'], 'let'>]: Perform<K> } = {
  set: performSet,
  add: performAdd,
  toggle: performToggle,
  move: performMove,
  put: performPut,
  update: performUpdate,
  remove: performRemove,
  updateEntries: performUpdateEntries,
  removeEntries: performRemoveEntries,
  drop: performDrop,
  when: performWhen,
  reset: ({ fields }, _frame, space) => {
    for (const field of space.store.fields)
      if (fields.includes(field.name)) space.write(field.name, field.default);
  },
  resetStores: ({ stores }, _frame, space) => {
    for (const store of stores) space.reset(store);
  },
  run: (step, frame, space) => {
    try {
      space.run(step.store, step.action, payloadOf(step, frame));
    } catch (error) {
      if (error instanceof Refusal) space.cover(step.at, 'refused');
      throw error;
    }
  },
  start: (step, frame, space) => {
    space.start(step.store, step.task, payloadOf(step, frame));
  },
  history: ({ store, does }, _frame, space) => {
    space.history(store, does);
  },
  cancel: ({ tasks, per }, frame, space) => {
    space.cancel(tasks, per && { value: evaluate(per, frame) });
  },
};

function performStep(step: Exclude<Step, { kind: 'let' }>, frame: Frame, space: Workspace): void {
  performed[step.kind](step as never, frame, space);
}

function payloadOf({ payload }: Step & { kind: 'run' | 'start' }, frame: Frame): unknown {
  return payload === undefined ? undefined : evaluate(payload, frame);
}

function performWhen(step: Step & { kind: 'when' }, frame: Frame, space: Workspace): void {
  const isSo = Boolean(evaluate(step.test, frame));
  const branch = isSo ? 'then' : 'else';
  space.cover(step.at, branch);
  space.near(step.at, isSo ? 'else' : 'then', step.test, frame, !isSo);
  performSteps(step[branch], frame, space);
}

function performSet(step: Step & { kind: 'set' }, frame: Frame, space: Workspace): void {
  const entries = step.entries.map(({ path, value: expr }) => ({
    path,
    places: placesOf(path, frame),
    expr,
    value: evaluate(expr, frame),
  }));
  const mayMiss = step.entries.some(({ path }) =>
    path.segments.some(({ kind }) => kind !== 'property'),
  );
  try {
    for (const { path, places, expr, value } of entries)
      store(path, places, step, space, (old) => {
        space.stored(expr, value, old);
        return value;
      });
  } catch (error) {
    if (mayMiss && error instanceof Refusal && error.reason === (step.none ?? reasons.missing))
      space.cover(step.at, 'missing');
    throw error;
  }
  if (mayMiss) space.cover(step.at, 'stored');
}

function performPut(step: Step & { kind: 'put' }, frame: Frame, space: Workspace): void {
  const places = placesOf(step.in, frame);
  const key = step.key === undefined ? undefined : (evaluate(step.key, frame) as string);
  const value = evaluate(step.value, frame);
  store(step.in, places, step, space, (old) => {
    if (key !== undefined) {
      // No dictionary has an entry under that name.
      if (key === '__proto__') throw new Refusal(reasons.misfit);
      space.cover(step.at, Object.hasOwn(old as object, key) ? 'replaced' : 'added');
      return { ...(old as Item), [key]: value };
    }
    const name = keyOfList(step.in.type, space);
    const items = (step.many ? value : [value]) as readonly Item[];
    return items.reduce(
      (list, item) => {
        const at = list.findIndex((other) => other[name] === item[name]);
        space.cover(step.at, at >= 0 ? 'replaced' : 'added');
        return at >= 0 ? list.with(at, item) : [...list, item];
      },
      old as readonly Item[],
    );
  });
}

function performAdd(step: Step & { kind: 'add' }, frame: Frame, space: Workspace): void {
  const places = placesOf(step.to, frame);
  const at = typeof step.place === 'string' ? step.place : (evaluate(step.place, frame) as number);
  const value = evaluate(step.value, frame);
  const items = (step.many ? value : [value]) as readonly unknown[];
  store(step.to, places, step, space, (old) => {
    const list = old as readonly unknown[];
    const place = at === 'end' ? list.length : at === 'start' ? 0 : at;
    requirePosition(place, list.length);
    return list.toSpliced(place, 0, ...items);
  });
}

function performToggle(step: Step & { kind: 'toggle' }, frame: Frame, space: Workspace): void {
  const places = placesOf(step.in, frame);
  if (step.value === undefined) return store(step.in, places, step, space, (old) => !old);
  const value = evaluate(step.value, frame);
  store(step.in, places, step, space, (old) => {
    const list = old as readonly unknown[];
    const there = list.includes(value);
    space.cover(step.at, there ? 'removed' : 'added');
    return there ? list.filter((item) => item !== value) : [...list, value];
  });
}

function performMove(step: Step & { kind: 'move' }, frame: Frame, space: Workspace): void {
  const places = placesOf(step.in, frame);
  const { key } = step.from;
  const which = evaluate(step.from.value, frame);
  const to = evaluate(step.to, frame) as number;
  store(step.in, places, step, space, (old) => {
    const list = old as readonly Item[];
    const from =
      key === undefined ? (which as number) : list.findIndex((item) => item[key] === which);
    if (key !== undefined && from < 0) throw new NothingThere();
    requirePosition(from, list.length - 1);
    requirePosition(to, list.length - 1);
    return list.toSpliced(from, 1).toSpliced(to, 0, list[from] as Item);
  });
}

/** A position is a whole number from 0 to the last one there is. */
function requirePosition(place: number, last: number): void {
  if (!Number.isInteger(place) || place < 0 || place > last) throw new Refusal(reasons.outOfRange);
}

function performUpdate(step: Step & { kind: 'update' }, frame: Frame, space: Workspace): void {
  const places = placesOf(step.in, frame);
  const isChosen = chooser(step.choice, step.each, frame);
  store(step.in, places, step, space, (old) => {
    const list = old as readonly Item[];
    notePicked(step.choice, list, isChosen, space);
    let count = 0;
    const items = list.map((item) => {
      if (!isChosen(item)) return item;
      count++;
      return changed(item, step.changes, bind(frame, step.each, item), space);
    });
    noteCount(step, count, space);
    return items;
  });
}

function changed(item: Item, changes: readonly ItemChange[], frame: Frame, space: Workspace): Item {
  const parts = changes.map((change) => {
    const value = evaluate(change.value, frame);
    if (change.kind === 'spread') return value as Item;
    space.stored(change.value, value, item[change.name]);
    return { [change.name]: value };
  });
  return Object.assign({}, item, ...parts) as Item;
}

function performRemove(step: Step & { kind: 'remove' }, frame: Frame, space: Workspace): void {
  const places = placesOf(step.from, frame);
  const isChosen = chooser(step.choice, step.each, frame);
  store(step.from, places, step, space, (old) => {
    const list = old as readonly Item[];
    notePicked(step.choice, list, isChosen, space);
    const left = list.filter((item) => !isChosen(item));
    noteCount(step, list.length - left.length, space);
    return left;
  });
}

function performUpdateEntries(
  step: Step & { kind: 'updateEntries' },
  frame: Frame,
  space: Workspace,
): void {
  const places = placesOf(step.in, frame);
  store(step.in, places, step, space, (old) => {
    const entries = Object.entries(old as Readonly<Record<string, Item>>);
    space.picked(step.test, entries, ([key, value]: [string, Item]) =>
      evaluate(step.test, entryFrame(step.each, key, value, frame)),
    );
    let count = 0;
    const next = entries.map(([key, value]): [string, Item] => {
      const here = entryFrame(step.each, key, value, frame);
      if (!evaluate(step.test, here)) return [key, value];
      count++;
      return [key, changed(value, step.changes, here, space)];
    });
    space.cover(step.at, coveredBy(count));
    return Object.fromEntries(next);
  });
}

function performRemoveEntries(
  step: Step & { kind: 'removeEntries' },
  frame: Frame,
  space: Workspace,
): void {
  const places = placesOf(step.from, frame);
  store(step.from, places, step, space, (old) => {
    const entries = Object.entries(old as object);
    space.picked(step.test, entries, ([key, value]: [string, unknown]) =>
      evaluate(step.test, entryFrame(step.each, key, value, frame)),
    );
    const left = entries.filter(
      ([key, value]) => !evaluate(step.test, entryFrame(step.each, key, value, frame)),
    );
    space.cover(step.at, coveredBy(entries.length - left.length));
    return Object.fromEntries(left);
  });
}

function entryFrame([keyName, valueName]: EntryNames, key: string, value: unknown, frame: Frame) {
  return bind(bind(frame, keyName, key), valueName, value);
}

function performDrop(step: Step & { kind: 'drop' }, frame: Frame, space: Workspace): void {
  const places = placesOf(step.from, frame);
  const key = typeof step.key === 'string' ? step.key : (evaluate(step.key, frame) as string);
  store(step.from, places, step, space, (old) => {
    const there = Object.hasOwn(old as object, key);
    noteCount(step, there ? 1 : 0, space);
    return there ? withoutProperty(old as Item, key) : old;
  });
}

/** Notes how many items a step met; refuses it where there should have been one. */
function noteCount(
  step: Step & { kind: 'update' | 'remove' | 'drop' },
  count: number,
  space: Workspace,
): void {
  space.cover(step.at, coveredBy(count));
  if (count === 0 && step.none !== undefined) throw new Refusal(step.none);
}

function coveredBy(count: number): string {
  return count === 0 ? 'none' : count === 1 ? 'one' : 'several';
}

function chooser(choice: Choice, each: string, frame: Frame): (item: Item) => boolean {
  if (choice.kind === 'where')
    return (item) => Boolean(evaluate(choice.test, bind(frame, each, item)));
  const wanted = evaluate(choice.value, frame);
  let isFound = false;
  return (item) => {
    // Of several items with one key, the first is meant.
    const isMeant = !isFound && item[choice.key] === wanted;
    isFound ||= isMeant;
    return isMeant;
  };
}

function notePicked(
  choice: Choice,
  items: readonly Item[],
  isMeant: (item: Item) => boolean,
  space: Workspace,
): void {
  if (choice.kind === 'where') space.picked(choice.test, items, isMeant);
}

/** Stores what `change` makes of what stands at a path. */
function store(
  path: Path,
  places: readonly FoundSegment[],
  step: Step & { none?: string | undefined },
  space: Workspace,
  change: (old: unknown) => unknown,
): void {
  try {
    space.write(path.field, alter(space.read(path.field), places, change));
  } catch (error) {
    if (error instanceof NothingThere) throw new Refusal(step.none ?? reasons.missing);
    throw error;
  }
}

function keyOfList(type: Type, space: Workspace): string {
  const open = resolve(type, space.types);
  if (open.kind !== 'list' || open.key === undefined) throw new Error('put needs a keyed list');
  return open.key;
}

function placesOf(path: Path, frame: Frame): readonly FoundSegment[] {
  return path.segments.map((segment): FoundSegment => {
    if (segment.kind === 'property') return { kind: 'property', name: segment.name };
    const value = evaluate(segment.value, frame);
    if (segment.kind === 'item') return { kind: 'item', key: segment.key, value };
    return segment.kind === 'entry'
      ? { kind: 'entry', name: value as string }
      : { kind: 'position', index: value as number };
  });
}
