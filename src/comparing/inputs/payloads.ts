import { isObject, type Json } from '../../base/json.js';
import type { Random } from '../../base/random.js';
import { besideBound, boundsIn, type Bound } from '../../model/bounds.js';
import type { Type, TypeTable } from '../../model/types.js';
import { noConstants, type Constants, type Odd } from './odd-values.js';
import type { Parts } from './agreeing-parts.js';
import type { Pool } from './pool.js';
import { ValueDrawing } from './value-drawing.js';

/** A payload that was drawn, with the parts of it that stand in the state. */
export interface Drawn {
  readonly payload: Json;
  readonly fill: Readonly<Record<string, string>>;
}

/** The chance that a payload is spoilt, so that it does not fit. */
const shareOfMisfits = 0.06;
/** The chance that it is a bound that such a payload does not keep; that a payload is spoilt for the sake of a bound that was always kept. */
const shareOfBounds = 0.5;
const shareOfBoundsLeft = 0.08;

/** The chance that a payload that may come as text comes as it is. */
const shareOfValues = 0.3;

/** Draws payloads by their types: boundaries, and what stands in the present state, so that ids exist. */
export class PayloadSource {
  readonly #bounds = new Map<Type, readonly Bound[]>();

  constructor(
    readonly types: TypeTable,
    readonly random: Random,
    readonly odd?: Odd,
    readonly constants: Constants = noConstants,
    /** True if an action has met a payload that does not keep a bound; it has always if not given. */
    readonly hasMet: (name: string, bound: Bound) => boolean = () => true,
  ) {}

  /** A payload, of an action or a task if a name is given: `deck.admit`. `parts`: what it is to have where it fits. */
  draw(type: Type, pool: Pool, name = '', parts?: Parts): Drawn {
    const drawing = new ValueDrawing(this, pool, parts);
    const payload = drawing.value(type, '');
    const all = this.#boundsOf(type);
    const left = all.filter((bound) => !this.hasMet(name, bound));
    const isForBound = left.length > 0 && this.random.chance(shareOfBoundsLeft);
    if (!isForBound && !this.random.chance(shareOfMisfits)) return { payload, fill: drawing.fill };
    const bounds = isForBound ? left : all;
    const isBeside = isForBound || (bounds.length > 0 && this.random.chance(shareOfBounds));
    const beside = isBeside ? besideBound(payload, this.random.pick(bounds)) : undefined;
    return { payload: beside ?? this.#spoil(payload), fill: {} };
  }

  /** The bounds of a payload: it is asked for with each. */
  #boundsOf(type: Type): readonly Bound[] {
    const found = this.#bounds.get(type) ?? boundsIn(type, this.types);
    this.#bounds.set(type, found);
    return found;
  }

  /** A payload in which some values are texts, as form fields give them. */
  drawAsText(type: Type, pool: Pool, name = '', parts?: Parts): Drawn {
    const drawn = this.draw(type, pool, name, parts);
    if (this.random.chance(shareOfValues)) return drawn;
    return { payload: this.#asText(drawn.payload), fill: drawn.fill };
  }

  #asText(value: Json): Json {
    if (Array.isArray(value)) return value.map((item: Json) => this.#asText(item));
    if (isObject(value))
      return Object.fromEntries(
        Object.entries(value).map(([name, part]) => [name, this.#asText(part)]),
      );
    if (typeof value === 'string') return value;
    if (value === null) return this.random.pick(['', ' ', 'null']);
    const plain = JSON.stringify(value);
    return this.random.pick([
      plain,
      plain === '0' ? '-0' : plain,
      ` ${plain} `,
      `${plain}e0`,
      `+${plain}`,
      `${plain}.`,
      `0x${plain}`,
    ]);
  }

  /** A value that fits a type, but for its format and the bounds of its lists. */
  fitting(type: Type, pool: Pool): Json {
    return new ValueDrawing(this, pool).value(type, '');
  }

  /** Something near a fitting payload that mostly does not fit. */
  #spoil(payload: Json): Json {
    if (isObject(payload) && this.random.chance(0.7)) {
      const names = Object.keys(payload);
      const name = names.length === 0 ? '' : this.random.pick(names);
      const kind = this.random.below(3);
      if (kind === 0)
        return Object.fromEntries(Object.entries(payload).filter(([key]) => key !== name));
      if (kind === 1) return { ...payload, surplus: 1 };
      return {
        ...payload,
        [name]: this.#spoil((payload as Record<string, Json>)[name] ?? null),
      };
    }
    const odd: readonly Json[] = [null, true, -1, 0, 1.5, 1e9, '', '12', 'x'.repeat(40), [], {}];
    return this.random.pick(odd);
  }
}
