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

/** Under this key a draft gives its node; nothing else has it. */
const self = Symbol('draft');

const nodeOf = (value: object): DraftNode | undefined =>
  (value as { readonly [self]?: DraftNode })[self];

/** One object of the state, as seen from within an action. */
export class DraftNode {
  readonly proxy: object;
  readonly drafting: Drafting;
  readonly #put: (old: object, copy: object) => void;
  #parts: Map<PropertyKey, DraftNode> | undefined;
  #latest: object;

  constructor(drafting: Drafting, latest: object, put: (old: object, copy: object) => void) {
    this.drafting = drafting;
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
    this.drafting.noteWrite();
    if (!this.drafting.owns(this.#latest)) {
      const old = this.#latest;
      const copy: object = Array.isArray(old) ? [...(old as readonly unknown[])] : { ...old };
      this.#latest = this.drafting.adopt(copy);
      this.#put(old, copy);
    }
    return this.#latest as Parts;
  }

  /** A part as a draft of its own, if it is an object. */
  part(key: PropertyKey): unknown {
    const value: unknown = Reflect.get(this.#latest, key);
    if (typeof value !== 'object' || value === null) return value;
    const known = this.#parts?.get(key);
    if (known?.latest === value) return known.proxy;
    const node = new DraftNode(this.drafting, value, (old, copy) => {
      this.#replace(key, old, copy);
    });
    (this.#parts ??= new Map()).set(key, node);
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

function listMethod(node: DraftNode, latest: readonly unknown[], key: PropertyKey): unknown {
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
  [self]: DraftNode;
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

/** A field that an action has changed. */
interface Changed {
  settle(isKept: boolean): boolean;
}

/** What one action has copied, and may therefore write to. */
export class Drafting {
  /** Is called before each write. */
  readonly noteWrite: () => void;
  readonly changed: Changed[] = [];
  #owned: Set<object> | undefined;
  #isOver = false;

  constructor(noteWrite: () => void) {
    this.noteWrite = noteWrite;
  }

  owns(part: object): boolean {
    if (this.#isOver) throw new TypeError('The action that this draft belongs to is over.');
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
    const plain = undraft(value);
    if (plain !== value || (this.#owned !== undefined && holds(value, (part) => this.owns(part))))
      this.#owned = undefined;
    return plain;
  }

  /** Ends the action, and keeps what it changed if that is wanted; false if nothing is new. */
  settle(isKept: boolean): boolean {
    this.#isOver = true;
    let changed = false;
    for (const field of this.changed) if (field.settle(isKept)) changed = true;
    return changed;
  }
}

/** A value with the drafts in it replaced by what they are drafts of. */
export function undraft(value: unknown): unknown {
  if (!holds(value, (part) => nodeOf(part) !== undefined)) return value;
  const node = nodeOf(value as object);
  if (node !== undefined) return node.latest;
  if (Array.isArray(value)) return value.map(undraft);
  const entries = Object.entries(value as object);
  return Object.fromEntries(entries.map(([key, part]) => [key, undraft(part)]));
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

/** A value as it is now, as plain data: what is written to the draft later does not show in it. */
export function plainOf<T>(value: T): T;
export function plainOf(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const parts: readonly unknown[] = [value, ...(Object.values(value) as readonly unknown[])];
  for (const part of parts) {
    const node = typeof part === 'object' && part !== null ? nodeOf(part) : undefined;
    if (node !== undefined) return node.drafting.plain(value);
  }
  return value;
}

/** Takes items out of a list in a draft. */
export function removeItems<T>(list: T[], isMeant: (item: T) => unknown): number {
  const latest = undraft(list) as T[];
  const places = [...latest.keys()].filter((i) => isMeant(latest[i] as T));
  for (const place of places.reverse()) list.splice(place, 1);
  return places.length;
}
