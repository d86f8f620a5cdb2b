import { existsSync, readFileSync } from 'node:fs';
import { isBuiltin } from 'node:module';
import { dirname, join } from 'node:path';

/** Files that bundlers import and that are no modules, and components, which are named where they are not read. */
const noModule =
  /\.(css|scss|sass|less|styl|svg|png|jpe?g|gif|webp|avif|ico|woff2?|ttf|mp[34]|webm|json|html|md|txt|wasm|graphql|vue|svelte)$/;

/** Imports that lead nowhere, by the file that has them. */
export class MissingImports {
  readonly #byFile = new Map<string, Set<string>>();
  readonly #packages = new Map<string, ReadonlySet<string>>();

  add(file: string, name: string): void {
    if (!this.#isLoss(file, name)) return;
    const known = this.#byFile.get(file);
    if (known === undefined) this.#byFile.set(file, new Set([name]));
    else known.add(name);
  }

  of(file: string): ReadonlySet<string> {
    return this.#byFile.get(file) ?? new Set();
  }

  /** True if something of a store could come from there: not from a picture, a package that is known, or a bundler's own name. */
  #isLoss(file: string, name: string): boolean {
    if (isBuiltin(name) || /^[a-z]+:|[?]/.test(name) || noModule.test(name)) return false;
    const [first = '', second = ''] = name.split('/');
    const own = first.startsWith('@') ? `${first}/${second}` : first;
    return !this.#packagesFor(dirname(file)).has(own);
  }

  /** The packages that the nearest `package.json` names. */
  #packagesFor(folder: string): ReadonlySet<string> {
    const known = this.#packages.get(folder);
    if (known !== undefined) return known;
    const path = join(folder, 'package.json');
    const above = dirname(folder);
    const found = existsSync(path)
      ? packagesIn(readFileSync(path, 'utf8'))
      : above === folder
        ? new Set<string>()
        : this.#packagesFor(above);
    this.#packages.set(folder, found);
    return found;
  }
}

function packagesIn(text: string): ReadonlySet<string> {
  try {
    const all = JSON.parse(text) as Readonly<Record<string, unknown>>;
    const kinds = ['dependencies', 'devDependencies', 'peerDependencies', 'optionalDependencies'];
    return new Set(kinds.flatMap((kind) => Object.keys(all[kind] ?? {})));
  } catch {
    return new Set();
  }
}
