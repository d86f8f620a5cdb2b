import { posix } from 'node:path';
import type { ModuleText } from '../base/module-text.js';
import { counterNames } from './branches/instrument.js';
import type { Counters } from './branches/ways-gone.js';
import { LoadError } from './load-error.js';
import { withoutTypes } from './without-types.js';

export type Exports = Record<string, unknown>;

/** Puts counters into the code of a module; `undefined` if it is not counted. */
export type CountModule = (
  path: string,
  code: string,
) => { readonly code: string; readonly counters: Counters } | undefined;

/** Loads a module, by its path; once. */
export type LoadModule = (path: string) => Exports;

/** Loads modules as {@link moduleLoader} does, from an entry on; gives what that exports. */
export function loadModules(
  modules: readonly ModuleText[],
  entry: string,
  onLoaded?: (path: string, exports: Exports) => void,
): Exports {
  return moduleLoader(modules, onLoaded)(entry);
}

/**
 * Gives what loads TypeScript or JavaScript modules that import only each other. Each loader loads them anew; nothing is
 * kept. `onLoaded` may replace what a module exports before others see it; `count` may put counters into its code. Loading
 * throws {@link LoadError}.
 */
export function moduleLoader(
  modules: readonly ModuleText[],
  onLoaded?: (path: string, exports: Exports) => void,
  count?: CountModule,
): LoadModule {
  const known = new Map(modules.map((module) => [module.path, module]));
  const loaded = new Map<string, Exports>();
  const load = (path: string): Exports => {
    const before = loaded.get(path);
    if (before !== undefined) return before;
    const module = known.get(path);
    if (module === undefined) throw new LoadError(path, 'there is no such file');
    const exports: Exports = {};
    loaded.set(path, exports);
    const require = (specifier: string) => {
      const named = posix.join(posix.dirname(path), specifier);
      return load(known.has(named) ? named : named.replace(/\.js$/, '.ts'));
    };
    run(module, exports, require, count);
    onLoaded?.(path, exports);
    return exports;
  };
  return load;
}

function run(
  module: ModuleText,
  exports: Exports,
  require: (specifier: string) => Exports,
  count: CountModule | undefined,
): void {
  const { path } = module;
  try {
    const code = module.code ?? withoutTypes(module);
    // The generated stores run in this very realm, as they would in an application: values of another
    // realm would have other prototypes.
    const counted = count?.(path, code);
    const counters = counterNames.map((name) => counted?.counters[name]);
    const source = `${counted?.code ?? code}\n//# sourceURL=${path}`;
    // eslint-disable-next-line @typescript-eslint/no-implied-eval
    const body = new Function('exports', 'require', ...counterNames, source) as (
      exports: Exports,
      require: (specifier: string) => Exports,
      ...counters: readonly unknown[]
    ) => void;
    body(exports, require, ...counters);
  } catch (error) {
    if (error instanceof LoadError) throw error;
    throw new LoadError(path, error instanceof Error ? error.message : String(error));
  }
}
