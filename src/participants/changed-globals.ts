/**
 * Finds out what code has changed of what every program in this thread uses. The code may have replaced anything, so
 * nothing is called here that can be replaced: only functions that were taken before.
 */
const { getOwnPropertyDescriptor, getOwnPropertyNames } = Object;
const { ownKeys } = Reflect;

/** Clocks, timers and chance may be replaced, as tests do: nothing of ours asks them. */
const replaceable = /^(NaN|Infinity|Date|Math\.random|AbortSignal\.timeout)(\.|$)/;

/** The global objects that programs rely on: their own properties count, and those of their prototypes. */
const watchedNames = getOwnPropertyNames(globalThis).filter((name) => /^[A-Z]/.test(name));

/** Functions that programs rely on. */
const functions = 'structuredClone parseInt parseFloat isNaN isFinite encodeURIComponent'.split(
  ' ',
);

/** What iterates has prototypes without a name in the language; these are those of the standard. */
const iterators: Readonly<Record<string, unknown>> = {
  ArrayIterator: [][Symbol.iterator](),
  MapIterator: new Map()[Symbol.iterator](),
  SetIterator: new Set()[Symbol.iterator](),
  StringIterator: ''[Symbol.iterator](),
  Generator: (function* () {})(),
  AsyncGenerator: (async function* () {})(),
};

const nameOf = (of: string, key: PropertyKey): string =>
  typeof key === 'symbol' ? `${of}[${String(key.description)}]` : `${of}.${String(key)}`;

interface Noted {
  readonly of: object;
  readonly key: PropertyKey;
  readonly what: unknown;
  readonly name: string;
}

/** A function or object that stands under a name; what is computed on access counts by its getter. */
function standing(of: object, key: PropertyKey): unknown {
  const descriptor = getOwnPropertyDescriptor(of, key);
  if (descriptor === undefined) return undefined;
  // eslint-disable-next-line @typescript-eslint/unbound-method -- it is held against itself, never called
  return descriptor.get ?? descriptor.value;
}

function isWatchable(what: unknown): what is object {
  return (typeof what === 'object' && what !== null) || typeof what === 'function';
}

/** The prototypes between an object and that of all objects. */
function prototypesOf(value: unknown): readonly object[] {
  const prototype: unknown = Object.getPrototypeOf(value);
  return prototype === Object.prototype || !isWatchable(prototype)
    ? []
    : [prototype, ...prototypesOf(prototype)];
}

/** What is there now, to be held against what is there later. */
export class KnownGlobals {
  readonly #noted: Noted[] = [];
  /** How many properties every object has. */
  readonly #common = ownKeys(Object.prototype).length;

  constructor() {
    for (const name of [...watchedNames, ...functions]) {
      const what = standing(globalThis, name);
      if (replaceable.test(name)) continue;
      this.#note(globalThis, name, name);
      if (!isWatchable(what) || functions.includes(name)) continue;
      this.#noteAll(what, name);
      const prototype = typeof what === 'function' ? standing(what, 'prototype') : undefined;
      if (isWatchable(prototype)) this.#noteAll(prototype, `${name}.prototype`);
    }
    for (const [name, iterator] of Object.entries(iterators))
      for (const prototype of prototypesOf(iterator)) this.#noteAll(prototype, `${name}.prototype`);
  }

  /** The names of what is another one now, or gone; what was added counts in `Object.prototype` only. */
  changed(): string[] {
    const names: string[] = [];
    let count = 0;
    for (let i = 0; i < this.#noted.length; i++) {
      const { of, key, what, name } = this.#noted[i] as Noted;
      if (standing(of, key) !== what) names[count++] = name;
    }
    const keys = ownKeys(Object.prototype);
    for (let i = this.#common; i < keys.length; i++) {
      names[count++] = nameOf('Object.prototype', keys[i] as PropertyKey);
    }
    return names;
  }

  #noteAll(of: object, name: string): void {
    for (const key of ownKeys(of)) {
      const what = standing(of, key);
      const named = nameOf(name, key);
      if (!replaceable.test(named) && isWatchable(what)) this.#note(of, key, named);
    }
  }

  #note(of: object, key: PropertyKey, name: string): void {
    this.#noted.push({ of, key, what: standing(of, key), name });
  }
}
