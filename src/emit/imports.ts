import { code, data, id, joined, type Code } from './code.js';

/** What a generated file uses of the others. */
export class Imports {
  readonly #values = new Map<string, Set<string>>();
  readonly #types = new Map<string, Set<string>>();

  /** Uses a value of another file: gives its name. */
  value(file: string, name: string): Code {
    add(this.#values, file, name);
    return id(name);
  }

  /** Uses a type of another file: gives its name. */
  type(file: string, name: string): Code {
    add(this.#types, file, name);
    return id(name);
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

  #declaration(file: string): Code {
    const values = [...(this.#values.get(file) ?? [])].sort();
    const types = [...(this.#types.get(file) ?? [])]
      .sort()
      .filter((name) => !values.includes(name));
    const from = data(`./${file}.js`);
    if (values.length === 0)
      return code`import type { ${joined(types.map(id), ', ')} } from ${from};`;
    const names = [...values.map(id), ...types.map((name) => code`type ${id(name)}`)];
    return code`import { ${joined(names, ', ')} } from ${from};`;
  }
}

function add(table: Map<string, Set<string>>, file: string, name: string): void {
  const names = table.get(file) ?? new Set();
  table.set(file, names.add(name));
}
