import { code, comment, data, joined, Name, nothing, word, type Code } from './code.js';
import { freeIdentifier, namesUsed, printCode } from './print.js';

/** What is imported: from which module, under which name. */
interface Import {
  readonly module: string;
  readonly exported: string;
  readonly name: Name;
  isType: boolean;
}

/** A file of the output: its declarations, and what they use of other files. */
export class Module {
  readonly #declarations: Code[] = [];
  readonly #own = new Set<Name>();
  readonly #imports = new Map<string, Import>();
  readonly #globals = new Map<string, Name>();

  /**
   * `path`: below the folder, without an extension. `about`: what the comment at its head says. `specifier`: how
   * another module is found from this one.
   */
  constructor(
    readonly path: string,
    readonly about: string,
    readonly specifier = (module: string) => relative(path, module),
  ) {}

  add(...declarations: readonly Code[]): void {
    this.#declarations.push(...declarations);
  }

  /** True if nothing stands in it. */
  get isEmpty(): boolean {
    return this.#declarations.length === 0;
  }

  /** A name that the file declares for others. */
  exported(name: string): Name {
    const own = new Name(name, 'fixed');
    this.#own.add(own);
    return own;
  }

  /** A name that the file declares for itself. */
  own(name: string): Name {
    const own = new Name(name);
    this.#own.add(own);
    return own;
  }

  /** A name that every program knows. */
  global(name: string): Name {
    const known = this.#globals.get(name) ?? new Name(name, 'fixed');
    this.#globals.set(name, known);
    return known;
  }

  /** Uses a value of another file. */
  value(module: string, exported: string): Name {
    const found = this.#import(module, exported);
    found.isType = false;
    return found.name;
  }

  /** Uses a type of another file. */
  type(module: string, exported: string): Name {
    return this.#import(module, exported).name;
  }

  #import(module: string, exported: string): Import {
    const key = `${module} ${exported}`;
    let found = this.#imports.get(key);
    if (found === undefined) {
      found = { module, exported, name: new Name(exported), isType: true };
      this.#imports.set(key, found);
    }
    return found;
  }

  /** The modules that it uses. */
  get uses(): readonly string[] {
    return [...new Set(this.#used().map(({ module }) => module))];
  }

  /** What is imported and used. */
  #used(): readonly Import[] {
    const names = namesUsed(joined(this.#declarations, '\n\n'));
    return [...this.#imports.values()].filter(({ name }) => names.has(name));
  }

  /** A piece of code in which each import stands where it is used. */
  inline(content: Code): string {
    const imports = [...this.#imports.values()].map(
      ({ module, exported, name }) =>
        [name, `import(${JSON.stringify(this.specifier(module))}).${exported}`] as const,
    );
    const fixed = [...namesUsed(content)].filter(({ kind }) => kind === 'fixed');
    return printCode(
      content,
      new Map([...fixed.map((name) => [name, name.wanted] as const), ...imports]),
    );
  }

  print(): string {
    const content = joined(this.#declarations, '\n\n');
    const used = namesUsed(content);
    const fixed = [...used].filter(({ kind }) => kind === 'fixed');
    const identifiers = new Map(fixed.map((name) => [name, name.wanted]));
    const taken = new Set(identifiers.values());
    const imports = this.#used();
    for (const name of [...imports.map((one) => one.name), ...this.#own]) {
      if (identifiers.has(name)) continue;
      const identifier = freeIdentifier(name.wanted, taken);
      identifiers.set(name, identifier);
      taken.add(identifier);
    }
    const whole = joined(
      [
        joined(this.about.split('\n').map(comment), ''),
        importsOf(this.specifier, imports, identifiers),
        content,
      ],
      '\n\n',
    );
    return printCode(whole, identifiers);
  }
}

function importsOf(
  specifier: (module: string) => string,
  imports: readonly Import[],
  identifiers: ReadonlyMap<Name, string>,
): Code {
  const modules = [...new Set(imports.map(({ module }) => module))].sort();
  const lines = modules.map((module) => {
    const own = imports
      .filter((one) => one.module === module)
      .sort((a, b) => (a.exported < b.exported ? -1 : 1));
    const areTypes = own.every(({ isType }) => isType);
    const names = own.map(({ exported, name, isType }) => {
      const as = identifiers.get(name) === exported ? nothing : code`${word(exported)} as `;
      return code`${isType && !areTypes ? code`type ` : code``}${as}${name}`;
    });
    const start = areTypes ? code`import type` : code`import`;
    return code`${start} { ${joined(names, ', ')} } from ${data(specifier(module))};`;
  });
  return joined(lines, '\n');
}

/** How one module is found from another: `../types.js` from `stores/deck`. */
export function relative(from: string, to: string): string {
  const folders = from.split('/').slice(0, -1);
  const parts = to.split('/');
  let common = 0;
  while (common < folders.length && folders[common] === parts[common]) common += 1;
  const up = folders.slice(common).map(() => '..');
  const way = [...(up.length === 0 ? ['.'] : up), ...parts.slice(common)].join('/');
  return `${way}.js`;
}
