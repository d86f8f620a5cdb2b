import {
  operationNamed,
  type Action,
  type Application,
  type Store,
} from '../../model/application.js';
import { hasOptionalParts } from '../../model/optional-parts.js';
import type { Task } from '../../model/tasks.js';
import type { Format, Type } from '../../model/types.js';
import {
  code,
  data,
  doc,
  entry,
  joined,
  named,
  object,
  type Code,
  type Name,
} from '../build/code.js';
import { Module } from '../build/module.js';
import { camel } from '../build/reserved.js';
import type { EmitOptions } from '../emit-options.js';

/** Where the tables of a store stand, and those of the named types. */
const typesPath = 'checks/types';

/** The modules below `checks`: what fits the types of the schema, its stores, and the payloads of their actions. */
export class CheckFiles {
  readonly #types = new Module(typesPath, 'What fits the types of the schema.');
  readonly #names = new Map<string, string>();
  readonly #written = new Map<string, { readonly own: Name; readonly value: Code }>();
  /** The types that are named before they are there: only those can be part of themselves. */
  readonly #later = new Set<string>();
  readonly #stores: Module[] = [];

  constructor(
    readonly application: Application,
    readonly options: Pick<EmitOptions, 'checks' | 'begin'>,
  ) {
    const taken = new Set<string>();
    for (const name of application.types.keys()) {
      let own = camel(name);
      while (taken.has(own)) own = `${own}_`;
      taken.add(own);
      this.#names.set(name, own);
    }
  }

  /** What a value must be to fit a named type, used in another module. */
  named(name: string, module: Module): Code {
    this.#write(name);
    return named(module.value(typesPath, this.#names.get(name) ?? name));
  }

  /** The table of a store, used in another module; `undefined` if there is nothing to check. */
  store(store: Store, module: Module): Code | undefined {
    const path = `checks/${store.name}`;
    const own = new Module(path, `What fits '${store.name}' and the payloads of its actions.`);
    const entries: Code[] = [];
    if (this.options.checks !== 'never') entries.push(entry('state', this.#state(store, own)));
    // What comes from outside is judged all the same.
    else if (store.saved !== undefined || this.options.begin === 'state')
      entries.push(entry('kept', this.#state(store, own)));
    const actions = store.actions.flatMap((action) => {
      const check = this.#payload(action, own);
      return check.length === 0 ? [] : [entry(action.name, object(check))];
    });
    if (actions.length > 0) entries.push(entry('actions', object(actions)));
    const tasks = store.tasks.flatMap((task) => {
      const check = [...this.#payload(task, own), ...this.#answers(task, own)];
      return check.length === 0 ? [] : [entry(task.name, object(check))];
    });
    if (tasks.length > 0) entries.push(entry('tasks', object(tasks)));
    if (entries.length === 0) return undefined;
    const table = own.exported(`${store.name}Checks`);
    const type = own.type('runtime/value-types', 'StoreChecks');
    own.add(code`export const ${table}: ${type} = {\n${entries.map((one) => code`${one},`)}\n};`);
    this.#stores.push(own);
    return named(module.value(path, `${store.name}Checks`));
  }

  #state(store: Store, module: Module): Code {
    const [value] = store.fields;
    if (store.single && value !== undefined) return this.#type(value.type, module);
    const fields = store.fields.map(({ name, type }) => entry(name, this.#type(type, module)));
    return made('judging-parts', 'fieldsOf', module, object(fields));
  }

  /** What comes as text, or with more than its type has, is always judged: that is how it is converted. */
  #payload(
    {
      payload,
      payloadDefault,
      acceptsText,
      dropsExtra,
    }: Pick<Action, 'payload' | 'payloadDefault' | 'acceptsText' | 'dropsExtra'>,
    module: Module,
  ): Code[] {
    if (payload === undefined) return [];
    const entries: Code[] = [];
    const isJudged = this.options.checks !== 'never' || acceptsText || dropsExtra === true;
    if (isJudged) entries.push(entry('payload', this.#type(payload, module)));
    if (dropsExtra)
      entries.push(entry('extra', named(module.value('runtime/extra', 'withoutExtra'))));
    if (acceptsText)
      entries.push(entry('from', named(module.value('runtime/from-text', 'fromText'))));
    // What is judged is copied without them.
    else if (!isJudged && hasOptionalParts(payload, this.application.types))
      entries.push(entry('tidy', named(module.value('runtime/absent', 'withoutAbsent'))));
    if (payloadDefault !== undefined) entries.push(entry('default', data(payloadDefault)));
    return entries;
  }

  /** What the operation of a task gives: it comes from outside, and is always judged. */
  #answers({ operation }: Task, module: Module): Code[] {
    if (operation === undefined) return [];
    const { result, results, error, dropsExtra } = operationNamed(this.application, operation);
    const parts = Object.entries({ result, results, error }).flatMap(([name, type]) =>
      type === undefined ? [] : [entry(name, this.#type(type, module))],
    );
    if (!dropsExtra) return parts;
    const without = module.value('runtime/extra', 'withoutExtra');
    return [...parts, entry('extraOfAnswer', named(without))];
  }

  /** All modules that hold something. */
  modules(): readonly Module[] {
    const { application } = this;
    const inOrder = [...application.types.values()].filter(({ name }) => this.#written.has(name));
    for (const { name, about } of inOrder) {
      const { own, value } = this.#written.get(name) as { own: Name; value: Code };
      const type = this.#types.type('runtime/value-types', 'ValueType');
      const whole = this.#later.has(name) ? made('judging', 'nesting', this.#types, value) : value;
      this.#types.add(code`${doc(about)}export const ${own}: ${type} = ${whole};`);
    }
    return this.#types.isEmpty ? this.#stores : [this.#types, ...this.#stores];
  }

  /** Writes a named type, with those that it names. */
  #write(name: string): Name {
    const known = this.#written.get(name);
    if (known !== undefined) return known.own;
    const own = this.#types.exported(this.#names.get(name) ?? name);
    const target = this.application.types.get(name);
    this.#written.set(name, { own, value: data('null') });
    const value = target === undefined ? data('null') : this.#type(target.type, this.#types, name);
    this.#written.set(name, { own, value });
    return own;
  }

  /** What judges by a type; `within` is the named type that it is part of, if it is. */
  #type(type: Type, module: Module, within?: string): Code {
    const inner = (part: Type) => this.#type(part, module, within);
    switch (type.kind) {
      case 'string': {
        const { format, ...bounds } = type.bounds;
        const entries = boundEntries(bounds);
        if (format !== undefined)
          entries.push(
            entry('format', named(module.value('runtime/formats', formatTests[format]))),
          );
        return scalar('string', entries, module);
      }
      case 'number':
        return scalar(type.integer ? 'integer' : 'number', boundEntries(type.bounds), module);
      case 'boolean':
        return scalar('boolean', [], module);
      case 'null':
        return scalar('nothing', [], module);
      case 'literal':
        return made('judging', 'constant', module, data(type.value));
      case 'list': {
        const bounds = boundEntries({ by: type.key, ...type.bounds });
        const others = bounds.length === 0 ? [] : [object(bounds)];
        return made('judging-parts', 'listOf', module, inner(type.item), ...others);
      }
      case 'map':
        return made('judging-parts', 'mapOf', module, inner(type.value));
      case 'record': {
        const fields = type.fields.map((field) => entry(field.name, inner(field.type)));
        const optional = type.fields.filter((field) => field.optional).map(({ name }) => name);
        const others = optional.length === 0 ? [] : [data(optional)];
        return made('judging-parts', 'fieldsOf', module, object(fields), ...others);
      }
      case 'union':
        return this.#union(type.members, module, inner);
      case 'named':
        return this.#reference(type.name, module, within);
      case 'absent':
      case 'tuple':
      case 'never':
      case 'unknown':
        throw new Error(`no value of state or payload is of the type '${type.kind}'`);
    }
  }

  #union(members: readonly Type[], module: Module, inner: (part: Type) => Code): Code {
    const values = members.map((member) =>
      member.kind === 'literal' ? member.value : member.kind === 'null' ? null : undefined,
    );
    if (!values.includes(undefined)) return made('judging', 'choice', module, ...values.map(data));
    const others = members.filter(({ kind }) => kind !== 'null');
    const [only] = others;
    const written =
      others.length === 1 && only !== undefined
        ? inner(only)
        : made('judging-unions', 'either', module, ...others.map(inner));
    return others.length === members.length ? written : made('judging', 'maybe', module, written);
  }

  /** Within another type, one that stands further down is asked for when it is needed. */
  #reference(name: string, module: Module, within: string | undefined): Code {
    if (module !== this.#types) return this.named(name, module);
    const own = named(this.#write(name));
    const order = [...this.application.types.keys()];
    const isLater = within !== undefined && order.indexOf(name) >= order.indexOf(within);
    if (!isLater) return own;
    this.#later.add(name);
    return made('judging', 'later', module, code`() => ${own}`);
  }
}

const formatTests: Readonly<Record<Format, string>> = {
  date: 'isDate',
  'date-time': 'isDateTime',
  uuid: 'isUuid',
  email: 'isEmail',
  uri: 'isUri',
};

/** What a function of the run time makes of its arguments. */
const made = (file: string, name: string, module: Module, ...given: readonly Code[]): Code =>
  code`${named(module.value(`runtime/${file}`, name))}(${joined(given, ', ')})`;

/** A scalar, within its bounds if it has some. */
function scalar(name: string, bounds: readonly Code[], module: Module): Code {
  return bounds.length === 0
    ? named(module.value('runtime/judging', name))
    : made('judging-bounds', `${name}Within`, module, object(bounds));
}

const boundEntries = (bounds: object): Code[] =>
  Object.entries(bounds)
    .filter(([, value]) => value !== undefined)
    .map(([name, value]) => entry(name, data(value)));
