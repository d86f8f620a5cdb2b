import type { Application, Store } from '../model/application.js';
import { arrowValue, code, comment, data, doc, id, joined, key, type Code } from './code.js';
import { Conversions } from './conversions.js';
import type { EmitOptions } from './emit-options.js';
import type { GeneratedFile } from './generated-file.js';
import { Guards } from './guards.js';
import { pascal } from './identifiers.js';
import { busyTypeNames, emittedFunction, emittedNames } from './runtime-names.js';
import { schemaNames } from './schema-names.js';
import { printExpr } from './print-expression.js';
import { Imports } from './imports.js';
import { TypeBook } from './type-book.js';

/** Reads a file of the run time, by its path below `src/emit`. */
export type ReadRuntime = (path: string) => string;

/** The file of the run time that says when snapshots are frozen. */
const guardFiles: Readonly<Record<EmitOptions['guard'], string>> = {
  development: 'common/guard.ts',
  always: 'common/guard-always.ts',
  never: 'common/guard-never.ts',
};

/** Where the files of the run time stand, and which others they use. */
const runtimeFiles: Readonly<
  Record<string, { readonly from: string; readonly uses: readonly string[] }>
> = {
  values: { from: 'common/values.ts', uses: [] },
  guard: { from: 'common/guard.ts', uses: [] },
  cell: { from: 'common/cell.ts', uses: ['values'] },
  formats: { from: 'common/formats.ts', uses: [] },
  transaction: { from: 'common/transaction.ts', uses: ['values', 'guard'] },
  changes: { from: 'common/changes.ts', uses: ['transaction', 'values'] },
  arguments: { from: 'common/arguments.ts', uses: ['values'] },
  answered: { from: 'styles/reducer/answered.ts', uses: ['arguments', 'runtime'] },
  'from-text': { from: 'common/from-text.ts', uses: ['transaction', 'values'] },
  parts: { from: 'common/parts.ts', uses: ['transaction'] },
  watchers: { from: 'common/watchers.ts', uses: ['transaction'] },
  tracking: { from: 'styles/proxy/tracking.ts', uses: ['values', 'cell', 'draft'] },
  followed: { from: 'common/followed.ts', uses: ['transaction'] },
  following: { from: 'common/following.ts', uses: ['followed'] },
  draft: { from: 'styles/proxy/draft.ts', uses: [] },
  'in-place': { from: 'styles/proxy/in-place.ts', uses: ['transaction', 'values'] },
};

/** The output of one style, file by file. */
export class Project {
  readonly types: TypeBook;
  readonly guards: Guards;
  readonly conversions: Conversions;
  readonly #files = new Map<string, Code>();
  readonly #used = new Set<string>();
  readonly #imports = new Map<string, readonly string[]>();

  constructor(
    readonly application: Application,
    readonly style: string,
    readonly runtimeUses: readonly string[],
    readonly options: EmitOptions,
  ) {
    this.types = new TypeBook(application, busyTypeNames(application.stores));
    const taken = [...emittedNames(application), ...schemaNames(application)];
    this.guards = new Guards(application.types, this.types, options.checks, taken);
    this.conversions = new Conversions(application.types, taken);
  }

  /** Adds a file: what it is about, its imports, its declarations. */
  add(name: string, about: string, imports: Imports, declarations: readonly Code[]): void {
    for (const file of imports.files) this.#used.add(file);
    this.#imports.set(name, imports.files);
    this.#files.set(name, joined([comment(about), imports.print(), ...declarations], '\n\n'));
  }

  /** The files that a file added before uses. */
  importsOf(name: string): readonly string[] {
    return this.#imports.get(name) ?? [];
  }

  /** All files, those of the run time that are used included. */
  finish(readRuntime: ReadRuntime): GeneratedFile[] {
    this.#addShared();
    const checks = this.guards.print();
    if (checks.text !== '') this.#files.set('checks', checks);
    const conversions = this.conversions.print();
    if (conversions.text !== '') this.#files.set('conversions', conversions);
    for (const name of ['runtime', ...this.guards.files, ...this.conversions.files])
      this.#used.add(name);
    const generated = [...this.#files].map(([name, text]) => ({
      path: `${name}.ts`,
      text: text.text,
    }));
    const copied = [...this.#runtimeNames()].map((name) => ({
      path: `${name}.ts`,
      isRuntime: true as const,
      text: readRuntime(this.#runtimeFile(name)).replace(/'\.\.\/\.\.\/common\//g, "'./"),
    }));
    return [...generated, ...copied].sort((a, b) => (a.path < b.path ? -1 : 1));
  }

  #runtimeFile(name: string): string {
    if (name === 'guard') return guardFiles[this.options.guard];
    return runtimeFiles[name]?.from ?? `styles/${this.style}/runtime.ts`;
  }

  #addFunctions(): void {
    const imports = new Imports();
    const declarations = this.application.functions.map((fn) => {
      const params = fn.params.map(
        (param) =>
          code`${id(emittedFunction(param.name))}: ${this.types.type(param.type, imports)}`,
      );
      const value = printExpr(fn.value, {
        types: this.application.types,
        isExact: this.options.checks !== 'never',
        field: notInFunctions,
        derived: notInFunctions,
        constant: notInFunctions,
        asked: notInFunctions,
        type: (type) => this.types.type(type, imports),
        check: (wanted) => this.guards.use(wanted, wanted.name, imports),
        draw: notInFunctions,
        local: (name) => id(emittedFunction(name)),
        applied: (name) => id(emittedFunction(name)),
        helper: (name) => imports.value('values', name),
      });
      const type = this.types.type(fn.value.type, imports);
      return code`${doc(fn.about)}export const ${id(emittedFunction(fn.name))} = (${joined(params, ', ')}): ${type} => ${arrowValue(value)};`;
    });
    this.add('functions', 'Functions of the schema.', imports, declarations);
  }

  #runtimeNames(): Set<string> {
    const names = new Set<string>();
    const visit = (name: string) => {
      if (names.has(name) || this.#files.has(name)) return;
      const known = name === 'runtime' ? { uses: this.runtimeUses } : runtimeFiles[name];
      if (known === undefined) return;
      names.add(name);
      known.uses.forEach(visit);
    };
    this.#used.forEach(visit);
    return names;
  }

  #addShared(): void {
    const { stores } = this.application;
    this.#files.set('types', this.types.print());
    const imports = new Imports();
    const initial = stores.map((store) => {
      const [value] = store.fields;
      const content = store.single
        ? data(value?.default)
        : code`{ ${store.fields.map((field) => code`${key(field.name)}: ${data(field.default)},`)} }`;
      const about = doc(`What '${store.name}' is at the start.`);
      return code`${about}export const ${id(`initial${pascal(store.name)}`)}: ${this.types.state(store, imports)} = ${content};`;
    });
    this.add('initial', 'The state at the start.', imports, initial);
    const constants = stores.filter((store) => store.constants.length > 0);
    if (this.#used.has('functions')) this.#addFunctions();
    if (constants.length > 0)
      this.add('constants', 'Values that never change.', new Imports(), constants.map(constantsOf));
  }
}

function notInFunctions(): never {
  throw new Error('a function reads nothing but its arguments');
}

function constantsOf(store: Store): Code {
  const entries = store.constants.map(({ name, value }) => code`${key(name)}: ${data(value)},`);
  return code`export const ${id(`${store.name}Constants`)} = { ${entries} } as const;`;
}
