// State that an action changes in place: copies are made of what is written to, and of nothing else.

/** The type of a value as an action may change it. */
export type Writable<T> = T extends object ? { -readonly [K in keyof T]: Writable<T[K]> } : T;

/** A value to be stored. It is not changed itself: what is written to is copied first. */
export const asEditable = <T>(value: T): Writable<T> => value as Writable<T>;

type Parts = Record<PropertyKey, unknown>;

/** Under this key a working copy gives its node; nothing else has it. */
const self = Symbol('working copy');

const nodeOf = (value: object): WorkingCopy | undefined =>
  (value as { readonly [self]?: WorkingCopy })[self];

/** What one action has copied, and may therefore write to. */
export class Edits {
  readonly #noteWrite: () => void;
  #owned: Set<object> | undefined;
  #isOver = false;

  /** `noteWrite` is called before each write, and throws if nothing may be written. */
  constructor(noteWrite: () => void) {
    this.#noteWrite = noteWrite;
  }

  noteWrite(): void {
    if (this.#isOver) throw new TypeError('The action that this belongs to is over.');
    this.#noteWrite();
  }

  owns(part: object): boolean {
    return this.#owned?.has(part) === true;
  }

  adopt(copy: object): object {
    (this.#owned ??= new Set()).add(copy);
    return copy;
  }

  /**
   * A value as plain data, to be stored. If it holds what has been copied so far, that stands in two places
   * now: from here on it is copied again before it is written to.
   */
  plain(value: unknown): unknown {
    if (typeof value !== 'object' || value === null) return value;
    const plain = unwrapped(value);
    if (plain !== value || (this.#owned !== undefined && holds(value, (part) => this.owns(part))))
      this.#owned = undefined;
    return plain;
  }

  /** Nothing is written any more. */
  end(): void {
    this.#isOver = true;
  }
}

/** One object of the state, as an action sees it. */
export class WorkingCopy {
  readonly proxy: object;
  readonly edits: Edits;
  readonly #put: (old: object, copy: object) => void;
  #parts: Map<PropertyKey, WorkingCopy> | undefined;
  #latest: object;

  constructor(edits: Edits, latest: object, put: (old: object, copy: object) => void) {
    this.edits = edits;
    this.#latest = latest;
    this.#put = put;
    const target = (Array.isArray(latest) ? [] : {}) as Target;
    target[self] = this;
    this.proxy = new Proxy(target, traps);
  }

  /** The object as it is now: only to be read. */
  get latest(): object {
    return this.#latest;
  }

  /** The object, to be written to: a copy that this transaction owns. */
  own(): Parts {
    this.edits.noteWrite();
    if (!this.edits.owns(this.#latest)) {
      const old = this.#latest;
      const copy: object = Array.isArray(old) ? [...(old as readonly unknown[])] : { ...old };
      this.#latest = this.edits.adopt(copy);
      this.#put(old, copy);
    }
    return this.#latest as Parts;
  }

  /** A part as a working copy of its own, if it is an object. */
  part(key: PropertyKey): unknown {
    const value: unknown = Reflect.get(this.#latest, key);
    if (typeof value !== 'object' || value === null) return value;
    const known = this.#parts?.get(key);
    if (known?.latest === value) return known.proxy;
    const node = new WorkingCopy(this.edits, value, (old, copy) => {
      this.#replace(key, old, copy);
    });
    (this.#parts ??= new Map()).set(key, node);
    return node.proxy;
  }

  write(key: PropertyKey, value: unknown): void {
    const own = this.own();
    own[key] = this.edits.plain(value);
  }

  remove(key: PropertyKey): void {
    if (Object.hasOwn(this.#latest, key)) Reflect.deleteProperty(this.own(), key);
  }

  /** A list method that changes the list. */
  change(name: string, args: readonly unknown[]): unknown {
    const own = this.own();
    const plain = args.map((value) => this.edits.plain(value));
    return Reflect.apply(own[name] as (...args: readonly unknown[]) => unknown, own, plain);
  }

  #replace(key: PropertyKey, old: object, copy: object): void {
    const own = this.own();
    const place = own[key] === old || !Array.isArray(own) ? key : own.indexOf(old);
    if (own[place] === old) own[place] = copy;
  }
}

const changing = new Set(['push', 'pop', 'shift', 'unshift', 'splice', 'sort', 'reverse', 'fill']);

type Test = (item: unknown, position: number) => boolean;

/** List methods whose results are working copies of the items. */
const picking: Readonly<Record<string, (node: WorkingCopy, list: readonly unknown[]) => unknown>> =
  {
    find: (node, list) => (test: Test) => node.part(String(list.findIndex(test))),
    findLast: (node, list) => (test: Test) => {
      let place = list.length - 1;
      while (place >= 0 && !test(list[place], place)) place -= 1;
      return node.part(String(place));
    },
    at: (node, list) => (place: number) => {
      const index = Math.trunc(place) || 0;
      return node.part(String(index < 0 ? list.length + index : index));
    },
    filter: (node, list) => (test: Test) =>
      [...list.keys()].filter((i) => test(list[i], i)).map((i) => node.part(String(i))),
  };

function listMethod(node: WorkingCopy, latest: readonly unknown[], key: PropertyKey): unknown {
  // Engines run list methods on frozen lists a hundred times slower than on others, but copy them fast.
  const list = Object.isFrozen(latest) ? [...latest] : latest;
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

/** What a proxy is made around: like the object that it stands for, a list or none. */
interface Target {
  [self]: WorkingCopy;
}

const traps: ProxyHandler<Target> = {
  get(target, key) {
    const node = target[self];
    const { latest } = node;
    if (key === self) return node;
    if (Array.isArray(latest) && key !== 'length' && !Object.hasOwn(latest, key))
      return listMethod(node, latest, key);
    return node.part(key);
  },
  set(target, key, value) {
    target[self].write(key, value);
    return true;
  },
  deleteProperty(target, key) {
    target[self].remove(key);
    return true;
  },
  has: (target, key) => Reflect.has(target[self].latest, key),
  ownKeys: (target) => Reflect.ownKeys(target[self].latest),
  getOwnPropertyDescriptor(target, key) {
    const node = target[self];
    const found = Reflect.getOwnPropertyDescriptor(node.latest, key);
    if (found === undefined) return undefined;
    const isLength = Array.isArray(node.latest) && key === 'length';
    return { ...found, value: node.part(key), writable: true, configurable: !isLength };
  },
};

/** A value with the working copies in it replaced by what they stand for. */
export function unwrapped(value: unknown): unknown {
  if (!holds(value, (part) => nodeOf(part) !== undefined)) return value;
  const node = nodeOf(value as object);
  if (node !== undefined) return node.latest;
  if (Array.isArray(value)) return value.map(unwrapped);
  const entries = Object.entries(value as object);
  return Object.fromEntries(entries.map(([key, part]) => [key, unwrapped(part)]));
}

/** Whether a value, or an object in it that is not frozen, is meant. */
function holds(value: unknown, isMeant: (part: object) => boolean): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if (isMeant(value)) return true;
  if (Object.isFrozen(value)) return false;
  const parts: readonly unknown[] = Array.isArray(value) ? value : Object.values(value);
  for (const part of parts) if (holds(part, isMeant)) return true;
  return false;
}

/** A value as it is now, as plain data: what is written later does not show in it. */
export function valueOf<T>(value: T): T;
export function valueOf(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const parts: readonly unknown[] = [value, ...(Object.values(value) as readonly unknown[])];
  for (const part of parts) {
    const node = typeof part === 'object' && part !== null ? nodeOf(part) : undefined;
    if (node !== undefined) return node.edits.plain(value);
  }
  return value;
}

/** Keeps the items of a list that stay; those are not touched. Says whether any went. */
export function keepOnly<T>(list: T[], stays: (item: T) => unknown): boolean {
  const latest = unwrapped(list) as readonly T[];
  const places = [...latest.keys()].filter((i) => !stays(latest[i] as T));
  for (const place of places.reverse()) list.splice(place, 1);
  return places.length > 0;
}
