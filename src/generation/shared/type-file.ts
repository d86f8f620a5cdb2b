import {
  writtenDerived,
  type Action,
  type Application,
  type Derived,
  type Store,
} from '../../model/application.js';
import { errorDataOf } from '../../model/tasks.js';
import { namesIn, type Type } from '../../model/types.js';
import { code, doc, joined, key, named, nothing, word, type Code } from '../build/code.js';
import { Module } from '../build/module.js';
import { pascal } from '../build/reserved.js';
import type { Name } from '../build/code.js';
import { orNull } from './lazy-stores.js';
import { printType } from './print-type.js';

/** The module `types`: named types, payloads and states, and what is derived, each under one name in all files. */
export class TypeFile {
  readonly module = new Module('types', 'The types of the schema.');
  readonly #taken: Set<string>;
  readonly #own = new Map<string, Name>();
  readonly #states = new Map<string, string>();
  readonly #derived = new Map<string, string>();
  readonly #payloads = new Map<string, string>();
  readonly #app: string;

  /** `withDerived`: whether the types of derived values are wanted too. */
  constructor(
    readonly application: Application,
    withDerived = true,
  ) {
    this.#taken = new Set(application.types.keys());
    this.#app = this.#allocate('AppState');
    const { stores } = application;
    for (const { name } of stores) this.#states.set(name, this.#allocate(`${pascal(name)}State`));
    if (withDerived)
      for (const store of stores)
        if (writtenDerived(store).length > 0)
          this.#derived.set(store.name, this.#allocate(`${pascal(store.name)}Derived`));
    for (const store of stores)
      for (const action of [...store.actions, ...store.tasks]) this.#namePayload(store, action);
    this.#declare();
  }

  /** A name for a type that a style adds to the module. */
  add(name: string, declaration: (own: Name, module: Module) => Code): string {
    const allocated = this.#allocate(name);
    const own = this.#exported(allocated);
    this.module.add(declaration(own, this.module));
    return allocated;
  }

  #allocate(wanted: string): string {
    let name = wanted;
    for (let i = 1; this.#taken.has(name); i++) name = `${wanted}_${i === 1 ? '' : i}`;
    this.#taken.add(name);
    return name;
  }

  #namePayload(store: Store, { name, payload }: Pick<Action, 'name' | 'payload'>): void {
    if (payload === undefined || !isLong(payload)) return;
    const wanted = `${pascal(store.name)}${pascal(name)}Payload`;
    this.#payloads.set(`${store.name}.${name}`, this.#allocate(wanted));
  }

  /** True if the schema has a type, a payload or a state of that name. */
  has(name: string): boolean {
    return this.#taken.has(name);
  }

  #exported(name: string): Name {
    const own = this.module.exported(name);
    this.#own.set(name, own);
    return own;
  }

  /** A name of the module, as another module (or itself) writes it. */
  use(name: string, module: Module): Code {
    const own = module === this.module ? this.#own.get(name) : undefined;
    return named(own ?? module.type('types', name));
  }

  /** The type of a store's state. */
  state(store: Store, module: Module): Code {
    return this.use(this.#states.get(store.name) ?? '', module);
  }

  /** The type of a store's derived values; nothing if it has none. */
  derived(store: Store, module: Module): Code {
    const name = this.#derived.get(store.name);
    return name === undefined ? nothing : this.use(name, module);
  }

  /** The type of all stores' states, by store. */
  app(module: Module): Code {
    return this.use(this.#app, module);
  }

  /** The type of an action's payload. */
  payload(store: Store, action: Pick<Action, 'name' | 'payload'>, module: Module): Code {
    const alias = this.#payloads.get(`${store.name}.${action.name}`);
    if (alias !== undefined) return this.use(alias, module);
    return action.payload === undefined ? word('undefined') : this.type(action.payload, module);
  }

  /** Any type of the schema. */
  type(type: Type, module: Module): Code {
    const error = errorDataOf(type);
    if (error !== undefined) {
      const data = error.data === undefined ? word('never') : this.type(error.data, module);
      return code`${module.type('runtime/task-outcomes', 'TaskError')}<${data}>`;
    }
    const known = new Map(namesIn(type).map((name) => [name, this.use(name, module)]));
    return printType(type, (name) => known.get(name) ?? word(name));
  }

  #declare(): void {
    const { application, module } = this;
    for (const name of application.types.keys()) this.#exported(name);
    for (const { name, type, about } of application.types.values())
      module.add(this.#declaration(name, type, about));
    for (const store of application.stores)
      for (const action of [...store.actions, ...store.tasks]) {
        const name = this.#payloads.get(`${store.name}.${action.name}`);
        if (name === undefined || action.payload === undefined) continue;
        this.#exported(name);
        module.add(
          this.#declaration(name, action.payload, `What '${store.name}.${action.name}' is given.`),
        );
      }
    for (const store of application.stores) this.#declareStore(store);
    const entries = application.stores.map(
      (store) => code`readonly ${key(store.name)}: ${orNull(store, this.state(store, module))};`,
    );
    const own = this.#exported(this.#app);
    module.add(code`${doc('The state of all stores.')}export interface ${own} {\n${entries}\n}`);
  }

  #declareStore(store: Store): void {
    const name = this.#states.get(store.name) ?? '';
    this.#exported(name);
    const [value] = store.fields;
    const fields = store.fields.map(({ name: field, type, about }) => ({
      name: field,
      type,
      optional: false,
      ...(about === undefined ? {} : { about }),
    }));
    const type: Type =
      store.single && value !== undefined ? value.type : { kind: 'record', fields };
    this.module.add(this.#declaration(name, type, store.about));
    const derived = this.#derived.get(store.name);
    if (derived === undefined) return;
    const own = this.#exported(derived);
    const members = writtenDerived(store).map((one) => this.#derivedMember(one));
    this.module.add(
      code`${doc(`What is derived in '${store.name}'.`)}export interface ${own} {\n${members}\n}`,
    );
  }

  #derivedMember({ name, about, params, value }: Derived): Code {
    const type = this.type(value.type, this.module);
    if (params.length === 0) return code`${doc(about)}readonly ${key(name)}: ${type};`;
    const given = params.map(
      (param) => code`${word(param.name)}: ${this.type(param.type, this.module)}`,
    );
    return code`${doc(about)}readonly ${key(name)}: (${joined(given, ', ')}) => ${type};`;
  }

  #declaration(name: string, type: Type, about: string | undefined): Code {
    const own = this.use(name, this.module);
    const printed = this.type(type, this.module);
    return type.kind === 'record'
      ? code`${doc(about)}export interface ${own} ${printed}`
      : code`${doc(about)}export type ${own} = ${printed};`;
  }
}

/** True if a type is too long to be written wherever it is used. */
function isLong(type: Type): boolean {
  if (type.kind === 'record') return true;
  return (
    type.kind === 'union' &&
    type.members.some((member) => member.kind === 'record' || type.members.length > 2)
  );
}
