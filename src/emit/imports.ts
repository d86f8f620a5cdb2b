import { code, data, id, joined, type Code } from './code.js';

/** What a generated file uses of the others. */
export class Imports {
  readonly #values = new Map<string, Set<string>>();
  readonly #types = new Map<string, Set<string>>();
  /** What types are called here that are called something else where they come from. */
  readonly #renamed = new Map<string, string>();

  /** Uses a value of another file: gives its name. */
  value(file: string, name: string): Code {
    add(this.#values, file, name);
    return id(name);
  }

  /** Uses a type of another file, under another name if it is given: gives its name. */
  type(file: string, name: string, as = name): Code {
    add(this.#types, file, name);
    if (as !== name) this.#renamed.set(`${file} ${name}`, as);
    return id(as);
  }

  /** The files that are used. */
  get files(): readonly string[] {
    return [...new Set([...this.#values.keys(), ...this.#types.keys()])].sort();
  }

  /** The import declarations, in the order of the files' names. */
  print(): Code {
    return joined(
      this.files.map((file) => this.#declaration(file)),
      '\n',
    );
  }

  /** One declaration that imports all types from a module, whatever files they were asked of. */
  printFrom(module: string): Code {
    const names = [...new Set([...this.#types.values()].flatMap((names) => [...names]))].sort();
    if (names.length === 0) return code``;
    return code`import type { ${joined(names.map(id), ', ')} } from ${data(module)};`;
  }

  #declaration(file: string): Code {
    const values = [...(this.#values.get(file) ?? [])].sort();
    const types = [...(this.#types.get(file) ?? [])]
      .sort()
      .filter((name) => !values.includes(name))
      .map((name) => {
        const as = this.#renamed.get(`${file} ${name}`);
        return as === undefined ? id(name) : code`${id(name)} as ${id(as)}`;
      });
    const from = data(`./${file}.js`);
    if (values.length === 0) return code`import type { ${joined(types, ', ')} } from ${from};`;
    const names = [...values.map(id), ...types.map((name) => code`type ${name}`)];
    return code`import { ${joined(names, ', ')} } from ${from};`;
  }
}

function add(table: Map<string, Set<string>>, file: string, name: string): void {
  const names = table.get(file) ?? new Set();
  table.set(file, names.add(name));
}

/** Names each type by the module that it comes from, where it is used: for lines that are added to a file. */
export class InlineImports extends Imports {
  constructor(readonly module: string) {
    super();
  }

  override type(_file: string, name: string): Code {
    return code`import(${data(this.module)}).${id(name)}`;
  }
}
