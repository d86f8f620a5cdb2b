import type { ModuleText } from '../base/module-text.js';
import { isStyle, type Style } from '../base/styles.js';
import { isWithoutChecks } from '../model/file-header.js';
import type { Environment, Participant } from '../model/participant.js';
import type { WaysGone } from './branches/ways-gone.js';
import { LoadError } from './load-error.js';
import { moduleLoader } from './load-modules.js';
import type { Names } from './names.js';
import { atomAdapter } from './styles/atom.js';
import { observableAdapter } from './styles/observable.js';
import { proxyAdapter } from './styles/proxy.js';
import { reducerAdapter } from './styles/reducer.js';
import { makeRestorable } from './styles/restoring.js';
import type { Restore, StyleAdapter } from './styles/style-adapter.js';

/** Generated stores as they stand on disk, to be compared as they are. */
export interface GeneratedFolder {
  readonly name: string;
  readonly style: string;
  readonly files: readonly ModuleText[];
}

const adapters: Readonly<Record<Style, StyleAdapter>> = {
  reducer: reducerAdapter,
  atom: atomAdapter,
  proxy: proxyAdapter,
  observable: observableAdapter,
};

/** The generated stores of one style as a participant. Throws {@link LoadError} for code that cannot be loaded. */
export function generatedParticipant(
  name: string,
  style: string,
  files: readonly ModuleText[],
  names: Names,
  ways?: WaysGone,
): Participant {
  const entry = files.some(({ path }) => path === 'index.js') ? 'index.js' : 'index.ts';
  if (!isStyle(style)) throw new LoadError(entry, `there is no style '${String(style)}'`);
  const adapter = adapters[style];
  /** Puts the stores that were made last into states; none where all is in one file. */
  let last: Restore | undefined;
  const load = moduleLoader(
    files,
    (path, exports) => {
      const [engine, type] = adapter.engine;
      if (path.replace(/\.[jt]s$/, '') === engine)
        makeRestorable(exports, type, names, (restore) => (last = restore));
    },
    ways && ((path, code) => (isOwn(path) ? ways.count(name, path, code, 'script') : undefined)),
  );
  const exported = load(entry);
  const { createStores } = exported;
  /** What a lazy store is attached with: of a file of its own, or where all is in one. */
  const lazyStore = (store: string): unknown => {
    const own = `${store}Store`;
    if (exported[own] !== undefined) return exported[own];
    return load(entry.replace('index', `stores/${store}`))[own];
  };
  if (typeof createStores !== 'function')
    throw new LoadError(entry, "it does not export 'createStores'");
  const make = createStores as (environment: Environment & { guard: boolean }) => never;
  const judges = !isWithoutChecks(files.find(({ path }) => path === entry)?.text ?? '');
  return {
    name,
    refusesMisfits: judges,
    create(environment) {
      last = undefined;
      const onProblem: Environment['onProblem'] = (report) => {
        // A help for who develops an application: the outcome says the same.
        if ((report.kind as string) !== 'payload') environment.onProblem(report);
      };
      const created = make({ ...environment, onProblem, guard: true });
      const running = adapter.adapt(created, names, lazyStore);
      const restore = last as Restore | undefined;
      return restore === undefined ? running : { ...running, restore };
    },
  };
}

/** True if a file is of the stores themselves, not of the run time or of what judges values. */
const isOwn = (path: string): boolean => !/^(?:runtime|checks)\//.test(path);
