import type { Random } from '../src/base/random.js';
import {
  ExpressionSource,
  stateOfRandom,
  typesOfRandom,
  type Locals,
} from './random-expressions.js';
import { more, randomServices, randomTask } from './random-tasks.js';

/** A part of a schema as YAML can be written: JSON. */
export type Part =
  string | number | boolean | null | readonly Part[] | { readonly [key: string]: Part };

/** What an action can be sent, with the names that its expressions then have. */
export interface Payload {
  readonly type: Part;
  readonly locals: Locals;
  /** An expression for it, for who runs the action. */
  readonly make: (source: SchemaSource, locals: Locals) => string;
}

const car: Locals = { car: ['payload'] };
const payloads: readonly Payload[] = [
  { type: 'number', locals: { number: ['payload'] }, make: (s, l) => s.of('number', l) },
  { type: 'string', locals: { text: ['payload'] }, make: (s, l) => s.of('text', l) },
  { type: 'boolean', locals: { boolean: ['payload'] }, make: (s, l) => s.of('boolean', l) },
  { type: 'Car', locals: car, make: (s, l) => s.car(l) },
  {
    type: { list: 'number' },
    locals: { numbers: ['payload'] },
    make: (s, l) => s.of('numbers', l),
  },
  { type: { list: 'Car' }, locals: { cars: ['payload'] }, make: (s, l) => s.of('cars', l) },
  {
    type: { fields: { at: 'number', name: 'string', on: 'boolean' } },
    locals: { number: ['payload.at'], text: ['payload.name'], boolean: ['payload.on'] },
    make: (s, l) =>
      `{ at: ${s.of('number', l)}, name: ${s.of('text', l)}, on: ${s.of('boolean', l)} }`,
  },
];

/** Fields beside those of random expressions: keyed lists, lists within lists, what may be there, what has bounds. */
const moreState = `
few: { type: array, items: number, maxItems: 3, uniqueItems: true, setter: setFew }
share: { type: number, minimum: 0, maximum: 10, default: 5, setter: setShare }
code: { $ref: '#/types/Code', default: ab }
last: { maybe: Entry }
fleet: { list: Car, by: id, setter: setFleet }
best: { maybe: Car }
docks: { list: Dock, by: no }
`;

const moreTypes = `
Sailed: { fields: { kind: { const: sailed }, metres: { type: number, minimum: 0 } } }
Noted: { fields: { kind: { const: noted }, what: string } }
Entry: { oneOf: [Sailed, Noted] }
Dock: { fields: { no: integer, cars: { list: Car, by: id }, marks: { map: number } } }
`;

/** What expressions can name of a store, its functions and its constants. */
const own: Locals = {
  number: [
    'share',
    'twice(n)',
    'tide.value',
    'limits.length',
    "(last !== null && last.kind === 'sailed' ? last.metres : 0)",
  ],
  numbers: ['few', 'limits'],
  text: ['code', "(last !== null && last.kind === 'noted' ? last.what : '')"],
  texts: ['names(cars)'],
  boolean: ['tide.high'],
  cars: ['fleet'],
};

const fields = [
  'n',
  'k',
  'm',
  't',
  'u',
  'b',
  'e',
  'nums',
  'texts',
  'map',
  'cars',
  'fleet',
  'best',
  'docks',
];
const lists = ['nums', 'texts', 'cars', 'fleet', 'docks'] as const;

interface Sendable {
  readonly name: string;
  readonly payload: Payload | undefined;
}

/** Names that generated code might want for something of its own. */
const awkward = (
  'item list next state wanted dropped fleetKey docksKey carsKey mapKey nextN nextFleet tx draft app tools select ' +
  'draw graph hub live change get set entry keep fit refuse accept value key given it isCar isText isNumber ' +
  'initial actions derived graph streams latest after around stores payload refuse missing list map old entry given'
).split(' ');

/** Makes schemas at random: two stores with the same fields that read, run and follow each other. */
export class SchemaSource {
  readonly #expressions: ExpressionSource;
  readonly #awkward = [...awkward];
  readonly #tasks: Sendable[] = [];
  #names = 0;

  constructor(
    readonly random: Random,
    /** Whether the stores have tasks; false if not given. */
    readonly hasTasks = false,
    /** Whether the stores have a history, and fields that are saved; false if not given. */
    readonly keeps = false,
  ) {
    this.#expressions = new ExpressionSource(random);
  }

  /** The lines of a schema. Each derived value, action and reaction is a line of its own, so that one can be left out. */
  lines(): string[] {
    const sent: Sendable[] = [];
    return [
      'leeshore: 1',
      'types:',
      ...indented(`${typesOfRandom}${moreTypes}`, 2),
      'functions:',
      '  twice: { given: { x: number }, value: "x * 2" }',
      '  names: { given: { list: { list: Car } }, value: "list.map(c => c.id)" }',
      ...(this.hasTasks ? ['services:', ...indented(randomServices, 2)] : []),
      'stores:',
      ...['deck', 'quay'].flatMap((store) => this.#store(store, sent)),
      ...this.#single(sent),
    ];
  }

  of(kind: Parameters<ExpressionSource['of']>[0], locals: Locals): string {
    return this.#expressions.of(kind, 2, locals);
  }

  car(locals: Locals): string {
    const note = this.random.chance(0.4) ? `, note: ${this.of('text', locals)}` : '';
    const cars = locals.car ?? [];
    if (cars.length > 0 && this.random.chance(0.4))
      return `{ ...${this.random.pick(cars)}, len: ${this.of('number', locals)}${note} }`;
    return `{ id: ${this.of('text', locals)}, len: ${this.of('number', locals)}, lane: 'port', on: ${this.of('boolean', locals)}${note} }`;
  }

  #fresh(prefix: string): string {
    const [name] = this.random.chance(0.2)
      ? this.#awkward.splice(this.random.below(this.#awkward.length), 1)
      : [];
    return name ?? `${prefix}${(this.#names += 1)}`;
  }

  /** A store that is one value. */
  #single(sent: readonly Sendable[]): string[] {
    const known: Locals = {
      number: ['value', 'deck.n'],
      numbers: ['quay.nums'],
      cars: ['deck.fleet'],
    };
    const { name, payload } = this.random.pick(sent);
    const value = this.#outside(more(known, payload?.locals ?? {}));
    return [
      '  tide:',
      '    value: { type: number, default: 0 }',
      '    derived:',
      '      high: "value > deck.n"',
      '    actions:',
      '      rise: { payload: number, steps: [{ set: { value: "value + payload" } }] }',
      '      turn: [{ set: { value: "value * -1" } }]',
      '    reacts:',
      `      - ${JSON.stringify({ to: name, steps: [{ set: { value } }] })}`,
    ];
  }

  /** A number of what is known: nothing of the fields of random expressions. */
  #outside({ number = [], numbers = [] }: Locals): string {
    return `${this.random.pick(number)} + sum(${this.random.pick(numbers)})`;
  }

  #store(store: string, sent: Sendable[]): string[] {
    const other = store === 'deck' ? 'quay' : 'deck';
    let known = more(own, {
      number: [`${other}.n`],
      text: [`${other}.t`],
      boolean: [`${other}.b`],
      cars: [`${other}.cars`, `${other}.fleet`],
    });
    const ownTasks = this.hasTasks ? this.#ownTasks(store) : [];
    const readings = ownTasks.map(({ bare }) => bare);
    known = more(known, {
      boolean: readings.map((name) => `${name}.running`),
      number: readings.map((name) => `${name}.runs.length`),
    });
    const derived = Array.from({ length: 6 }, () => {
      const kind = this.random.pick([
        'number',
        'text',
        'boolean',
        'numbers',
        'texts',
        'cars',
      ] as const);
      const name = this.#fresh('d');
      if (this.random.chance(0.3)) {
        const x = this.#fresh('x');
        const value = this.of(kind, more(known, { number: [x], text: [`\`\${${x}}\``] }));
        known = more(known, { [kind]: [`${name}(${this.of('number', {})})`] });
        return `      ${name}: ${JSON.stringify({ given: { [x]: 'number' }, value })}`;
      }
      const value = this.of(kind, known);
      known = more(known, { [kind]: [name] });
      return `      ${name}: ${JSON.stringify(value)}`;
    });
    const actions = Array.from({ length: 8 }, () => {
      const payload = this.random.chance(0.8) ? this.random.pick(payloads) : undefined;
      const name = this.#fresh('a');
      const written = this.#action(payload, known, sent);
      sent.push({ name: `${store}.${name}`, payload });
      return `      ${name}: ${JSON.stringify(written)}`;
    });
    const before = sent.filter(({ name }) => !name.startsWith(`${store}.`));
    const reactions =
      before.length === 0
        ? []
        : Array.from({ length: 2 }, () => {
            const { name, payload } = this.random.pick(before);
            const locals = more(known, payload?.locals ?? {});
            return `      - ${JSON.stringify({ to: name, steps: this.#steps(locals, [], 1) })}`;
          });
    const tasks = ownTasks.map(({ bare, payload }) => {
      const parts = {
        random: this.random,
        of: this.of.bind(this),
        steps: (locals: Locals) => this.#steps(locals, [], 1),
      };
      return `      ${bare}: ${JSON.stringify(randomTask(parts, known, payload))}`;
    });
    return [
      `  ${store}:`,
      '    constants: { limits: [1, 2.5] }',
      '    state:',
      ...indented(`${stateOfRandom}${moreState}`, 6),
      '    derived:',
      ...derived,
      '    actions:',
      ...actions,
      ...(tasks.length === 0 ? [] : ['    tasks:', ...tasks]),
      ...(reactions.length === 0 ? [] : ['    reacts:', ...reactions]),
      ...(this.keeps ? this.#kept(store, sent) : []),
    ];
  }

  /** What can be undone in a store, and what is saved of it; what comes after it can run its undo. */
  #kept(store: string, sent: Sendable[]): string[] {
    const some = () => [...new Set([this.random.pick(fields), this.random.pick(lists), 'fleet'])];
    const own = sent.filter(({ name }) => name.startsWith(`${store}.`));
    const [, together = ''] = this.random.pick(own).name.split('.');
    sent.push({ name: `${store}.undo`, payload: undefined });
    sent.push({ name: `${store}.redo`, payload: undefined });
    return [
      `    history: ${JSON.stringify({ of: some(), limit: 1 + this.random.below(4), together: [together] })}`,
      `    saved: ${JSON.stringify({ fields: some() })}`,
    ];
  }

  /** The names of the tasks of a store: actions can start and cancel them before they are written. */
  #ownTasks(store: string): readonly (Sendable & { readonly bare: string })[] {
    const own = Array.from({ length: 4 }, () => {
      const bare = this.#fresh('w');
      const payload = this.random.chance(0.7) ? this.random.pick(payloads) : undefined;
      return { name: `${store}.${bare}`, bare, payload };
    });
    this.#tasks.push(...own);
    return own;
  }

  /** A step that starts a task, or cancels its runs. */
  #forTask(locals: Locals): Part {
    const { name, payload } = this.random.pick(this.#tasks);
    if (this.random.chance(0.4)) return { cancel: name };
    return payload === undefined
      ? { start: name }
      : { start: name, payload: payload.make(this, locals) };
  }

  #action(payload: Payload | undefined, known: Locals, sent: readonly Sendable[]): Part {
    let locals = more(known, payload?.locals ?? {});
    const requires: Part[] = [];
    if (this.random.chance(0.3))
      requires.push({ that: this.of('boolean', locals), otherwise: 'No.' });
    if (this.random.chance(0.2)) {
      const [found, each] = [this.#fresh('c'), this.#fresh('v')];
      const test = this.of('boolean', more(locals, { car: [each] }));
      const value = `${this.of('cars', locals)}.find(${each} => ${test})`;
      requires.push({ let: { [found]: value }, otherwise: 'None.' });
      locals = more(locals, { car: [found] });
    }
    const bound: Record<string, Part> = {};
    if (this.random.chance(0.4)) {
      const [id, number] = [this.#fresh('l'), this.#fresh('l')];
      bound[id] = this.random.chance(0.5) ? 'newId()' : this.of('text', locals);
      bound[number] = this.random.chance(0.2) ? 'now()' : this.of('number', locals);
      locals = more(locals, { text: [id], number: [number] });
    }
    return {
      ...(payload === undefined ? {} : { payload: payload.type }),
      ...(payload !== undefined && this.random.chance(0.2) ? { accepts: 'text' } : {}),
      ...(requires.length === 0 ? {} : { requires }),
      ...(Object.keys(bound).length === 0 ? {} : { let: bound }),
      steps: this.#steps(locals, sent, 2),
    };
  }

  #steps(locals: Locals, sent: readonly Sendable[], depth: number): Part[] {
    let here = locals;
    return Array.from({ length: 1 + this.random.below(3) }, (): Part => {
      if (this.random.chance(0.1)) {
        const name = this.#fresh('s');
        const value = this.of('number', here);
        here = more(here, { number: [name] });
        return { let: { [name]: value } };
      }
      if (this.#tasks.length > 0 && this.random.chance(0.15)) return this.#forTask(here);
      return this.#step(here, sent, depth);
    });
  }

  #step(locals: Locals, sent: readonly Sendable[], depth: number): Part {
    const of = (kind: Parameters<ExpressionSource['of']>[0]) => this.of(kind, locals);
    const none = this.random.chance(0.3) ? { none: 'Nothing.' } : {};
    const keyed = () =>
      this.random.pick(['cars', 'fleet', `docks[Math.trunc(${of('number')})].cars`]);
    const one = () =>
      this.random.pick<() => Record<string, Part>>([
        () => ({ n: of('number') }),
        () => ({ k: `Math.trunc(${of('number')})` }),
        () => ({ m: this.random.chance(0.2) ? null : of('number') }),
        () => ({ t: of('text') }),
        () => ({ u: this.random.chance(0.2) ? null : of('text') }),
        () => ({ b: of('boolean') }),
        () => ({ e: `${of('boolean')} ? 'port' : 'centre'` }),
        () => ({ nums: of('numbers') }),
        () => ({ texts: of('texts') }),
        () => ({ cars: of('cars') }),
        () => ({ fleet: of('cars') }),
        () => ({ few: of('numbers') }),
        () => ({ share: of('number') }),
        () => ({ code: of('text') }),
        () => ({ last: `{ kind: 'sailed', metres: ${of('number')} }` }),
        () => ({ last: `${of('boolean')} ? { kind: 'noted', what: ${of('text')} } : null` }),
        () => ({ [`few[${of('number')}]`]: of('number') }),
        () => ({ best: `${of('cars')}[0] ?? null` }),
        () => ({ best: this.car(locals) }),
        () => ({ [`nums[${of('number')}]`]: of('number') }),
        () => ({ [`map[${of('text')}]`]: of('number') }),
        () => ({ [`cars[${of('number')}].len`]: of('number') }),
        () => ({ [`fleet[${of('text')}].note`]: of('text') }),
        () => ({ [`fleet[${of('text')}].id`]: of('text') }),
        () => ({ [`fleet[${of('text')}]`]: this.car(locals) }),
        () => ({ [`docks[Math.trunc(${of('number')})].marks[${of('text')}]`]: of('number') }),
        () => ({ [`docks[Math.trunc(${of('number')})].cars[${of('text')}].on`]: of('boolean') }),
      ])();
    const added = () =>
      this.random.pick<() => Part>([
        () => ({ to: 'nums', ...this.#several('number', 'numbers', locals) }),
        () => ({ to: 'texts', ...this.#several('text', 'texts', locals) }),
        () => ({ to: 'few', ...this.#several('number', 'numbers', locals) }),
        () => ({ to: keyed(), value: this.car(locals) }),
        () => ({ to: keyed(), values: of('cars') }),
        () => ({ to: 'docks', value: `{ no: Math.trunc(${of('number')}), cars: [], marks: {} }` }),
      ])() as Record<string, Part>;
    return this.random.pick<() => Part>([
      () => ({ set: one(), ...none }),
      () => ({ set: { ...one(), ...one() }, ...none }),
      () => ({ [this.random.pick(['append', 'prepend'])]: added(), ...none }),
      () => ({ insert: { ...added(), at: `Math.trunc(${of('number')})` } }),
      () => ({ put: { in: 'map', key: of('text'), value: of('number') } }),
      () => ({
        put: {
          in: this.random.pick(['fleet', `docks[Math.trunc(${of('number')})].cars`]),
          value: this.car(locals),
        },
      }),
      () => ({
        put: {
          in: 'docks',
          value: `{ no: Math.trunc(${of('number')}), cars: ${of('cars')}, marks: {} }`,
        },
      }),
      () => {
        const each = this.#fresh('v');
        const within = more(locals, { car: [each] });
        const set: Record<string, Part> = { len: this.of('number', within) };
        if (this.random.chance(0.4)) set.note = this.of('text', within);
        if (this.random.chance(0.2)) set.id = this.of('text', within);
        const where = this.of('boolean', within);
        return { update: { in: keyed(), each, where, set } };
      },
      () => ({ update: { in: 'fleet', key: of('text'), set: { on: of('boolean') }, ...none } }),
      () => {
        const each = this.#fresh('v');
        const where = this.of('boolean', more(locals, { car: [each] }));
        return { remove: { from: keyed(), each, where } };
      },
      () => ({ remove: { from: 'fleet', key: of('text'), ...none } }),
      () => ({ drop: { from: 'map', key: of('text'), ...none } }),
      () => ({ drop: { from: `fleet[${of('text')}]`, key: 'note', ...none } }),
      () => ({
        toggle: this.random.pick<Part>([
          'b',
          { in: 'texts', value: of('text') },
          { in: this.random.pick(['nums', 'few']), value: of('number') },
        ]),
      }),
      () => ({ move: { in: 'fleet', key: of('text'), to: `Math.trunc(${of('number')})` } }),
      () => ({
        move: { in: this.random.pick(['nums', 'cars']), at: of('number'), to: of('number') },
      }),
      () => {
        if (depth === 0) return { toggle: 'b' };
        const then = this.#steps(locals, sent, depth - 1);
        const other = this.random.chance(0.5) ? { else: this.#steps(locals, sent, depth - 1) } : {};
        return { when: of('boolean'), then, ...other };
      },
      () => ({
        reset: this.random.chance(0.5)
          ? [this.random.pick(fields), this.random.pick(lists)]
          : 'all',
      }),
      () => ({ reset: { stores: this.random.chance(0.5) ? 'all' : ['quay', 'tide'] } }),
      () => {
        if (sent.length === 0) return { toggle: 'b' };
        const { name, payload } = this.random.pick(sent);
        return payload === undefined
          ? { run: name }
          : { run: name, payload: payload.make(this, locals) };
      },
    ])();
  }

  #several(one: 'number' | 'text', all: 'numbers' | 'texts', locals: Locals): Record<string, Part> {
    return this.random.chance(0.5)
      ? { value: this.of(one, locals) }
      : { values: this.of(all, locals) };
  }
}

function indented(text: string, by: number): string[] {
  return text
    .trim()
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => ' '.repeat(by) + line);
}
