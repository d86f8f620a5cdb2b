import {
  deedsOf,
  exprOf,
  named,
  reactionsTo,
  storeNamed,
  type Application,
  type Deed,
  type Store,
} from '../../model/application.js';
import type { Move } from '../../model/history.js';
import { walkExpr, type Expr } from '../../model/expressions.js';
import { fieldsReadBy } from '../../model/fields-read.js';
import { allSteps, exprsOf, pathsOf, writtenFields } from '../../model/step-kinds.js';
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
  const seen = new Set<string>();
  const look = (exprs: readonly Expr[]) => {
    for (const field of fieldsReadBy(exprs, application)) reads.add(field);
    for (const expr of exprs)
      walkExpr(expr, (node) => {
        if (node.kind === 'task') reads.add(`${node.store}.${node.name}`);
      });
  };
  const visit = (owner: Store, { at, requires, let: bindings, steps }: Deed) => {
    if (seen.has(at)) return;
    seen.add(at);
    look([...requires.map(exprOf), ...bindings.map(({ value }) => value)]);
    for (const step of allSteps(steps)) {
      look(exprsOf(step));
      for (const { field } of pathsOf(step)) reads.add(`${owner.name}.${field}`);
      for (const field of writtenFields(step)) stores.add(`${owner.name}.${field}`);
      if (step.kind === 'resetStores')
        for (const reset of step.stores)
          for (const field of storeNamed(application, reset).fields)
            stores.add(`${reset}.${field.name}`);
      if (step.kind === 'run') done(storeNamed(application, step.store), step.action);
      if (step.kind === 'start') stores.add(`${step.store}.${step.task}`);
    }
    for (const { store: other, reaction } of reactionsTo(
      application,
      owner.name,
      at.slice(owner.name.length + 1),
    ))
      visit(other, { ...reaction, requires: [], let: [] });
  };
  // What can be redone was undone; what can be undone was stored.
  const moves = ({ name: owner, history }: Store, move: Move) => {
    if (move === 'redo') reads.add(`${owner} undone`);
    else for (const field of history?.of ?? []) reads.add(`${owner}.${field}`);
    if (move === 'undo') stores.add(`${owner} undone`);
  };
  const done = (owner: Store, deed: string) => {
    const found = deedsOf(owner).find(({ at }) => at === `${owner.name}.${deed}`);
    if (found !== undefined) visit(owner, found);
    const move = owner.actions.find((action) => action.name === deed)?.move;
    if (move !== undefined) moves(owner, move);
  };
  done(store, name);
  if (store.tasks.some((task) => task.name === name)) {
    look(exprsOfTask(named(store.tasks, name)));
    for (const moment of moments) done(store, `${name}.${moment}`);
    stores.add(full);
  }
  return { name: full, reads, stores };
}
