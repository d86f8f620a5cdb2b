// State that an action changes in place: copies are made where it is written to, and nowhere else.

/** The type of a value as an action may change it. */
export type Draft<T> = T extends readonly (infer I)[]
  ? Draft<I>[]
  : T extends object
    ? { -readonly [K in keyof T]: Draft<T[K]> }
    : T;

/** A value as a part of a draft. It is not changed itself: what is written to is copied first. */
export const draftOf = <T>(value: T): Draft<T> => value as Draft<T>;

type Parts = Record<PropertyKey, unknown>;

const nodes = new WeakMap<object, DraftNode>();

/** One object of the state, as seen from within an action. */
class DraftNode {
  readonly proxy: object;
  readonly drafting: Drafting;
  readonly #put: (old: object, copy: object) => void;
  readonly #parts = new Map<PropertyKey, DraftNode>();
  #latest: object;

  constructor(drafting: Drafting, latest: object, put: (old: object, copy: object) => void) {
    this.drafting = drafting;
    this.#latest = latest;
    this.#put = put;
    this.proxy = new Proxy(Array.isArray(latest) ? [] : {}, traps(this));
    nodes.set(this.proxy, this);
  }

  /** The object as it is now: only to be read. */
  get latest(): object {
    return this.#latest;
  }

  /** The object, to be written to: a copy that this transaction owns. */
  own(): Parts {
    this.drafting.noteWrite();
    if (!this.drafting.owns(this.#latest)) {
      const old = this.#latest;
      const copy: object = Array.isArray(old) ? Array.from<unknown>(old) : { ...old };
      this.#latest = this.drafting.adopt(copy);
      this.#put(old, copy);
    }
    return this.#latest as Parts;
  }

  /** A part as a draft of its own, if it is an object. */
  part(key: PropertyKey): unknown {
    const value: unknown = Reflect.get(this.#latest, key);
    if (typeof value !== 'object' || value === null) return value;
    const known = this.#parts.get(key);
    if (known?.latest === value) return known.proxy;
    const node = new DraftNode(this.drafting, value, (old, copy) => {
      this.#replace(key, old, copy);
    });
    this.#parts.set(key, node);
    return node.proxy;
  }

  write(key: PropertyKey, value: unknown): void {
    const own = this.own();
    own[key] = this.drafting.plain(value);
  }

  remove(key: PropertyKey): void {
    if (Object.hasOwn(this.#latest, key)) Reflect.deleteProperty(this.own(), key);
  }

  /** A list method that changes the list. */
  change(name: string, args: readonly unknown[]): unknown {
    const own = this.own();
    return Reflect.apply(
      own[name] as (...args: readonly unknown[]) => unknown,
      own,
      args.map((value) => this.drafting.plain(value)),
    );
  }

  #replace(key: PropertyKey, old: object, copy: object): void {
    const own = this.own();
    const place = own[key] === old || !Array.isArray(own) ? key : own.indexOf(old);
    if (own[place] === old) own[place] = copy;
  }
}

const changing = new Set(['push', 'pop', 'shift', 'unshift', 'splice', 'sort', 'reverse', 'fill']);

type Test = (item: unknown, position: number) => boolean;

/** List methods whose results are drafts of the items. */
const picking: Readonly<Record<string, (node: DraftNode, list: readonly unknown[]) => unknown>> = {
  find: (node, list) => (test: Test) => node.part(String(list.findIndex(test))),
  findLast: (node, list) => (test: Test) => node.part(String(list.findLastIndex(test))),
  at: (node, list) => (place: number) => node.part(String(place < 0 ? list.length + place : place)),
  filter: (node, list) => (test: Test) =>
    [...list.keys()].filter((i) => test(list[i], i)).map((i) => node.part(String(i))),
};

function listMethod(node: DraftNode, list: readonly unknown[], key: PropertyKey): unknown {
  if (key === Symbol.iterator || key === 'values') {
    return function* () {
      for (const i of list.keys()) yield node.part(String(i));
    };
  }
  if (typeof key === 'string' && changing.has(key))
    return (...args: unknown[]) => node.change(key, args);
  const pick = typeof key === 'string' && Object.hasOwn(picking, key) ? picking[key] : undefined;
  if (pick !== undefined) return pick(node, list);
  const method: unknown = Reflect.get(list, key);
  return typeof method === 'function' ? method.bind(list) : method;
}

function traps(node: DraftNode): ProxyHandler<object> {
  return {
    get(_target, key) {
      const { latest } = node;
      if (Array.isArray(latest) && key !== 'length' && !Object.hasOwn(latest, key)) {
        return listMethod(node, latest, key);
      }
      return node.part(key);
    },
    set(_target, key, value) {
      node.write(key, value);
      return true;
    },
    deleteProperty(_target, key) {
      node.remove(key);
      return true;
    },
    has: (_target, key) => Reflect.has(node.latest, key),
    ownKeys: () => Reflect.ownKeys(node.latest),
    getOwnPropertyDescriptor(_target, key) {
      const found = Reflect.getOwnPropertyDescriptor(node.latest, key);
      if (found === undefined) return undefined;
      const isLength = Array.isArray(node.latest) && key === 'length';
      return { ...found, value: node.part(key), writable: true, configurable: !isLength };
    },
  };
}

/** What one transaction has copied, and may therefore write to. */
export class Drafting {
  readonly noteWrite: () => void;
  #owned = new WeakSet();

  /** `noteWrite` is called before each write. */
  constructor(noteWrite: () => void) {
    this.noteWrite = noteWrite;
  }

  /** A draft of an object; `put` is told of the copy that takes its place. */
  draft(base: object, put: (copy: object) => void): object {
    return new DraftNode(this, base, (_old, copy) => {
      put(copy);
    }).proxy;
  }

  owns(part: object): boolean {
    return this.#owned.has(part);
  }

  adopt(copy: object): object {
    this.#owned.add(copy);
    return copy;
  }

  /**
   * A value as plain data, to be stored. What has been copied so far may now stand in two places: from
   * here on it is copied again before it is written to.
   */
  plain(value: unknown): unknown {
    if (typeof value !== 'object' || value === null) return value;
    this.#owned = new WeakSet();
    return undraft(value);
  }
}

/** A value with the drafts in it replaced by what they are drafts of. */
export function undraft(value: unknown): unknown {
  if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
  const node = nodes.get(value);
  if (node !== undefined) return node.latest;
  if (Array.isArray(value)) {
    const items = value.map(undraft);
    return items.some((item, i) => item !== value[i]) ? items : value;
  }
  const entries = Object.entries(value).map(([key, part]): [string, unknown] => [
    key,
    undraft(part),
  ]);
  return entries.some(([key, part]) => part !== Reflect.get(value, key))
    ? Object.fromEntries(entries)
    : value;
}

/** A value as it is now, as plain data: what is written to the draft later does not show in it. */
export function plainOf<T>(value: T): T;
export function plainOf(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const parts: readonly unknown[] = [value, ...(Object.values(value) as readonly unknown[])];
  for (const part of parts) {
    const node = typeof part === 'object' && part !== null ? nodes.get(part) : undefined;
    if (node !== undefined) return node.drafting.plain(value);
  }
  return value;
}

/** Takes items out of a list in a draft. */
export function removeItems<T>(list: T[], isMeant: (item: T) => boolean): number {
  const latest = undraft(list) as T[];
  const places = [...latest.keys()].filter((i) => isMeant(latest[i] as T));
  for (const place of places.reverse()) list.splice(place, 1);
  return places.length;
}
