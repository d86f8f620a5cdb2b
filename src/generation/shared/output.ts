import type { Application, NamedFunction, Store } from '../../model/application.js';
import {
  arrow,
  code,
  data,
  doc,
  entry,
  named,
  Name,
  object,
  property,
  type Code,
} from '../build/code.js';
import { Module, relative } from '../build/module.js';
import type { EmitOptions } from '../emit-options.js';
import type { GeneratedFile } from '../generated-file.js';
import { CheckFiles } from './check-files.js';
import { eagerStores } from './lazy-stores.js';
import { parametersOf } from './parameters.js';
import { printExpr } from './print-expression.js';
import { pureReading } from './reading.js';
import {
  guardFiles,
  runtimeFiles,
  type ReadRuntime,
  type RuntimeFile,
  type StyleRuntime,
} from './runtime-files.js';
import { TypeFile } from './type-file.js';

/** The output of one style, file by file. */
export class Output {
  readonly types: TypeFile;
  readonly checks: CheckFiles;
  readonly #modules: Module[];
  readonly #apart = new Set<Module>();
  readonly #drawn = new Set<string>();
  #functions: Module | undefined;
  #constants: Module | undefined;

  constructor(
    readonly application: Application,
    readonly options: EmitOptions,
  ) {
    this.types = new TypeFile(application);
    this.checks = new CheckFiles(application, options);
    this.#modules = [this.types.module];
  }

  /** Notes that an action draws something of the environment: `newId`. */
  draws(what: string): void {
    this.#drawn.add(what);
  }

  /** True if any action that was written draws that. */
  hasDrawn(what: string): boolean {
    return this.#drawn.has(what);
  }

  /** A new file; `about` is the comment at its head. */
  module(path: string, about: string): Module {
    const made = new Module(path, about);
    this.#modules.push(made);
    return made;
  }

  /** A new file that stays one of its own in every layout; `packages` are imported by their names. */
  moduleApart(path: string, about: string, packages: readonly string[] = []): Module {
    const made = new Module(path, about, (other) =>
      packages.includes(other) ? other : relative(path, other),
    );
    this.#modules.push(made);
    this.#apart.add(made);
    return made;
  }

  /** A function of the schema, used in a module. */
  functionNamed(name: string, module: Module): Code {
    if (this.#functions === undefined) {
      this.#functions = this.module('functions', 'Functions of the schema.');
      const own = this.#functions;
      const names = new Map(
        this.application.functions.map((fn) => [fn.name, own.exported(fn.name)]),
      );
      for (const fn of this.application.functions)
        own.add(this.#function(fn, own, names.get(fn.name) ?? new Name(fn.name)));
      this.#functionNames = names;
    }
    const own = module === this.#functions ? this.#functionNames.get(name) : undefined;
    return named(own ?? module.value('functions', name));
  }

  #functionNames: ReadonlyMap<string, Name> = new Map();

  #function({ about, params, value }: NamedFunction, module: Module, own: Name): Code {
    const locals = parametersOf({ params, value });
    const written = locals.map(
      (local) => code`${local.own}: ${this.types.type(local.type, module)}`,
    );
    const reading = pureReading(this, module, () => {
      throw new Error('a function reads nothing but its arguments');
    });
    const printed = printExpr(value, {
      ...reading,
      locals: new Map(locals.map((local) => [local.name, named(local.own)])),
    });
    return code`${doc(about)}export const ${own} = ${arrow(
      locals.map((local) => local.own),
      printed,
      written,
    )};`;
  }

  /** A constant of a store, used in a module. */
  constant(store: string, name: string, module: Module): Code {
    if (this.#constants === undefined) {
      const own = this.module('constants', 'Values that never change.');
      this.#constants = own;
      for (const { name: owner, constants } of this.application.stores) {
        if (constants.length === 0) continue;
        const entries = constants.map(
          (one) => code`${doc(one.about)}${entry(one.name, data(one.value))},`,
        );
        own.add(
          code`export const ${own.exported(`${owner}Constants`)} = {\n${entries}\n} as const;`,
        );
      }
    }
    const table = module.value('constants', `${store}Constants`);
    return code`${table}${property(name)}`;
  }

  /** What a store is at the start, as a constant of its own module. */
  initial(store: Store, module: Module): Name {
    const own = module.own('initial');
    const [value] = store.fields;
    const content = store.single
      ? data(value?.default)
      : object(store.fields.map((field) => entry(field.name, data(field.default))));
    module.add(code`const ${own}: ${this.types.state(store, module)} = ${content};`);
    return own;
  }

  /** The table of what is checked, by store. */
  checkTable(module: Module): Code {
    // What is attached later brings its own.
    const tables = eagerStores(this.application).flatMap((store) => {
      const table = this.checks.store(store, module);
      return table === undefined ? [] : [entry(store.name, table)];
    });
    return object(tables);
  }

  /** All files, those of the run time that are used included. */
  finish(style: StyleRuntime, readRuntime: ReadRuntime): GeneratedFile[] {
    const modules = [...this.#modules, ...this.checks.modules()].filter(({ isEmpty }) => !isEmpty);
    const generated = modules.map((module) => ({
      path: `${module.path}.ts`,
      text: module.print(),
      ...(this.#apart.has(module) ? { isApart: true as const } : {}),
    }));
    const used = modules.flatMap(({ uses }) => uses.filter((path) => path.startsWith('runtime/')));
    if (this.options.log) used.push('runtime/logs');
    const copied = runtimeFiles(
      used,
      style,
      { guard: guardFiles[this.options.guard] },
      readRuntime,
    ).map(({ path, text }: RuntimeFile) => ({ path, isRuntime: true as const, text }));
    return [...generated, ...copied].sort((a, b) => (a.path < b.path ? -1 : 1));
  }
}
