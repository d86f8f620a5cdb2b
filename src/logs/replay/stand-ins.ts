import { isObject, pointerParts, type Json } from '../../base/json.js';
import type { LoggedState, LogLine } from '../log/log-lines.js';
import type { LineMapping } from '../log/mapping.js';
import { operationNamed, type Application, type Store } from '../../model/application.js';
import { resolve, type StringBounds, type Type } from '../../model/types.js';

/** What stands in a log in place of a secret. */
const mask = /^•(\d+)$/;

/** Puts values that fit in the place of those that a log does not say, the same for the same number. */
export class StandIns implements LineMapping {
  readonly #application: Application;
  /** The values by what stands in the log. */
  readonly #known = new Map<string, unknown>();
  readonly #states = new WeakMap<object, LoggedState>();
  /** The number of values that the log does not say. */
  count = 0;

  constructor(application: Application) {
    this.#application = application;
  }

  state(logged: LoggedState): LoggedState {
    const known = this.#states.get(logged);
    if (known !== undefined) return known;
    const stores = Object.entries(logged).map(([name, state]): [string, unknown] => {
      const store = this.#application.stores.find((one) => one.name === name);
      return [name, store === undefined ? state : this.#store(store, state)];
    });
    const filled = Object.fromEntries(stores);
    this.#states.set(logged, filled);
    return filled;
  }

  line(line: LogLine): LogLine {
    const { payload, draws, kind = 'action', do: name } = line;
    const [storeName = '', own = ''] = name.split('.');
    const store = this.#application.stores.find((one) => one.name === storeName);
    const ids = draws?.ids?.map((id) => this.#known.get(id) ?? id) as readonly string[] | undefined;
    const given = {
      ...line,
      ...(ids !== undefined && { draws: { ...draws, ids } }),
    };
    if (payload === undefined || store === undefined) return given;
    const type = payloadType(this.#application, store, own, kind);
    if (type === undefined) return given;
    if ((kind === 'fail' || kind === 'retry') && isObject(payload)) {
      const data = this.#filled(payload['data'], type) as Json;
      return { ...given, payload: { ...(payload as object), data } };
    }
    return { ...given, payload: this.#filled(payload, type) as Json };
  }

  /** True if a place of a state is secret: JSON Pointer. */
  isSecret(place: string): boolean {
    const [storeName, ...parts] = pointerParts(place);
    const store = this.#application.stores.find((one) => one.name === storeName);
    if (store === undefined) return false;
    const [first, ...rest] = store.single ? ['value', ...parts] : parts;
    const field = store.fields.find((one) => one.name === first);
    return field !== undefined && this.#leadsToSecret(field.type, rest);
  }

  #leadsToSecret(type: Type, parts: readonly string[]): boolean {
    const { types } = this.#application;
    if (type.kind === 'named' && types.get(type.name)?.secret === true) return true;
    const open = resolve(type, types);
    if (open.kind === 'union')
      return open.members.some((member) => this.#leadsToSecret(member, parts));
    const [part, ...rest] = parts;
    if (part === undefined) return false;
    if (open.kind === 'list') return this.#leadsToSecret(open.item, rest);
    if (open.kind === 'map') return this.#leadsToSecret(open.value, rest);
    const field = open.kind === 'record' && open.fields.find(({ name }) => name === part);
    return field !== false && field !== undefined && this.#leadsToSecret(field.type, rest);
  }

  #store({ single, fields }: Store, state: unknown): unknown {
    const [value] = fields;
    if (single) return value === undefined ? state : this.#filled(state, value.type);
    if (!isObject(state)) return state;
    const parts = fields.filter(({ name }) => Object.hasOwn(state, name));
    return {
      ...state,
      ...Object.fromEntries(parts.map(({ name, type }) => [name, this.#filled(state[name], type)])),
    };
  }

  #filled(value: unknown, type: Type): unknown {
    const { types } = this.#application;
    const isSecret = type.kind === 'named' && types.get(type.name)?.secret === true;
    if (isSecret && typeof value === 'string' && mask.test(value))
      return this.#standIn(value, type);
    const open = resolve(type, types);
    switch (open.kind) {
      case 'list':
        return Array.isArray(value) ? value.map((item) => this.#filled(item, open.item)) : value;
      case 'map':
        return isObject(value) ? mapped(value, (part) => this.#filled(part, open.value)) : value;
      case 'record':
        return isObject(value)
          ? mapped(value, (part, key) => {
              const field = open.fields.find(({ name }) => name === key);
              return field === undefined ? part : this.#filled(part, field.type);
            })
          : value;
      case 'union':
        // At most one of the members changes anything.
        return open.members.reduce<unknown>(
          (filled, member) => this.#filled(filled, member),
          value,
        );
      case 'string':
      case 'number':
      case 'boolean':
      case 'null':
      case 'absent':
      case 'literal':
      case 'tuple':
      case 'named':
      case 'never':
      case 'unknown':
        return value;
    }
  }

  #standIn(text: string, type: Type): unknown {
    this.count += 1;
    const known = this.#known.get(text);
    if (known !== undefined) return known;
    const made = this.#made(type, text, Number(mask.exec(text)?.[1]));
    this.#known.set(text, made);
    return made;
  }

  /** A value of a type, another for another number. */
  #made(type: Type, text: string, number: number): unknown {
    const open = resolve(type, this.#application.types);
    switch (open.kind) {
      case 'string':
        return textFor(open.bounds, text, number);
      case 'number': {
        const { minimum, exclusiveMinimum = 0, multipleOf = 1 } = open.bounds;
        return (minimum ?? exclusiveMinimum + multipleOf) + (number - 1) * multipleOf;
      }
      case 'boolean':
        return number % 2 === 1;
      case 'literal':
        return open.value;
      case 'union':
        return this.#made(open.members[number % open.members.length] as Type, text, number);
      case 'list':
        return Array.from({ length: open.bounds?.minItems ?? 1 }, () =>
          this.#made(open.item, text, number),
        );
      case 'record':
        return Object.fromEntries(
          open.fields.map(({ name, type: own }) => [name, this.#made(own, text, number)]),
        );
      case 'map':
        return {};
      case 'null':
      case 'absent':
      case 'tuple':
      case 'named':
      case 'never':
      case 'unknown':
        return null;
    }
  }
}

/** The type of what a line was given. */
function payloadType(
  application: Application,
  { actions, tasks }: Store,
  own: string,
  kind: NonNullable<LogLine['kind']>,
): Type | undefined {
  if (kind === 'action') return actions.find(({ name }) => name === own)?.payload;
  const task = tasks.find(({ name }) => name === own);
  if (kind === 'start') return task?.payload;
  if (task?.operation === undefined) return undefined;
  const { result, results, error } = operationNamed(application, task.operation);
  if (kind === 'finish') return result;
  return kind === 'each' ? results : error;
}

function textFor(bounds: StringBounds, text: string, number: number): string {
  const { format, minLength = 0, maxLength = Infinity } = bounds;
  if (format === undefined) {
    const padded = text.padEnd(minLength, '•');
    return padded.length <= maxLength ? padded : String(number).slice(-maxLength);
  }
  switch (format) {
    case 'date':
      return `2000-01-${String((number % 28) + 1).padStart(2, '0')}`;
    case 'date-time':
      return new Date(number * 1000).toISOString();
    case 'uuid':
      return `00000000-0000-4000-8000-${String(number).padStart(12, '0')}`;
    case 'email':
      return `m${number}@example.com`;
    case 'uri':
      return `urn:m:${number}`;
  }
}

const mapped = (
  value: Readonly<Record<string, unknown>>,
  make: (part: unknown, key: string) => unknown,
): Record<string, unknown> =>
  Object.fromEntries(Object.entries(value).map(([key, part]) => [key, make(part, key)]));
