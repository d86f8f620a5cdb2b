// What steps and expressions read, store, set off and can be refused by: worked out here, asked everywhere else.
import {
  deedsOf,
  named,
  reactionsTo,
  storeNamed,
  type Deed,
  type Store,
  type Stores,
} from './application.js';
import { walkExpr, type Expr } from './expressions.js';
import { doneBy } from './functions.js';
import { allSteps, beyondOf, mayBeRefused, pathsOf, writtenFields } from './step-kinds.js';
import type { Step } from './steps.js';
import type { Type } from './types.js';

/** The fields, tasks and histories that expressions read. Fields are named in full: `deck.vehicles`. */
export interface Reads {
  /** Fields, also those that are read through derived values. */
  readonly fields: ReadonlySet<string>;
  /** Tasks of which anything is read, also through derived values: `timetable.load`. */
  readonly tasks: ReadonlySet<string>;
  /** Fields, derived values, and what is read of tasks, as they are written: `deck.usedM`, `timetable.load.running`. */
  readonly written: ReadonlySet<string>;
  /** Stores that are written. */
  readonly stores: ReadonlySet<string>;
  /** Constants that are written: `deck.carM`. */
  readonly constants: ReadonlySet<string>;
  /** Functions of the schema that are written. */
  readonly functions: ReadonlySet<string>;
  /** Types that are asked about. */
  readonly types: readonly Type[];
  /** True if the environment is asked: for an identifier, the time, a random number. */
  readonly asksEnvironment: boolean;
}

/** The effects of steps, with the steps within them; actions and tasks that they set off are not followed. Fields are named in full. */
export interface Effects {
  /** Fields that are stored to in any way. */
  readonly stores: ReadonlySet<string>;
  /** Fields that are set or changed. */
  readonly changes: ReadonlySet<string>;
  /** Of those, fields of which the old value counts. */
  readonly changesInPart: ReadonlySet<string>;
  /** Stores that are put back to their defaults as a whole. */
  readonly resets: ReadonlySet<string>;
  /** Actions: `deck.admit`. */
  readonly runs: ReadonlySet<string>;
  /** Tasks: `timetable.load`. */
  readonly starts: ReadonlySet<string>;
  readonly cancels: ReadonlySet<string>;
  /** The histories that it goes through or empties: `deck.undo`. */
  readonly moves: ReadonlySet<string>;
  /** True if one of them may be refused; what does not fit is found at the end of the action. */
  readonly mayBeRefused: boolean;
}

/** Steps that are done together, and their store. */
export interface StoreDeed {
  readonly store: Store;
  readonly deed: Deed;
}

/** The reads of derived values, themselves or through others. */
const readThrough = new WeakMap<Expr, Pick<Reads, 'fields' | 'tasks'>>();

/** The reads of expressions. */
export function readsOf(exprs: readonly Expr[], application: Stores): Reads {
  const [fields, tasks] = [new Set<string>(), new Set<string>()];
  const [written, stores] = [new Set<string>(), new Set<string>()];
  const [constants, functions] = [new Set<string>(), new Set<string>()];
  const types: Type[] = [];
  let asksEnvironment = false;
  const visit = (node: Expr): void => {
    if ('store' in node) stores.add(node.store);
    if (node.kind === 'constant') constants.add(`${node.store}.${node.name}`);
    else if (node.kind === 'apply') functions.add(node.name);
    else if (node.kind === 'fits') types.push(node.wanted);
    else if (node.kind === 'call') asksEnvironment ||= doneBy(node.name) === 'environment';
    else if (node.kind === 'task') {
      written.add(`${node.store}.${node.name}.${node.reading}`);
      tasks.add(`${node.store}.${node.name}`);
    } else if (node.kind === 'field') {
      written.add(`${node.store}.${node.name}`);
      fields.add(`${node.store}.${node.name}`);
    } else if (node.kind === 'derived' || node.kind === 'ask') {
      written.add(`${node.store}.${node.name}`);
      const through = readByDerived(node.store, node.name, application);
      for (const field of through.fields) fields.add(field);
      for (const task of through.tasks) tasks.add(task);
    }
  };
  for (const expr of exprs) walkExpr(expr, visit);
  return { fields, tasks, written, stores, constants, functions, types, asksEnvironment };
}

/** The reads of a derived value, itself or through others. */
export function readByDerived(
  store: string,
  name: string,
  application: Stores,
): Pick<Reads, 'fields' | 'tasks'> {
  const { value } = named(storeNamed(application, store).derived, name);
  let found = readThrough.get(value);
  if (found === undefined) readThrough.set(value, (found = readsOf([value], application)));
  return found;
}

/** The effects of steps of a store, with the steps within them. */
export function effectsOf(steps: readonly Step[], store: string, application: Stores): Effects {
  const all = allSteps(steps);
  const full = (field: string): string => `${store}.${field}`;
  const beyond = all.map(beyondOf);
  const resets = new Set(beyond.flatMap((one) => one.resets ?? []));
  const fieldsOfReset = application.stores
    .filter(({ name }) => resets.has(name))
    .flatMap(({ name, fields }) => fields.map((field) => `${name}.${field.name}`));
  const paths = all.flatMap((step) => pathsOf(step).map((path) => ({ step, path })));
  const inPart = paths.filter(({ step, path }) => step.kind !== 'set' || path.segments.length > 0);
  return {
    stores: new Set([...all.flatMap(writtenFields).map(full), ...fieldsOfReset]),
    changes: new Set(paths.map(({ path }) => full(path.field))),
    changesInPart: new Set(inPart.map(({ path }) => full(path.field))),
    resets,
    runs: new Set(beyond.flatMap((one) => one.runs ?? [])),
    starts: new Set(beyond.flatMap((one) => one.starts ?? [])),
    cancels: new Set(beyond.flatMap((one) => one.cancels ?? [])),
    moves: new Set(beyond.flatMap((one) => one.moves ?? [])),
    mayBeRefused: all.some(mayBeRefused),
  };
}

const deedsByName = new WeakMap<Stores, ReadonlyMap<string, StoreDeed>>();

function deedNamed(application: Stores, at: string): StoreDeed | undefined {
  let deeds = deedsByName.get(application);
  if (deeds === undefined) {
    const all = application.stores.flatMap((store) =>
      deedsOf(store).map((deed) => [deed.at, { store, deed }] as const),
    );
    deedsByName.set(application, (deeds = new Map(all)));
  }
  return deeds.get(at);
}

/**
 * All that is done in one transaction: an action, or the moment of a task (`timetable.load.finish`), the actions that its
 * steps run, and the reactions to each. Each is there once, in the order in which it is first done.
 */
export function doneWith(application: Stores, at: string): readonly StoreDeed[] {
  const found = new Map<string, StoreDeed>();
  const visit = (name: string): void => {
    if (found.has(name)) return;
    const own = deedNamed(application, name);
    if (own === undefined) return;
    found.set(name, own);
    for (const ran of effectsOf(own.deed.steps, own.store.name, application).runs) visit(ran);
    const [store = '', ...rest] = name.split('.');
    for (const { reaction } of reactionsTo(application, store, rest.join('.'))) visit(reaction.at);
  };
  visit(at);
  return [...found.values()];
}
