import { escapePointer, isObject, type Json } from '../../base/json.js';
import { same } from '../../base/same.js';
import type { Random } from '../../base/random.js';
import {
  formats,
  membersOf,
  resolve,
  type Format,
  type NumberBounds,
  type RecordType,
  type StringBounds,
  type Type,
  type TypeTable,
} from '../../model/types.js';
import {
  fineNumber,
  nearText,
  rareNames,
  rareText,
  type Constants,
  type Odd,
} from './odd-values.js';
import type { Parts } from './agreeing-parts.js';
import type { Pool } from './pool.js';

/** The chance that a text is one that stands in the state: a key, mostly one that it is looked up among; or any other text. */
const shareOfKeys = 0.6;
const shareOfMeant = 0.8;
const shareOfTexts = 0.15;

/** The chance that a text that stands in the state is told in another way: with blanks around it, or in other letters. */
const shareOfDisguised = 0.3;

/** The chance that any text is one that has a format: it may be stored where one is wanted. */
const shareOfFormats = 0.05;

/** Beyond this depth lists are empty, optional properties absent, and what may be null is. */
const deepest = 5;

/** The chance that an odd value is drawn where it fits. */
const shareOfOdd = 0.4;

/** The chance that a text is rare, or near one that stands in the state; and any value one of those that somebody compares with. */
const shareOfRareTexts = 0.12;
const shareOfNearTexts = 0.12;
const shareOfConstants = 0.12;

/** The chance that a number has many digits, and that it is one that stands in the state. */
const shareOfFine = 0.12;
const shareOfEqual = 0.15;

/** The chance that items of a list have keys of their own that need none there. */
const shareOfLaterKeys = 0.8;

/** The chance that an object is one that stands in the state, and that an item of a list is; that it is changed then. */
const shareOfKnown = 0.1;
const shareOfKnownItems = 0.3;
const shareOfChanged = 0.75;

/** The number of items that a list has beyond those that it must have. */
const lengths = [0, 1, 1, 2, 2, 3];

/** The chance that a list has as many items as a number that somebody compares with, or one more or less; and the most then. */
const shareOfCounts = 0.15;
const mostItems = 12;

/** The chance that a list has an item twice, and a dictionary a key that is rare. */
const shareOfTwice = 0.12;
const shareOfRareNames = 0.1;

/** What values are drawn with. */
interface ValueSource {
  readonly types: TypeTable;
  readonly random: Random;
  readonly odd?: Odd | undefined;
  readonly constants: Constants;
}

/** Draws one value by its type; `fill` are the parts of it that stand in the state. */
export class ValueDrawing {
  readonly fill: Record<string, string> = {};
  readonly types: TypeTable;
  readonly random: Random;
  readonly #odd: Odd | undefined;
  readonly #constants: Constants;
  #depth = 0;

  constructor(
    { types, random, odd, constants }: ValueSource,
    readonly pool: Pool,
    readonly parts: Parts = new Map(),
  ) {
    this.types = types;
    this.random = random;
    this.#odd = odd;
    this.#constants = constants;
  }

  value(type: Type, at: string): Json {
    const part = this.parts.get(at);
    if (part !== undefined && isOfKind(part.value, type, this.types)) {
      if (part.from !== undefined) this.fill[at] = part.from;
      return part.value;
    }
    this.#depth++;
    const value = this.#valueWithin(type, at);
    this.#depth--;
    return value;
  }

  /** True if it is time to come to an end: types may contain themselves. */
  get #isDeep(): boolean {
    return this.#depth > deepest;
  }

  #valueWithin(type: Type, at: string): Json {
    const open = resolve(type, this.types);
    switch (open.kind) {
      case 'string':
        return this.#text(open.bounds, at);
      case 'number':
        return this.#number(open.bounds, open.integer);
      case 'boolean':
        return this.random.chance(0.5);
      case 'literal':
        return open.value;
      case 'list':
        return this.#list(open, at);
      case 'map': {
        if (this.#isDeep) return {};
        const names = this.pool.names.slice(0, 3).filter(() => this.random.chance(0.5));
        const last = this.random.chance(shareOfRareNames) ? this.random.pick(rareNames) : 'pier';
        const entries = [...names, last].map((name) => [
          name,
          this.value(open.value, `${at}/${escapePointer(name)}`),
        ]);
        return Object.fromEntries(entries) as Json;
      }
      case 'record': {
        const share = /\/\d+$/.test(at) ? shareOfKnownItems : shareOfKnown;
        const hasParts = this.#hasPartsIn(at);
        const known = !hasParts && this.random.chance(share) ? this.#known(open, at) : undefined;
        if (known !== undefined) return known;
        const fields = open.fields.filter(
          ({ name, optional }) =>
            !optional ||
            (hasParts && this.parts.has(`${at}/${escapePointer(name)}`)) ||
            (!this.#isDeep && this.random.chance(0.5)),
        );
        const entries = fields.map((field) => [
          field.name,
          this.value(field.type, `${at}/${escapePointer(field.name)}`),
        ]);
        return Object.fromEntries(entries) as Json;
      }
      case 'union':
        return this.#member(membersOf(open, this.types), at);
      case 'null':
      case 'absent':
      case 'tuple':
      case 'named':
      case 'never':
      case 'unknown':
        return null;
    }
  }

  /** An object that stands in the state, as it is or with one property changed; `undefined` if there is none of that kind. */
  #known({ fields }: RecordType, at: string): Json | undefined {
    const names = new Set(fields.map(({ name }) => name));
    const alike = this.pool.records.filter(
      (record) =>
        Object.keys(record).every((name) => names.has(name)) &&
        fields.every(({ name, optional }) => optional || Object.hasOwn(record, name)),
    );
    if (alike.length === 0 || fields.length === 0) return undefined;
    // As JSON, which writes -0 as 0: a script has to be the same when it is read again.
    const copy = JSON.parse(JSON.stringify(this.random.pick(alike))) as Record<string, Json>;
    const place = (name: string) => `${at}/${escapePointer(name)}`;
    for (const { pointer, value } of this.pool.keys)
      for (const name in copy) if (copy[name] === value) this.fill[place(name)] = pointer;
    if (!this.random.chance(shareOfChanged)) return copy;
    const { name, type } = this.random.pick(fields);
    delete this.fill[place(name)];
    copy[name] = this.value(type, place(name));
    return copy;
  }

  #hasPartsIn(at: string): boolean {
    if (this.parts.size === 0) return false;
    for (const place of this.parts.keys()) if (place.startsWith(`${at}/`)) return true;
    return false;
  }

  #member(members: readonly Type[], at: string): Json {
    if (this.#isDeep && members.some(({ kind }) => kind === 'null')) return null;
    const records = this.#hasPartsIn(at)
      ? members.filter((one) => resolve(one, this.types).kind === 'record')
      : [];
    return this.value(this.random.pick(records.length > 0 ? records : members), at);
  }

  #list(type: Type & { kind: 'list' }, at: string): Json {
    const { bounds: { minItems = 0, maxItems = Infinity, uniqueItems } = {} } = type;
    const key = type.key ?? this.#laterKey(type.item);
    const wanted = this.#isDeep ? minItems : this.#lengthOf(minItems);
    const length = Math.min(wanted, this.random.chance(0.2) ? maxItems + 1 : maxItems);
    const items = Array.from({ length }, (_, i) => this.value(type.item, `${at}/${i}`));
    const [one] = items;
    if (one !== undefined && items.length < maxItems && this.random.chance(shareOfTwice))
      items.push(one);
    if (uniqueItems === true && this.random.chance(0.8))
      return items.filter((item, i) => !items.slice(0, i).some((other) => same(item, other)));
    if (key === undefined) return items;
    const seen = new Set<unknown>();
    return items.filter((item) => {
      const own = isObject(item) ? item[key] : undefined;
      return seen.has(own) ? false : seen.add(own);
    });
  }

  /** A number of items: a few, or about as many as something that is compared with. */
  #lengthOf(least: number): number {
    const usual = least + this.random.pick(lengths);
    if (!this.random.chance(shareOfCounts)) return usual;
    const counts = this.#constants.numbers.filter(
      (count) => Number.isInteger(count) && count > 1 && count <= mostItems,
    );
    if (counts.length === 0) return usual;
    return Math.max(least, this.random.pick(counts) + this.random.pick([0, 1, 1, -1]));
  }

  /** What items may be told apart by once they are stored elsewhere; mostly, they are to fit there. */
  #laterKey(item: Type): string | undefined {
    const open = resolve(item, this.types);
    if (open.kind !== 'record' || !this.random.chance(shareOfLaterKeys)) return undefined;
    return this.#constants.keys.find((key) => open.fields.some(({ name }) => name === key));
  }

  #text(bounds: StringBounds, at: string): Json {
    if (bounds.format !== undefined) return this.random.pick(formatTexts[bounds.format]);
    const odd = this.#odd?.text;
    if (odd !== undefined && fitsLength(odd, bounds) && this.random.chance(shareOfOdd)) return odd;
    if (this.pool.keys.length > 0 && this.random.chance(shareOfKeys)) {
      const meant = this.pool.meant?.get(at) ?? [];
      const isMeant = meant.length > 0 && this.random.chance(shareOfMeant);
      const { pointer, value } = this.random.pick(isMeant ? meant : this.pool.keys);
      if (fitsLength(value, bounds)) {
        this.fill[at] = pointer;
        return value;
      }
    }
    if (this.pool.texts.length > 0 && this.random.chance(shareOfTexts)) {
      const text = this.#disguised(this.random.pick(this.pool.texts));
      if (fitsLength(text, bounds)) return text;
    }
    const rare = this.#rareText();
    if (rare !== undefined && fitsLength(rare, bounds)) return rare;
    if (this.random.chance(shareOfFormats)) {
      const text = this.random.pick(formatTexts[this.random.pick(formats)]);
      if (fitsLength(text, bounds)) return text;
    }
    const least = bounds.minLength ?? 0;
    const most = bounds.maxLength ?? least + 8;
    const choices = [
      '',
      'a',
      ' ',
      ' b ',
      ' SK 4',
      '12',
      '1e3',
      'SK 4',
      '⛴',
      'constructor',
      'q'.repeat(least),
      'z'.repeat(most),
    ];
    return this.random.pick(choices.filter((text) => fitsLength(text, bounds)));
  }

  /** A text that hardly anybody thinks of; `undefined` if it is not the turn of one. */
  #rareText(): string | undefined {
    const kind = this.random.fraction();
    if (kind < shareOfRareTexts) return rareText(this.random);
    const { keys, texts } = this.pool;
    const known = texts.length + keys.length;
    if (kind < shareOfRareTexts + shareOfNearTexts && known > 0) {
      const at = this.random.below(known);
      return nearText(this.random, texts[at] ?? keys[at - texts.length]?.value ?? '');
    }
    const { texts: constants } = this.#constants;
    const isConstant = kind > 1 - shareOfConstants && constants.length > 0;
    return isConstant ? this.random.pick(constants) : undefined;
  }

  /** Mostly the text itself; at times with blanks around it, or in other letters. */
  #disguised(text: string): string {
    if (!this.random.chance(shareOfDisguised)) return text;
    const other = text.toLowerCase() === text ? text.toUpperCase() : text.toLowerCase();
    return this.random.chance(0.5) ? ` ${text} ` : other;
  }

  #number(
    { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf }: NumberBounds,
    whole: boolean,
  ): Json {
    const low = minimum ?? exclusiveMinimum;
    const high = maximum ?? exclusiveMaximum;
    const step = multipleOf ?? (whole ? 1 : 0.5);
    const from = low ?? (high === undefined ? -3 : high - 6);
    const to = high ?? from + 6;
    const near = (n: number) =>
      multipleOf === undefined ? n : Math.round(n / multipleOf) * multipleOf;
    const between = near(from + Math.round(((to - from) * this.random.fraction()) / step) * step);
    const choices = [
      0,
      1,
      2,
      4.5,
      from,
      from + step,
      to,
      to - step,
      between,
      ...this.pool.numbers.slice(0, 5),
    ];
    const fits = (n: number) =>
      Number.isFinite(n) &&
      (!whole || Number.isInteger(n)) &&
      (multipleOf === undefined || Number.isInteger(n / multipleOf)) &&
      n >= (minimum ?? -Infinity) &&
      n <= (maximum ?? Infinity) &&
      n > (exclusiveMinimum ?? -Infinity) &&
      n < (exclusiveMaximum ?? Infinity);
    const odd = this.#odd?.number;
    if (odd !== undefined && fits(odd) && this.random.chance(shareOfOdd)) return odd;
    const rare = this.#rareNumber(from, to, multipleOf ?? (whole ? 1 : undefined), fits);
    if (rare !== undefined && fits(rare)) return rare;
    const fitting = choices.filter(fits);
    return fitting.length === 0 ? from : this.random.pick(fitting);
  }

  /** A number that hardly anybody thinks of; `undefined` if it is not the turn of one. `step`: numbers are multiples of it. */
  #rareNumber(
    from: number,
    to: number,
    step: number | undefined,
    fits: (number: number) => boolean,
  ): number | undefined {
    const kind = this.random.fraction();
    if (kind < shareOfConstants) {
      const numbers = this.#constants.numbers.filter(fits);
      const by = step ?? this.random.pick([1, 0.5, 0.01]);
      if (numbers.length === 0) return undefined;
      return this.random.pick(numbers) + this.random.pick([0, 0, 0, by, -by]);
    }
    if (kind < shareOfConstants + shareOfEqual && this.pool.numbers.length > 0)
      return this.random.pick(this.pool.numbers);
    if (kind < 1 - shareOfFine) return undefined;
    const near = this.pool.numbers.length > 0 ? this.random.pick(this.pool.numbers) : from;
    if (step !== undefined) return near + this.random.pick([step, -step]);
    return fineNumber(this.random, from, to, near);
  }
}

/** Texts that have a format, and some that nearly do. */
const formatTexts: Readonly<Record<Format, readonly string[]>> = {
  date: ['2026-11-23', '2024-02-29', '2000-01-01', '2026-02-30'],
  'date-time': [
    '2026-11-23T10:45:00Z',
    '2016-12-31T23:59:60Z',
    '2026-11-23 06:00:00.5+01:00',
    '2026-11-23',
  ],
  uuid: [
    '8c2f1d3e-7a1b-4c5d-9e0f-112233445566',
    '00000000-0000-0000-0000-000000000000',
    '8c2f1d3e',
  ],
  email: ['mate@skerry.example', 'a.b+c@sound.skerry.example', 'mate@skerry'],
  uri: ['https://skerry.example/deck?lane=port', 'urn:skerry:1', 'deck'],
};

/** True if a scalar is of a kind that a type has; bounds are not looked at. */
function isOfKind(value: Json, type: Type, types: TypeTable): boolean {
  return membersOf(type, types).some(
    (one) =>
      one.kind === typeof value ||
      (one.kind === 'null' && value === null) ||
      (one.kind === 'literal' && one.value === value),
  );
}

function fitsLength(text: string, { minLength, maxLength }: StringBounds): boolean {
  const length = [...text].length;
  return length >= (minLength ?? 0) && length <= (maxLength ?? Infinity);
}
