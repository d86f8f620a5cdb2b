import { isObject } from '../../base/json.js';
import type { Application, Store } from '../../model/application.js';
import { membersOf, resolve, type Type, type TypeTable } from '../../model/types.js';

/** How many of something are told apart, and how many traits there may be in all. */
const mostCounted = 12;
const mostTraits = 4000;

interface TracedField {
  readonly store: string;
  readonly isWhole: boolean;
  readonly name: string;
  readonly key: string;
  readonly type: Type;
}

/**
 * What states had that were met: how many items of which kind, small numbers, what is absent. The mode of a state is what is
 * absent, true, empty and going on in it at the same time, a word for each field. Code may depend on any of it, whether or not it
 * shows in a branch.
 */
export class Traits {
  readonly #types: TypeTable;
  readonly #fields: readonly TracedField[];
  readonly #known: Set<string>;
  /** Traits that are new since the beginning, in the order in which they were met. */
  readonly added: string[] = [];
  /** What each field was when it was last looked at, and its word in the mode. */
  readonly #last = new Map<string, { readonly value: unknown; readonly mode: string }>();

  constructor({ stores, types }: Application, known: readonly string[]) {
    this.#types = types;
    this.#known = new Set(known);
    this.#fields = stores.flatMap((store) =>
      store.fields.map((field) => ({
        store: store.name,
        isWhole: store.single,
        name: field.name,
        key: keyOf(store, field.name),
        type: field.type,
      })),
    );
  }

  /** Looks at a state, at what is not the same object as before, and at what goes on of tasks. */
  look(state: Readonly<Record<string, unknown>>, tasks?: unknown): void {
    if (this.#known.size > mostTraits) return;
    let mode = this.#ofTasks(tasks);
    for (const { store, isWhole, name, key, type } of this.#fields) {
      const own = state[store];
      const value = isWhole || !isObject(own) ? own : own[name];
      const last = this.#last.get(key);
      if (last !== undefined && Object.is(last.value, value)) {
        mode += last.mode;
        continue;
      }
      const word = this.#visit(value, type, key);
      this.#last.set(key, { value, mode: word });
      mode += word;
    }
    this.#note(mode);
  }

  /** How many runs of each task go on, and wait; gives which tasks do. */
  #ofTasks(tasks: unknown): string {
    let mode = '';
    for (const [store, own] of Object.entries(isObject(tasks) ? tasks : {}))
      for (const [task, readings] of Object.entries(isObject(own) ? own : {}))
        for (const reading of ['runs', 'waiting']) {
          const runs: unknown = isObject(readings) ? readings[reading] : undefined;
          if (!Array.isArray(runs) || runs.length === 0) continue;
          this.#note(`${store}.${task} ${reading} ${Math.min(runs.length, mostCounted)}`);
          mode += `${task} `;
        }
    return mode;
  }

  /** Notes the traits of a value; gives its word in the mode of the whole state. */
  #visit(value: unknown, type: Type, key: string): string {
    if (value === null || value === undefined) return this.#trait(key, 'n');
    if (typeof value === 'boolean') return this.#trait(key, value ? 't' : 'f');
    if (typeof value === 'string') return this.#trait(key, this.#ofText(value, type));
    if (typeof value === 'number') {
      this.#note(`${key} ${numberTrait(value)}`);
      return value === 0 ? '0 ' : value > 0 ? '+ ' : '- ';
    }
    if (Array.isArray(value)) {
      this.#list(value, type, key);
      return value.length === 0 ? 'e ' : 'm ';
    }
    const size = Object.keys(value).length;
    this.#note(`${key} ${Math.min(size, mostCounted)}`);
    return size === 0 ? 'e ' : 'm ';
  }

  #ofText(value: string, type: Type): string {
    const isOneOf = membersOf(resolve(type, this.#types), this.#types).some(
      (member) => member.kind === 'literal',
    );
    return isOneOf ? value : value === '' ? 'e' : 's';
  }

  /** The number of items, and how many of each kind: by what is true or false, or one of few texts. */
  #list(items: readonly unknown[], type: Type, key: string): void {
    this.#note(`${key} ${Math.min(items.length, mostCounted)}`);
    const list = membersOf(resolve(type, this.#types), this.#types).find(
      (member) => member.kind === 'list',
    );
    if (list?.kind !== 'list') return;
    const item = resolve(list.item, this.#types);
    if (item.kind !== 'record') return;
    const counts = new Map<string, number>();
    for (const one of items)
      for (const field of item.fields) {
        const value = isObject(one) ? one[field.name] : undefined;
        const isKind = typeof value === 'boolean' || this.#isChoice(value, field.type);
        if (!isKind) continue;
        const name = `${key}.${field.name} ${String(value)}`;
        counts.set(name, (counts.get(name) ?? 0) + 1);
      }
    for (const [name, count] of counts) this.#note(`${name} ${Math.min(count, mostCounted)}`);
  }

  #isChoice(value: unknown, type: Type): boolean {
    return typeof value === 'string' && this.#ofText(value, type) === value && value !== '';
  }

  #trait(key: string, trait: string): string {
    this.#note(`${key} ${trait}`);
    return `${trait} `;
  }

  #note(trait: string): void {
    if (this.#known.has(trait)) return;
    this.#known.add(trait);
    this.added.push(trait);
  }
}

const keyOf = ({ name, single }: Store, field: string): string =>
  single ? name : `${name}.${field}`;

function numberTrait(value: number): string {
  if (Number.isInteger(value) && value >= 0 && value <= mostCounted) return String(value);
  return `${value < 0 ? '-' : '+'}${Number.isInteger(value) ? 'whole' : 'part'}`;
}
