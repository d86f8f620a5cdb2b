import type { Json } from '../../base/json.js';
import type { Span } from '../../base/source.js';
import type { Problems } from '../problems/problem.js';
import type { Constant, Field } from '../../model/application.js';
import { typeOfJson } from '../../model/type-of-json.js';
import { typeText } from '../../model/type-text.js';
import {
  impliedDefault,
  membersOf,
  type NumberBounds,
  type Type,
  type TypeTable,
} from '../../model/types.js';
import {
  entriesOf,
  entryOf,
  itemsOf,
  plainOf,
  textOf,
  valueOf,
  type Located,
  type LocatedEntry,
} from '../syntax/located.js';
import type {
  ActionDeclaration,
  DerivedDeclaration,
  Said,
  StoreDeclaration,
} from './declarations.js';
import { NameRegister } from './names.js';
import type { TypeReader } from './read-types.js';
import { declareHistory, historyNames } from './history.js';
import { aboutType, writtenDefault } from './type-notes.js';
import type { WrittenDefault } from './written-default.js';

/** Collects what the stores declare, with its types; expressions and actions come later. */
export function declareStores(
  node: Located | undefined,
  reader: TypeReader,
  types: TypeTable,
  problems: Problems,
  names: NameRegister,
) {
  const entries = entriesOf(node).filter(({ key, keySpan }) => names.take(key, 'a store', keySpan));
  refuseFileClashes(entries, problems);
  const defaults: WrittenDefault[] = [];
  const stores = new Map<string, StoreDeclaration>();
  for (const entry of entries) {
    const declaring = new StoreDeclaring(entry, names, reader, types, problems, defaults);
    stores.set(entry.key, declaring.declare());
  }
  return { stores, defaults };
}

class StoreDeclaring {
  readonly #names: NameRegister;

  constructor(
    readonly entry: LocatedEntry,
    outer: NameRegister,
    readonly reader: TypeReader,
    readonly types: TypeTable,
    readonly problems: Problems,
    readonly defaults: WrittenDefault[],
  ) {
    this.#names = outer.within(entry.key);
  }

  declare(): StoreDeclaration {
    const { key: name, keySpan: span, value: node } = this.entry;
    const single = valueOf(node, 'value');
    if (single !== undefined && valueOf(node, 'state') !== undefined) {
      this.problems.add('wrong-structure', single.span, {
        detail: "A store has either 'state' or 'value'.",
      });
    }
    const constants = this.#section(
      'constants',
      'a constant',
      (entry) => this.#constant(entry),
      () => true,
    );
    const fields =
      single === undefined
        ? this.#section(
            'state',
            'a field',
            (entry) => this.#field(entry),
            () => true,
          )
        : this.#value(single);
    const derived = this.#section(
      'derived',
      'a derived value',
      (entry) => this.#derived(entry),
      ({ value }) => valueOf(value, 'given') === undefined,
    );
    const actions = this.#section('actions', 'an action', (entry) => this.#action(entry));
    const tasks = this.#section('tasks', 'a task', (entry) => this.#action(entry));
    const history = entryOf(node, 'history');
    if (history !== undefined) this.#takeHistoryNames(history);
    return {
      name,
      span,
      about: textOf(valueOf(node, 'about')),
      single: single !== undefined,
      lazy: this.#lazy(node, single),
      constants,
      fields,
      derived: history === undefined ? derived : declareHistory(name, derived, history),
      actions,
      tasks,
      setters: this.#setters(fields),
      reacts: itemsOf(valueOf(node, 'reacts')),
      history: saidIn(history),
      saved: saidIn(entryOf(node, 'saved')),
    };
  }

  /** True if it is attached later; a store that is one value cannot be: that may be null itself. */
  #lazy(node: Located, single: Located | undefined): boolean {
    const lazy = valueOf(node, 'lazy');
    if (lazy === undefined || plainOf(lazy) !== true) return false;
    if (single === undefined) return true;
    this.problems.add('wrong-structure', lazy.span, {
      detail: 'A store that is one value cannot be lazy: until it is attached it is null.',
      hint: "Give it a 'state' with one field.",
    });
    return false;
  }

  #takeHistoryNames({ keySpan }: LocatedEntry): void {
    for (const { name, what, isRead } of historyNames)
      this.#names.take(name, what, keySpan, isRead);
  }

  /** `isRead`: whether what an entry defines is read and never called. */
  #section<T>(
    key: string,
    what: string,
    read: (entry: LocatedEntry) => T,
    isRead: (entry: LocatedEntry) => boolean = () => false,
  ): Map<string, T> {
    const entries = entriesOf(valueOf(this.entry.value, key));
    return new Map(
      entries
        .filter((entry) => this.#names.take(entry.key, what, entry.keySpan, isRead(entry)))
        .map((entry) => [entry.key, read(entry)]),
    );
  }

  #setters(fields: ReadonlyMap<string, Field>): StoreDeclaration['setters'] {
    const state = valueOf(this.entry.value, 'state') ?? {
      kind: 'map',
      span: this.entry.keySpan,
      entries: [],
    };
    const single = valueOf(this.entry.value, 'value');
    const nodes =
      single === undefined
        ? entriesOf(state).map(({ key, value }) => [key, value] as const)
        : [['value', single] as const];
    const setters = new Map<string, { readonly field: Field; readonly span: Span }>();
    for (const [name, node] of nodes) {
      const setter = valueOf(node, 'setter');
      const field = fields.get(name);
      if (setter === undefined || field === undefined) continue;
      const action = textOf(setter) ?? '';
      if (this.#names.take(action, 'an action', setter.span))
        setters.set(action, { field, span: setter.span });
    }
    return setters;
  }

  /** An action or a task with its payload's type and, where the payload may be left out, what it is then. */
  #action({ key, keySpan: span, value: body }: LocatedEntry): ActionDeclaration {
    const node = valueOf(body, 'payload');
    const accepts = valueOf(body, 'accepts');
    const acceptsText = accepts !== undefined;
    if (acceptsText && node === undefined)
      this.problems.add('wrong-structure', accepts.span, {
        detail: "'accepts' needs a 'payload': what the text is converted to.",
      });
    const extra = valueOf(body, 'extra');
    if (extra !== undefined && node === undefined)
      this.problems.add('wrong-structure', extra.span, {
        detail: "'extra' needs a 'payload': what it takes properties off.",
      });
    const base = {
      span,
      body,
      acceptsText,
      ...(extra !== undefined && { dropsExtra: true as const }),
    };
    if (node === undefined) return { ...base, payload: undefined, payloadDefault: undefined };
    const payload = this.reader.read(node, true);
    const written = writtenDefault(node);
    if (written !== undefined) {
      const name = `${this.entry.key}.${key}.payload`;
      this.defaults.push({ name, type: payload, ...written });
    }
    return { ...base, payload, payloadDefault: written?.value as Json | undefined };
  }

  #constant({ key, keySpan, value }: LocatedEntry): Constant {
    const plain = plainOf(value) as Json;
    return { name: key, about: undefined, span: keySpan, value: plain, type: typeOfJson(plain) };
  }

  #field({ key, keySpan, value }: LocatedEntry): Field {
    const type = this.reader.read(value, true);
    return {
      name: key,
      about: aboutType(value),
      span: keySpan,
      type,
      default: this.#default(key, value, type, keySpan),
    };
  }

  #value(node: Located): Map<string, Field> {
    this.#names.reserve('value', 'the value of the store', node.span);
    const type = this.reader.read(node, true);
    const about = aboutType(node);
    const span = this.entry.keySpan;
    return new Map([
      [
        'value',
        { name: 'value', about, span, type, default: this.#default('value', node, type, span) },
      ],
    ]);
  }

  #default(name: string, node: Located, type: Type, span: Field['span']): Json {
    const written = writtenDefault(node);
    if (written !== undefined) {
      this.defaults.push({ name, type, ...written });
      return written.value as Json;
    }
    const implied = impliedDefault(type, this.types);
    if (implied !== undefined || type.kind === 'unknown') return implied ?? null;
    const words = typeText(type, this.types);
    this.problems.add('no-default', span, {
      name,
      type: words,
      example: exampleDefault(node, type, this.types),
    });
    return null;
  }

  #derived({ key, keySpan, value }: LocatedEntry): DerivedDeclaration {
    const full = value.kind === 'map';
    const asserted = valueOf(value, 'type');
    return {
      name: key,
      about: full ? textOf(valueOf(value, 'about')) : undefined,
      span: keySpan,
      params: entriesOf(valueOf(value, 'given')).map((given) => ({
        name: given.key,
        type: this.reader.read(given.value, false),
        span: given.keySpan,
      })),
      asserted: asserted === undefined ? undefined : this.reader.read(asserted, false),
      expression: (full ? valueOf(value, 'value') : undefined) ?? value,
      state: 'waiting',
      result: undefined,
    };
  }
}

const saidIn = (entry: LocatedEntry | undefined): Said | undefined =>
  entry && { body: entry.value, span: entry.keySpan };

/** How the type could be written with a default: `type: number, default: 0`. */
function exampleDefault(node: Located, type: Type, types: TypeTable): string {
  const [first] = membersOf(type, types);
  const value =
    first?.kind === 'number'
      ? numberWithin(first.bounds)
      : first?.kind === 'boolean'
        ? 'false'
        : first?.kind === 'literal'
          ? String(first.value)
          : first?.kind === 'record'
            ? '{ ... }'
            : "''";
  const name = textOf(node);
  const written =
    name === undefined
      ? '...'
      : type.kind === 'named'
        ? `$ref: '#/types/${name}'`
        : `type: ${name}`;
  return `${written}, default: ${value}`;
}

/** A number within bounds, 0 if that is; as near as can be said without looking further. */
function numberWithin({
  minimum,
  exclusiveMinimum,
  maximum,
  multipleOf = 1,
}: NumberBounds): string {
  const least =
    minimum ?? (exclusiveMinimum === undefined ? -Infinity : exclusiveMinimum + multipleOf);
  return String(Math.max(least, Math.min(0, maximum ?? 0)));
}

/** Names of files that mean a device on some systems, whatever their ending. */
const device = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])$/i;

/** Reports stores whose files would be no files, or the same file, on some systems. */
function refuseFileClashes(entries: readonly LocatedEntry[], problems: Problems): void {
  const first = new Map<string, LocatedEntry>();
  for (const entry of entries) {
    const { key: name, keySpan } = entry;
    if (device.test(name))
      problems.add('bad-name', keySpan, {
        name,
        why: 'on some systems a file of that name is a device',
      });
    const other = first.get(name.toLowerCase());
    if (other === undefined) first.set(name.toLowerCase(), entry);
    else
      problems.add('file-clash', keySpan, { name, other: other.key }, [
        { message: 'first defined here', span: other.keySpan },
      ]);
  }
}
