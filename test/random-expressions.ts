import { Random } from '../src/base/random.js';

/** The kinds of values that random expressions have. */
type Kind = 'number' | 'text' | 'boolean' | 'numbers' | 'texts' | 'cars';

/** Names that are bound where an expression stands, by kind. */
export type Locals = Readonly<Partial<Record<Kind | 'car', readonly string[]>>>;

/** The fields that random expressions read, as the `state` of a schema. */
export const stateOfRandom = `
n: { type: number, default: 1, setter: setN }
k: { type: integer, default: 2, setter: setK }
m: { type: [number, 'null'], default: null, setter: setM }
t: { type: string, default: pier, setter: setT }
u: { type: [string, 'null'], default: null, setter: setU }
b: { type: boolean, default: true, setter: setB }
e: { enum: [port, centre, starboard], default: port, setter: setE }
nums: { type: array, items: number, setter: setNums }
texts: { type: array, items: string, setter: setTexts }
map: { map: number, setter: setMap }
cars: { list: Car, setter: setCars }
`;

export const typesOfRandom = `
Code: { type: string, minLength: 2, maxLength: 4 }
Car:
  fields: { id: string, len: number, lane: { enum: [port, centre, starboard] }, note: string, on: boolean }
  optional: [note]
`;

/** Makes well-typed expressions at random. */
export class ExpressionSource {
  #names = 0;

  constructor(readonly random: Random) {}

  /** An expression of some kind. */
  any(depth: number): string {
    const kind = this.random.pick<Kind>(['number', 'text', 'boolean', 'numbers', 'texts', 'cars']);
    if (this.random.chance(0.1)) {
      return `{ a: ${this.of('number', depth, {})}, 'b c': [${this.of('text', depth, {})}], ...{ d: ${this.of('boolean', depth, {})} } }`;
    }
    return this.of(kind, depth, {});
  }

  of(kind: Kind, depth: number, locals: Locals): string {
    const own = locals[kind] ?? [];
    if (own.length > 0 && this.random.chance(0.25)) return this.random.pick(own);
    const leaf = depth <= 0 || this.random.chance(0.15);
    const choices: readonly (string | (() => string))[] = leaf
      ? this.#leaves(kind, locals)
      : [...this.#branches(kind, depth - 1, locals), ...this.#common(kind, depth - 1, locals)];
    const chosen = this.random.pick(choices);
    return typeof chosen === 'string' ? chosen : chosen();
  }

  #fresh(): string {
    return `v${(this.#names += 1)}`;
  }

  /** An arrow over items of a list. */
  #arrow(item: Kind | 'car', result: Kind, depth: number, locals: Locals): string {
    const name = this.#fresh();
    return `${name} => ${this.of(result, depth, { ...locals, [item]: [...(locals[item] ?? []), name] })}`;
  }

  #leaves(kind: Kind, locals: Locals): readonly string[] {
    const cars = locals.car ?? [];
    switch (kind) {
      case 'number':
        return [
          'n',
          'k',
          '0',
          '1',
          '2.5',
          '-3',
          'nums.length',
          't.length',
          ...cars.map((car) => `${car}.len`),
        ];
      case 'text':
        return [
          't',
          'e',
          "'a'",
          "''",
          "'b`${c}'",
          "'\\u00e9\\ud83d\\udea2'",
          ...cars.flatMap((car) => [`${car}.id`, `${car}.lane`]),
        ];
      case 'boolean':
        return [
          'b',
          'true',
          'false',
          '(u === null)',
          '(m !== null)',
          ...cars.map((car) => `${car}.on`),
        ];
      case 'numbers':
        return ['nums', '[1, n]', '[...nums, k]', 'Object.values(map)'];
      case 'texts':
        return ['texts', '[t]', "t.split('')", 'Object.keys(map)'];
      case 'cars':
        return ['cars'];
    }
  }

  #common(kind: Kind, depth: number, locals: Locals): readonly (() => string)[] {
    const of = (wanted: Kind) => this.of(wanted, depth, locals);
    return [() => `(${of('boolean')} ? ${of(kind)} : ${of(kind)})`];
  }

  #branches(kind: Kind, depth: number, locals: Locals): readonly (() => string)[] {
    const of = (wanted: Kind) => this.of(wanted, depth, locals);
    const list = (item: Kind | 'car', method: string, result: Kind) => () => {
      const source = item === 'car' ? of('cars') : item === 'number' ? of('numbers') : of('texts');
      return `${source}.${method}(${this.#arrow(item, result, depth, locals)})`;
    };
    const cars = locals.car ?? [];
    switch (kind) {
      case 'number':
        return [
          () => `(${of('number')} ${this.random.pick(['+', '-', '*', '/', '%'])} ${of('number')})`,
          () => `((-(${of('number')})) ** 2)`,
          () => `(m ?? ${of('number')})`,
          () => `(m === null ? ${of('number')} : m + 1)`,
          () => `(map[${of('text')}] ?? ${of('number')})`,
          () => `(${of('numbers')}[${of('number')}] ?? ${of('number')})`,
          () => `(${of('numbers')}.at(${of('number')}) ?? 0)`,
          () => `Math.${this.random.pick(['max', 'min'])}(${of('number')}, ${of('number')})`,
          () =>
            `Math.${this.random.pick(['abs', 'floor', 'ceil', 'round', 'trunc', 'sign'])}(${of('number')})`,
          () => `Number(${of('text')})`,
          () => `${of('text')}.indexOf(${of('text')})`,
          () => `${of('numbers')}.indexOf(${of('number')})`,
          () => `sum(${of('cars')}, ${this.#arrow('car', 'number', depth, locals)})`,
          () => `sum(${of('numbers')})`,
          () => {
            const [total, item] = [this.#fresh(), this.#fresh()];
            const inner = { ...locals, number: [...(locals.number ?? []), total, item] };
            return `${of('numbers')}.reduce((${total}, ${item}) => ${this.of('number', depth, inner)} + 0, 0)`;
          },
          () => `Math.max(...${of('numbers')}, ${of('number')})`,
          () => `Number.parseFloat(${of('text')})`,
          () => `(${of('text')}.codePointAt(0) ?? 0)`,
          () => `${of('numbers')}.lastIndexOf(${of('number')})`,
          () => {
            const [key, value] = [this.#fresh(), this.#fresh()];
            const inner = { ...locals, text: [...(locals.text ?? []), key], number: [value] };
            return `sum(Object.entries(map), ([${key}, ${value}]) => ${this.of('number', depth, inner)})`;
          },
          () => `${of('cars')}.findIndex(${this.#arrow('car', 'boolean', depth, locals)})`,
          () =>
            `(${of('cars')}.find(${this.#arrow('car', 'boolean', depth, locals)})?.len ?? ${of('number')})`,
        ];
      case 'text':
        return [
          () => `(${of('text')} + ${of('text')})`,
          () => `\`\${${of('number')}} \${${of('text')}}\``,
          () => `(u ?? ${of('text')})`,
          () => `(u !== null && ${of('boolean')} ? u.trim() : ${of('text')})`,
          () =>
            `${of('text')}.${this.random.pick(['trim()', 'toUpperCase()', 'toLowerCase()', 'slice(1)', 'slice(-2, 3)', "padStart(5, '*')", "replaceAll('e', 'ee')", 'charAt(0)'])}`,
          () => `(${of('text')}[${of('number')}] ?? 'none')`,
          () => `${of('texts')}.join(${of('text')})`,
          () => `${this.random.pick(['isoTime', 'isoDay'])}(${of('number')})`,
          () => `${this.random.pick(['isoTime', 'isoDay'])}(${of('number')} * 1e12)`,
          () =>
            `${of('text')}.${this.random.pick(['repeat(2)', 'substring(1, 3)', "replace('e', 'x')"])}`,
          () => `String(${of(this.random.pick<Kind>(['number', 'boolean', 'text']))})`,
          () => `(cars[0]?.note ?? ${of('text')})`,
          ...cars.map((car) => () => `(${car}.note ?? ${of('text')})`),
          ...cars.map(
            (car) => () =>
              `(${car}.note !== undefined ? ${car}.note.toUpperCase() : ${of('text')})`,
          ),
          () => `(${of('cars')}.at(-1)?.note?.slice(1).trim() ?? 'no note')`,
        ];
      case 'boolean':
        return [
          () =>
            `(${of('number')} ${this.random.pick(['<', '<=', '>', '>=', '===', '!=='])} ${of('number')})`,
          () =>
            `(${of('text')} ${this.random.pick(['<', '<=', '>', '>=', '===', '!=='])} ${of('text')})`.replace(
              /^\('([^']*)' === '([^']*)'\)$/,
              "(t === '$1')",
            ),
          () => `(${of('boolean')} && ${of('boolean')})`,
          () => `(${of('boolean')} || ${of('boolean')})`,
          () => `!${of('boolean')}`,
          () => `(m !== null && m > ${of('number')})`,
          () => `(u === null || u.includes(${of('text')}))`,
          () => `${of('numbers')}.includes(${of('number')})`,
          () =>
            `${of('text')}.${this.random.pick(['includes', 'startsWith', 'endsWith'])}(${of('text')})`,
          () => `same(${of('numbers')}, ${of('numbers')})`,
          list('car', this.random.pick(['some', 'every']), 'boolean'),
          list('number', this.random.pick(['some', 'every']), 'boolean'),
          () => `Number.isInteger(${of('number')})`,
          () =>
            `fits(${of(this.random.pick<Kind>(['text', 'number', 'texts', 'numbers']))}, 'Code')`,
          () => `fits(${of('cars')}[0], 'Car')`,
          () => {
            const [id, on] = [this.#fresh(), this.#fresh()];
            const inner = {
              ...locals,
              text: [...(locals.text ?? []), id],
              boolean: [...(locals.boolean ?? []), on],
            };
            return `${of('cars')}.some(({ id: ${id}, on: ${on} }) => ${this.of('boolean', depth, inner)})`;
          },
        ];
      case 'numbers':
        return [
          list('car', 'map', 'number'),
          list('number', 'map', 'number'),
          list('number', 'filter', 'boolean'),
          () => `[...${of('numbers')}, ${of('number')}]`,
          () => `${of('numbers')}.slice(${of('number')}, 4)`,
          () => `${of('numbers')}.concat(${of('numbers')})`,
          () => `${of('numbers')}.toReversed()`,
          () => `[...${of('cars')}.keys()]`,
          () => `[${of('numbers')}, ${of('numbers')}].flat()`,
          () => `${of('numbers')}.concat(...[${of('numbers')}, ${of('numbers')}])`,
          () => `sortBy(${of('numbers')}, ${this.#arrow('number', 'number', depth, locals)})`,
          () => `${of('numbers')}.filter(w => Number.isFinite(w)).toSorted((x, y) => x - y)`,
          () => `${of('cars')}.flatMap(${this.#arrow('car', 'numbers', depth - 1, locals)})`,
        ];
      case 'texts':
        return [
          list('car', 'map', 'text'),
          list('text', 'filter', 'boolean'),
          () => `${of('texts')}.toSorted()`,
          () => `[${of('text')}, ...${of('texts')}]`,
          () => `[...${of('texts')}.entries()].map(([at, one]) => \`\${at} \${one}\`)`,
          () => `Object.keys(groupBy(${of('cars')}, ${this.#arrow('car', 'text', depth, locals)}))`,
          () =>
            `Object.values(toMap(${of('cars')}, ${this.#arrow('car', 'text', depth, locals)}, ${this.#arrow('car', 'text', depth, locals)}))`,
          () =>
            `sortBy(${of('texts')}, ${this.#arrow('text', this.random.pick<Kind>(['text', 'number']), depth, locals)})`,
        ];
      case 'cars':
        return [
          list('car', 'filter', 'boolean'),
          () => `${of('cars')}.slice(${this.random.pick(['1', '0, 2', '-1'])})`,
          () => `[...${of('cars')}, ...cars]`,
          () => `${of('cars')}.map(car => ({ ...car, len: car.len + 1, on: !car.on }))`,
          () => `${of('cars')}.toReversed()`,
          () =>
            `sortBy(${of('cars')}, ${this.#arrow('car', 'text', depth, locals)}, ${this.#arrow('car', 'number', depth, locals)})`,
          () =>
            `(groupBy(${of('cars')}, ${this.#arrow('car', 'text', depth, locals)})[${of('text')}] ?? ${of('cars')})`,
        ];
    }
  }
}
