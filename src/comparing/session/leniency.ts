import { escapePointer, isObject, pointerParts } from '../../base/json.js';
import { same } from '../../base/same.js';
import type { Abilities, KnownDifference } from '../../model/participant.js';
import type { ObservedClass } from '../../model/observed-class.js';

/** What two participants showed of a class. */
export interface Both {
  readonly expected: unknown;
  readonly actual: unknown;
}

/**
 * What is passed over with a participant in one script: numbers that are near enough, and differences that are known. What is
 * known of an action is passed over from then on, whichever comes later: what it stored stays.
 */
export class Leniency {
  readonly #tolerance: Abilities['tolerance'];
  readonly #known: readonly KnownDifference[];
  readonly #note: (known: number) => void;
  readonly #noted = new Set<number>();
  readonly #done = new Set<string>();

  /** `note` is told once of each known difference that shows. */
  constructor(
    { tolerance, known = [] }: Pick<Abilities, 'tolerance' | 'known'>,
    note: (known: number) => void,
  ) {
    this.#tolerance = tolerance;
    this.#known = known;
    this.#note = note;
  }

  /** An action, or a start of a task, comes. */
  begin(action: string): void {
    this.#done.add(action);
  }

  /** What was shown, with what is passed over as it was expected. */
  settled(what: ObservedClass, { expected, actual }: Both): unknown {
    let settled =
      this.#tolerance === undefined ? actual : this.#withinTolerance(what, { expected, actual });
    for (const [i, known] of this.#known.entries()) {
      if (known.what !== what || same(expected, settled)) continue;
      if (known.action !== undefined && !this.#done.has(known.action)) continue;
      const next = replaced(settled, expected, pointerParts(known.at ?? ''));
      if (same(next, settled)) continue;
      settled = next;
      if (!this.#noted.has(i)) this.#note(i);
      this.#noted.add(i);
    }
    return settled;
  }

  /** What was shown, with numbers that are near enough as they were expected. */
  #withinTolerance(what: ObservedClass, { expected, actual }: Both): unknown {
    if (what !== 'notices' || !Array.isArray(expected) || !Array.isArray(actual))
      return this.#near(expected, actual, '');
    // The values of a watcher stand at what it watches.
    return actual.map((notice: unknown, i) => {
      const wanted: unknown = expected[i];
      if (!isObject(notice) || !isObject(wanted)) return notice;
      const { target } = notice;
      const at = typeof target === 'string' && target !== '*' ? pointerOf(target) : '';
      return {
        ...notice,
        now: this.#near(wanted.now, notice.now, at),
        before: this.#near(wanted.before, notice.before, at),
      };
    });
  }

  #near(expected: unknown, actual: unknown, at: string): unknown {
    if (typeof expected === 'number' && typeof actual === 'number')
      return Math.abs(expected - actual) <= this.#toleranceAt(at) * slack ? expected : actual;
    if (Array.isArray(expected) && Array.isArray(actual)) {
      if (expected.length !== actual.length) return actual;
      return actual.map((item, i) => this.#near(expected[i], item, `${at}/${i}`));
    }
    if (!isObject(expected) || !isObject(actual)) return actual;
    return Object.fromEntries(
      Object.entries(actual).map(([key, part]) => [
        key,
        Object.hasOwn(expected, key)
          ? this.#near(expected[key], part, `${at}/${escapePointer(key)}`)
          : part,
      ]),
    );
  }

  #toleranceAt(at: string): number {
    if (typeof this.#tolerance === 'number') return this.#tolerance;
    const [store = '', name] = pointerParts(at);
    const table = this.#tolerance ?? {};
    return table[`${store}.${name ?? ''}`] ?? table[store] ?? 0;
  }
}

/** `/deck/freeM` of `deck.freeM`. */
const pointerOf = (target: string): string => `/${target.replaceAll('.', '/')}`;

/** A tolerance of 0.1 takes 1 for 1.1, which in binary are a little further apart. */
const slack = 1 + 1e-9;

const isPart = (pattern: string, part: string): boolean => pattern === '*' || pattern === part;

/** A value with the part at a place as it is in another; `*` is every item, and every entry. */
function replaced(value: unknown, by: unknown, [part, ...rest]: readonly string[]): unknown {
  if (part === undefined) return by;
  if (Array.isArray(value) && Array.isArray(by))
    return value.map((item: unknown, i) =>
      isPart(part, String(i)) && i < by.length ? replaced(item, by[i], rest) : item,
    );
  if (!isObject(value) || !isObject(by)) return value;
  const entries = Object.entries(value).flatMap(([key, own]): [string, unknown][] => {
    if (!isPart(part, key)) return [[key, own]];
    if (Object.hasOwn(by, key)) return [[key, replaced(own, by[key], rest)]];
    return rest.length === 0 ? [] : [[key, own]];
  });
  const missing = Object.entries(by).filter(
    ([key]) => isPart(part, key) && rest.length === 0 && !Object.hasOwn(value, key),
  );
  return Object.fromEntries([...entries, ...missing]);
}
