import { exprOf, type Application, type Store } from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import { doneWith, effectsOf, readsOf } from '../../model/footprint.js';
import type { Move } from '../../model/history.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';
import { exprsOfTask, moments } from '../../model/tasks.js';

/** What an action or a task looks at and stores, with all that belongs to it: `deck.vehicles`, and `deck.load` for its runs. */
interface Doing {
  readonly name: string;
  readonly reads: ReadonlySet<string>;
  readonly stores: ReadonlySet<string>;
}

/** What has to be done before something can be: worked out backwards, from what it looks at to what stores that. */
export class Preparing {
  readonly #doings: readonly Doing[];
  readonly #known = new Map<string, readonly (readonly string[])[]>();

  constructor(application: Application) {
    this.#doings = application.stores.flatMap((store) =>
      [...store.actions, ...store.tasks].map(({ name }) => doingOf(application, store, name)),
    );
  }

  /**
   * The actions and tasks that prepare an action or a task: first those that store what it looks at, then those that
   * store what these look at, and so on. Each is named once.
   */
  before(name: string): readonly (readonly string[])[] {
    let found = this.#known.get(name);
    if (found === undefined) {
      const reads = this.#doings.find((doing) => doing.name === name)?.reads;
      found = this.storing(reads ?? new Set(), name);
      this.#known.set(name, found);
    }
    return found;
  }

  /** Those that store some fields, those that prepare these, and so on; all but one that needs not be named. */
  storing(fields: ReadonlySet<string>, besides = ''): readonly (readonly string[])[] {
    const seen = new Set([besides]);
    const levels: (readonly string[])[] = [];
    let wanted = fields;
    for (;;) {
      const next = this.#doings.filter(
        (doing) => !seen.has(doing.name) && isAnyIn(wanted, doing.stores),
      );
      if (next.length === 0) return levels;
      for (const doing of next) seen.add(doing.name);
      levels.push(next.map((doing) => doing.name));
      wanted = new Set(next.flatMap(({ reads }) => [...reads]));
    }
  }
}

function isAnyIn(wanted: ReadonlySet<string>, there: ReadonlySet<string>): boolean {
  return [...wanted].some((one) => there.has(one));
}

function doingOf(application: Application, store: Store, name: string): Doing {
  const full = `${store.name}.${name}`;
  const [reads, stores] = [new Set<string>(), new Set<string>()];
  const look = (exprs: readonly Expr[]) => {
    const { fields, tasks } = readsOf(exprs, application);
    for (const one of [...fields, ...tasks]) reads.add(one);
  };
  const done = (at: string) => {
    for (const { store: owner, deed } of doneWith(application, at)) {
      look([...deed.requires.map(exprOf), ...deed.let.map(({ value }) => value)]);
      look(allSteps(deed.steps).flatMap(exprsOf));
      const effects = effectsOf(deed.steps, owner.name, application);
      for (const field of effects.changes) reads.add(field);
      for (const one of [...effects.stores, ...effects.starts]) stores.add(one);
    }
  };
  // What can be redone was undone; what can be undone was stored.
  const moves = ({ name: owner, history }: Store, move: Move) => {
    if (move === 'redo') reads.add(`${owner} undone`);
    else for (const field of history?.of ?? []) reads.add(`${owner}.${field}`);
    if (move === 'undo') stores.add(`${owner} undone`);
  };
  done(full);
  const move = store.actions.find((action) => action.name === name)?.move;
  if (move !== undefined) moves(store, move);
  const task = store.tasks.find((one) => one.name === name);
  if (task !== undefined) {
    look(exprsOfTask(task));
    for (const moment of moments) done(`${full}.${moment}`);
    stores.add(full);
  }
  return { name: full, reads, stores };
}
