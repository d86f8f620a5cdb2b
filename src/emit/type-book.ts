import type { Action, Application, Store } from '../model/application.js';
import { namesIn, type Type } from '../model/types.js';
import { code, comment, doc, id, joined, key, type Code } from './code.js';
import { Names, pascal } from './identifiers.js';
import type { Imports } from './imports.js';
import { printType } from './print-type.js';

/** The file `types.ts`: named types, payloads and states, each under one name in all files. */
export class TypeBook {
  readonly #names: Names;
  readonly #states = new Map<string, string>();
  readonly #payloads = new Map<string, { readonly name: string; readonly type: Type }>();
  readonly appState: string;
  /** What types are called in other files, where their names stand for something else. */
  readonly #elsewhere = new Map<string, string>();

  /** `busy`: names that stand for something else in other files of the output. */
  constructor(
    readonly application: Application,
    readonly busy: ReadonlySet<string> = new Set(),
  ) {
    this.#names = new Names(application.types.keys());
    this.appState = this.#names.allocate('AppState');
    for (const store of application.stores) {
      this.#states.set(store.name, this.#names.allocate(`${pascal(store.name)}State`));
      for (const action of store.actions) this.#addPayload(store, action);
    }
    for (const name of this.#names.all)
      if (busy.has(name)) this.#elsewhere.set(name, this.#names.allocate(`${name}Type`));
  }

  /** Whether the schema has a type, a payload or a state of that name. */
  has(name: string): boolean {
    return this.#names.all.includes(name);
  }

  #import(name: string, imports: Imports): Code {
    return imports.type('types', name, this.#elsewhere.get(name));
  }

  #addPayload(store: Store, { name, payload }: Action): void {
    if (payload === undefined || !isLong(payload)) return;
    const alias = this.#names.allocate(`${pascal(store.name)}${pascal(name)}Payload`);
    this.#payloads.set(`${store.name}.${name}`, { name: alias, type: payload });
  }

  /** The type of a store's state, imported where it is used. */
  state(store: Store, imports: Imports): Code {
    return this.#import(this.#states.get(store.name) ?? '', imports);
  }

  /** The type of all stores' states, by store. */
  app(imports: Imports): Code {
    return this.#import(this.appState, imports);
  }

  /** The type of an action's payload. */
  payload(store: Store, action: Action, imports: Imports): Code {
    const alias = this.#payloads.get(`${store.name}.${action.name}`);
    if (alias !== undefined) return this.#import(alias.name, imports);
    return action.payload === undefined ? code`undefined` : this.type(action.payload, imports);
  }

  /** Any type of the schema. */
  type(type: Type, imports: Imports): Code {
    const named = new Map(namesIn(type).map((name) => [name, this.#import(name, imports)]));
    return printType(type, (name) => named.get(name) ?? id(name));
  }

  print(): Code {
    const named = [...this.application.types.values()].map(({ name, type, about }) =>
      declaration(name, type, about),
    );
    const payloads = [...this.#payloads].map(([action, { name, type }]) =>
      declaration(name, type, `What '${action}' is about.`),
    );
    const states = this.application.stores.map((store) => this.#state(store));
    const app = this.application.stores.map(
      (store) => code`readonly ${key(store.name)}: ${id(this.#states.get(store.name) ?? '')};`,
    );
    const whole = code`${doc('The state of all stores.')}export interface ${id(this.appState)} { ${app} }`;
    return joined(
      [comment('The types of the schema.'), ...named, ...payloads, ...states, whole],
      '\n\n',
    );
  }

  #state(store: Store): Code {
    const name = this.#states.get(store.name) ?? '';
    const [value] = store.fields;
    if (store.single && value !== undefined) return declaration(name, value.type, store.about);
    const fields = store.fields.map((field) => ({
      name: field.name,
      type: field.type,
      optional: false,
      ...(field.about === undefined ? {} : { about: field.about }),
    }));
    return declaration(name, { kind: 'record', fields }, store.about);
  }
}

function declaration(name: string, type: Type, about: string | undefined): Code {
  if (type.kind === 'record')
    return code`${doc(about)}export interface ${id(name)} ${printType(type)}`;
  return code`${doc(about)}export type ${id(name)} = ${printType(type)};`;
}

/** Whether a type is too long to be written wherever it is used. */
function isLong(type: Type): boolean {
  if (type.kind === 'record') return true;
  return (
    type.kind === 'union' &&
    type.members.some((member) => member.kind === 'record' || type.members.length > 2)
  );
}

/** Whether a value of this type has lists in it. */
export function hasLists(
  type: Type,
  application: Application,
  seen: readonly string[] = [],
): boolean {
  if (type.kind === 'named') {
    if (seen.includes(type.name)) return false;
    const target = application.types.get(type.name);
    return target !== undefined && hasLists(target.type, application, [...seen, type.name]);
  }
  if (type.kind === 'record')
    return type.fields.some((field) => hasLists(field.type, application, seen));
  if (type.kind === 'map') return hasLists(type.value, application, seen);
  if (type.kind === 'union')
    return type.members.some((member) => hasLists(member, application, seen));
  return type.kind === 'list' || type.kind === 'tuple';
}
