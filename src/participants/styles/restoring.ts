import type { Exports } from '../load-modules.js';
import type { Names } from '../names.js';
import type { Restore, State } from './style-adapter.js';

/** What is needed of an engine to put its stores into a state. */
interface Engine {
  readonly turns: {
    take(action: string, payload: undefined, check: undefined, work: unknown): unknown;
  };
  read(store: string, field: string | undefined): unknown;
  put(store: string, field: string | undefined, value: unknown): void;
  transaction(act: () => void): unknown;
}

/** No action of a schema can be called like that. */
const restoring = '(restore)';

/**
 * Changes the class of an engine that a module of the run time exports: `made` is told, of each set of stores that is made,
 * how it is put into a state. What is generated has no such action.
 */
export function makeRestorable(
  exports: Exports,
  name: string,
  names: Names,
  made: (restore: Restore) => void,
): void {
  const engineClass = exports[name];
  if (typeof engineClass !== 'function') return;
  const places = Object.entries(names.fields).flatMap(([store, fields]): StoreField[] =>
    names.single.has(store)
      ? [{ store, field: undefined }]
      : fields.map((field) => ({ store, field })),
  );
  exports[name] = class extends (engineClass as new (...args: readonly unknown[]) => Engine) {
    constructor(...args: readonly unknown[]) {
      super(...args);
      made((state) => {
        restore(this, places, state);
      });
    }
  };
}

interface StoreField {
  readonly store: string;
  readonly field: string | undefined;
}

function restore(engine: Engine, places: readonly StoreField[], state: State): void {
  const work = engine.transaction(() => {
    for (const { store, field } of places) {
      const own = state[store];
      if (field !== undefined && own === null) continue;
      const value = field === undefined ? own : (own as State)[field];
      if (engine.read(store, field) !== value) engine.put(store, field, value);
    }
  });
  engine.turns.take(restoring, undefined, undefined, work);
}
