import { escapePointer, isObject, type Json } from '../../base/json.js';

/** Identifiers that it was given in place of those that nobody knows yet. */
export interface Placeholders {
  is(own: string): boolean;
  /** One is known now. */
  found(id: string): void;
}

/**
 * The identifiers that old code makes by itself, each held to be the one that the schema made in its place: whichever stands
 * where a new one of the schema's stands is that one from then on. In what it is sent, it finds its own.
 */
export class OwnIds {
  readonly #made: ReadonlySet<string>;
  readonly #taken: ReadonlySet<string>;
  readonly #placeholders: Placeholders | undefined;
  readonly #own = new Map<string, string>();
  readonly #named = new Map<string, string>();
  /** Texts that it was given in this step: none of them is an identifier that it has made. */
  readonly #given = new Set<string>();

  /** `made`: those that the first participant has made by now; `taken`: those that this one has asked for. Both grow. */
  constructor(made: ReadonlySet<string>, taken: ReadonlySet<string>, placeholders?: Placeholders) {
    this.#made = made;
    this.#taken = taken;
    this.#placeholders = placeholders;
  }

  /** True if it makes identifiers by itself, as far as is known by now. */
  get areMade(): boolean {
    return this.#own.size > 0;
  }

  /** True if a value names an identifier of the schema's whose own one is not known yet. */
  lacks(value: unknown): boolean {
    if (this.#made.size === 0) return false;
    if (typeof value === 'string')
      return this.#made.has(value) && !this.#own.has(value) && !this.#taken.has(value);
    if (typeof value !== 'object' || value === null) return false;
    return Object.entries(value).some(([key, part]) => this.lacks(key) || this.lacks(part));
  }

  /** What it is sent in a step, with its own identifiers in place of the schema's, but in parts that are `free` text. */
  sent<T extends Json | undefined>(value: T, free: ReadonlySet<string> = new Set()): T {
    this.#given.clear();
    this.#noteTexts(value);
    return (this.#own.size === 0 ? value : replaced(value, this.#own, free)) as T;
  }

  /** A value with its own identifiers in place of the schema's. */
  inOwn(value: unknown): unknown {
    return this.#own.size === 0 ? value : replaced(value, this.#own);
  }

  /** JSON text that may have identifiers in it, as {@link inOwn}; other text is left as it is. */
  jsonInOwn(text: string): string {
    if (![...this.#own.keys()].some((id) => text.includes(id))) return text;
    try {
      return JSON.stringify(this.inOwn(JSON.parse(text)));
    } catch {
      return text;
    }
  }

  /** True if a text is another one with its own identifiers in it; what looks like one may be text that was written. */
  #isInOwn(expected: string, actual: string): boolean {
    const inText = [...this.#own.keys()].filter((id) => expected.includes(id));
    if (inText.length === 0) return false;
    const longestFirst = inText.sort((a, b) => b.length - a.length).map(escaped);
    const parts = expected.split(new RegExp(`(${longestFirst.join('|')})`));
    const pattern = parts.map((part, i) => {
      const own = i % 2 === 1 ? this.#own.get(part) : undefined;
      return own === undefined ? escaped(part) : `(?:${escaped(part)}|${escaped(own)})`;
    });
    return new RegExp(`^${pattern.join('')}$`).test(actual);
  }

  /** What it shows, with the schema's identifiers in place of its own; new ones are learned. */
  settled(expected: unknown, actual: unknown): unknown {
    if (this.#made.size === 0 && this.#placeholders === undefined) return actual;
    this.#learn(expected, actual);
    return this.#own.size === 0 ? actual : this.#asNamed(expected, actual);
  }

  #learn(expected: unknown, actual: unknown): void {
    if (typeof expected === 'string' && typeof actual === 'string')
      return this.#bind(expected, actual);
    if (Array.isArray(expected) && Array.isArray(actual)) {
      for (const [i, item] of expected.entries()) this.#learn(item, actual[i]);
      return;
    }
    if (!isObject(expected) || !isObject(actual)) return;
    const fresh = Object.keys(actual).filter((key) => !Object.hasOwn(expected, key));
    for (const key of Object.keys(expected)) {
      if (!Object.hasOwn(actual, key) && !this.#own.has(key)) {
        const isMade = this.#made.has(key);
        const own = fresh.find(
          (one) => !this.#named.has(one) && (isMade || this.#placeholders?.is(one) === true),
        );
        if (own !== undefined) this.#bind(key, own);
      }
      this.#learn(expected[key], actual[this.#own.get(key) ?? key]);
    }
  }

  #bind(id: string, own: string): void {
    const isPlaceholder = this.#placeholders?.is(own) === true;
    if (id === own || own === '' || this.#taken.has(id)) return;
    if (!this.#made.has(id) && !isPlaceholder) return;
    if (this.#own.has(id) || this.#named.has(own) || this.#given.has(own)) return;
    if (isPlaceholder) this.#placeholders?.found(id);
    this.#own.set(id, own);
    this.#named.set(own, id);
  }

  /** Where the schema has an identifier, or a text with one, it has its own: everywhere else texts mean themselves. */
  #asNamed(expected: unknown, actual: unknown): unknown {
    if (typeof actual === 'string') {
      if (typeof expected !== 'string' || expected === actual) return actual;
      if (this.#isInOwn(expected, actual)) return expected;
      const isId = this.#made.has(expected) || this.#own.has(expected);
      return isId ? (this.#named.get(actual) ?? actual) : actual;
    }
    if (Array.isArray(actual)) {
      const items: readonly unknown[] = Array.isArray(expected) ? expected : [];
      return actual.map((item, i) => this.#asNamed(items[i], item));
    }
    if (!isObject(actual)) return actual;
    const parts = isObject(expected) ? expected : {};
    return Object.fromEntries(
      Object.entries(actual).map(([key, part]) => {
        const named = Object.hasOwn(parts, key) ? key : (this.#named.get(key) ?? key);
        return [named, this.#asNamed(parts[named], part)];
      }),
    );
  }

  /** Numbers are spared: what counts up may well be equal to a text that was sent. */
  #noteTexts(value: unknown): void {
    if (typeof value === 'string' && !/^\d+$/.test(value)) this.#given.add(value);
    else if (typeof value === 'object' && value !== null)
      for (const part of Object.values(value)) this.#noteTexts(part);
  }
}

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** A value with other texts in place of some: as parts, and as names of parts. */
function replaced(
  value: unknown,
  by: ReadonlyMap<string, string>,
  free: ReadonlySet<string> = new Set(),
  at = '',
): unknown {
  if (typeof value === 'string') return free.has(at) ? value : (by.get(value) ?? value);
  if (Array.isArray(value)) return value.map((item, i) => replaced(item, by, free, `${at}/${i}`));
  if (!isObject(value)) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, part]) => [
      by.get(key) ?? key,
      replaced(part, by, free, `${at}/${escapePointer(key)}`),
    ]),
  );
}
