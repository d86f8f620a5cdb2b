import { expect, test } from '@jest/globals';
import { surveyOf, type Modules } from './marked.js';

const old = `
export interface Car { number: string; plate: string; lane: 'port' | 'centre' }
export class Terminal {
  cars: Car[] = [];
  capacity = 240;
  onHold: string | null = null;
  lanes = { metres: new Map<string, number>() };
  arrive(plate: string, lane: Car['lane']) { this.cars.push({ number: '1', plate, lane }); }
  hold(why: string | null) { this.onHold = why; }
  on(topic: 'cars', listener: () => void) { return () => {}; }
  first() { return this.cars[0]; }
}
`;
const session = `import { Terminal } from './old';
export const terminal = new /*@ call Terminal */Terminal();
export default terminal;
`;

/** Modules in which every use of the old store is marked; nothing else may be found. */
const kinds: Readonly<Record<string, Modules>> = {
  'aliases, and variables that are given the store later': {
    'a.ts': `import { terminal as t } from './session';
const again = t;
let later: typeof /*@ type Terminal */t;
later = again;
export const n = again./*@ read Terminal.cars */cars.length + later!./*@ read Terminal.capacity */capacity;
export const m = (t)./*@ read Terminal.onHold */onHold;`,
  },
  'chains of re-exports': {
    'b1.ts': `export * from './session';\nexport { Terminal as Ferry } from './old';`,
    'b2.ts': `export { terminal as ferry, Ferry } from './b1';\nexport { default } from './session';`,
    'b3.ts': `import ferryAgain, { ferry, Ferry } from './b2';
export const cars = [ferry./*@ read Terminal.cars */cars, ferryAgain./*@ read Terminal.cars */cars];
export const other = new /*@ call Terminal */Ferry();`,
  },
  'taking apart: other names, nested, defaults, rest, in an assignment': {
    'c.ts': `import { terminal } from './session';
import type { Car } from './old';
const { /*@ read Terminal.cars */cars: queue, /*@ read Terminal.capacity */capacity, ...rest } = terminal;
const { lanes: { /*@ read Terminal.lanes.metres */metres } } = terminal;
const [{ /*@ read Car.plate */plate = '' }] = queue as [Car & /*@ type Car */Car];
let held: string | null;
({ /*@ read Terminal.onHold */onHold: held } = terminal);
export const all = [capacity, rest./*@ read Terminal.onHold */onHold, metres, plate, held];
export const plateOf = ({ /*@ read Car.plate */plate: own }: /*@ type Car */Car) => own;`.replace(
      'as [Car & /*@ type Car */Car]',
      'as [/*@ type Car */Car]',
    ),
  },
  'names in texts, and names that are made at run time': {
    'd.ts': `import { terminal } from './session';
const key = 'cars';
export const a = terminal[/*@ read Terminal.cars */key].length + terminal[/*@ read Terminal.capacity */'capacity'];
export const b = (name: 'capacity' | 'onHold') => /*@ unclear */terminal[name];
export const c = (name: string) => (/*@ unclear */terminal as any)[name];
export const d = /*@ read Terminal.onHold */'onHold' in terminal;
export const e = terminal./*@ read Terminal.cars */cars.map((_, i) => terminal./*@ read Terminal.cars */cars[i]!./*@ read Car.plate */plate);`,
  },
  'what is changed, directly and in place': {
    'e.ts': `import { terminal } from './session';
terminal./*@ write Terminal.capacity */capacity = 12;
terminal./*@ write Terminal.capacity */capacity++;
terminal./*@ write Terminal.cars */cars.push({ number: '2', plate: 'SK', lane: 'port' });
terminal./*@ read Terminal.cars */cars[0]!./*@ write Car.plate */plate = 'FE';
terminal.lanes./*@ write Terminal.lanes.metres */metres.set('port', 3);
delete (terminal as Partial<typeof /*@ type Terminal */terminal>)./*@ write Terminal.onHold */onHold;
for (terminal./*@ write Terminal.capacity */capacity of [1, 2]) break;
[terminal./*@ write Terminal.capacity */capacity] = [3];
terminal./*@ read Terminal.cars */cars.slice().sort();`,
  },
  'functions that are given the store: with types, generic, without types, further on': {
    'f1.ts': `import type { Terminal } from './old';
import { terminal } from './session';
import { draw, drawAll } from './f2.js';
const count = (of: /*@ type Terminal */Terminal) => of./*@ read Terminal.cars */cars.length;
const same = <T,>(value: T): T => value;
export const n = count(/*@ whole Terminal */terminal) + same(/*@ whole Terminal */terminal)./*@ read Terminal.capacity */capacity;
draw(/*@ whole Terminal */terminal, 1);
drawAll(terminal./*@ read Terminal.cars */cars);`,
    'f2.js': `export function draw(of, n) { return inner(/*@ whole Terminal */of) + n; }
function inner(store) {
  const { /*@ read Terminal.onHold */onHold } = store;
  const list = store./*@ read Terminal.cars */cars;
  return onHold + list[0]./*@ read Car.plate */plate;
}
export const drawAll = (cars) => cars.map((car) => car./*@ read Car.number */number);`,
  },
  'closures, promises, timers and classes that keep the store': {
    'g.ts': `import { terminal } from './session';
import { Terminal } from './old';
export const later = () => setTimeout(() => terminal./*@ call Terminal.hold */hold('fog'), 10);
export const soon = Promise.resolve(/*@ whole Terminal */terminal).then((t) => t./*@ read Terminal.cars */cars);
export class Desk {
  readonly #ferry = terminal;
  constructor(private readonly other: /*@ type Terminal */Terminal) {}
  free = () => this.other./*@ read Terminal.capacity */capacity - this.#ferry?./*@ read Terminal.cars */cars.length;
}
export class Large extends /*@ read Terminal */Terminal {
  full() { return this./*@ read Terminal.cars */cars.length > this./*@ read Terminal.capacity */capacity; }
}
export const stop = terminal./*@ call Terminal.on */on('cars', () => {});
export const plate = terminal?./*@ call Terminal.first */first()?./*@ read Car.plate */plate;`,
  },
  'types only, namespaces, and default imports': {
    'h.ts': `import type * as store from './old';
import type { Car } from './old';
import * as all from './session';
import terminal from './session';
export type Lane = /*@ type Car */Car[/*@ type Car.lane */'lane'];
export type Label = Pick<store./*@ type Car */Car, /*@ type Car.plate */'plate' | /*@ type Car.number */'number'>;
export const a = all.terminal./*@ read Terminal.cars */cars;
export const b = all.default./*@ read Terminal.capacity */capacity + terminal./*@ read Terminal.capacity */capacity;
export const c = { cars: terminal./*@ read Terminal.cars */cars } satisfies { cars: readonly /*@ type Car */Car[] };`,
  },
  'require and import() at run time': {
    'i.cjs': `const { terminal } = require('./session');
const session = require('./session');
module.exports = () => [terminal./*@ read Terminal.cars */cars, session.terminal./*@ read Terminal.capacity */capacity];`,
    'i.ts': `export async function load() {
  const { terminal } = await import('./session');
  return terminal./*@ read Terminal.cars */cars;
}
declare const require: (name: string) => any;
const lazy = require('./session');
export const n = lazy.terminal./*@ read Terminal.capacity */capacity;
export const then = import('./session').then(({ terminal: t }) => t./*@ read Terminal.onHold */onHold);`,
  },
  'JSX: attributes, spreads, children, and components without types': {
    'j.tsx': `import type { Car } from './old';
import { terminal } from './session';
import { Old } from './j2.jsx';
const Row = ({ car, cars }: { car: /*@ type Car */Car; cars: number }) => <li title={car./*@ read Car.number */number}>{car./*@ read Car.plate */plate}{cars}</li>;
const Free = (props: { capacity: number }) => <b>{props.capacity}</b>;
export const Page = () => (
  <ul onClick={() => terminal./*@ call Terminal.hold */hold(null)}>
    <Free {.../*@ whole Terminal */terminal} />
    {terminal./*@ read Terminal.cars */cars.map((car) => <Row car={car} cars={1} />)}
    <Old terminal={/*@ whole Terminal */terminal} other={1} />
  </ul>
);`,
    'j2.jsx': `export function Old({ terminal, other }) {
  return <i>{terminal./*@ read Terminal.capacity */capacity}{other}</i>;
}`,
  },
  'paths of the compiler options': {
    'tsconfig.json':
      '{ "compilerOptions": { "paths": { "@ferry/*": ["./*"] }, "jsx": "preserve" } }',
    'k.ts': `import { terminal } from '@ferry/session';
export const n = terminal./*@ read Terminal.cars */cars.length;`,
  },
  'stores that nobody can follow': {
    'l.ts': `import { terminal } from './session';
declare function track(value: unknown): void;
declare const registry: Record<string, any>;
track(/*@ whole Terminal *//*@ unclear */terminal);
registry.ferry = /*@ unclear */terminal;
export const any: any = /*@ unclear */terminal;
console.log(terminal./*@ read Terminal.cars */cars);`,
  },
  'templates in decorators, which are not read': {
    'n.ts': `import { terminal } from './session';
declare const Component: (given: object) => (of: unknown) => void;
@Component({ selector: 'a-a', /*@ unclear */template: '{{ terminal.cars.length }}' })
export class A { readonly terminal = terminal; }
@Component({ selector: 'b-b', template: '{{ n }}' })
export class B { readonly n = terminal./*@ read Terminal.cars */cars.length; }`,
  },
  'names that only look like those of the store': {
    'm.ts': `import { terminal } from './session';
class Other { cars = 1; hold() { return this.cars; } }
interface Car { plate: string }
const cars = [{ plate: 'SK', lane: 'port' }] satisfies Car[] | object[];
const capacity = cars.length; // terminal.capacity is another
export const text = 'terminal.cars' + new Other().cars + new Other().hold() + capacity;
export const box: { terminal: { cars: number } } = { terminal: { cars: 2 } };
export const n = box.terminal.cars + terminal./*@ read Terminal.capacity */capacity;`,
  },
  'single-file components of Vue': {
    'Setup.vue': `<script setup lang="ts">
import { computed, ref } from 'vue';
import { terminal } from './session';
const props = defineProps<{ lane: 'port' | 'centre' }>();
const inLane = computed(() => terminal./*@ read Terminal.cars */cars.filter((car) => car./*@ read Car.lane */lane === props.lane));
const chosen = ref(terminal./*@ call Terminal.first */first());
const hold = 'not that of the store';
</script>

<template>
  <div v-for="(car, i) in inLane" :key="car./*@ read Car.number */number" :title="hold">
    {{ i }} {{ car./*@ read Car.plate */plate }} {{ chosen?./*@ read Car.plate */plate }}
    <slot name="x" v-bind="{ cars: terminal./*@ read Terminal.cars */cars }" />
  </div>
  <Row v-slot="{ item }"><b>{{ item.cars }}{{ terminal./*@ read Terminal.capacity */capacity }}</b></Row>
  <button @click="terminal./*@ call Terminal.hold */hold('fog'); chosen = undefined">hold</button>
  <input v-model="terminal./*@ write Terminal.capacity */capacity" />
</template>
`,
    'Options.vue': `<template><p>{{ ferry./*@ read Terminal.capacity */capacity }} {{ first }}</p></template>
<script>
import { defineComponent } from 'vue';
import { terminal } from './session';
export default defineComponent({
  data: () => ({ ferry: /*@ whole Terminal */terminal }),
  computed: { first() { return this.ferry./*@ read Terminal.cars */cars[0]./*@ read Car.plate */plate; } },
});
</script>
`,
  },
  'single-file components of Svelte': {
    'Board.svelte': `<script lang="ts">
  import { terminal } from './session';
  let { lane } = $props();
  const free = $derived(terminal./*@ read Terminal.capacity */capacity);
</script>

{#if terminal./*@ read Terminal.onHold */onHold !== null}<p>{free} {lane}</p>{:else}
  {#each terminal./*@ read Terminal.cars */cars as { /*@ read Car.plate */plate, /*@ read Car.number */number }, i (number)}
    <li title={plate}>{i}</li>
  {/each}
{/if}
<button onclick={() => terminal./*@ call Terminal.hold */hold('fog')}>hold</button>
<input bind:value={terminal./*@ write Terminal.capacity */capacity} />
`,
  },
};

test.each(Object.entries(kinds))(
  'finds every use of the old store and no other: %s',
  async (_kind, own) => {
    const { found, marked } = await surveyOf({ 'old.ts': old, 'session.ts': session, ...own });
    expect(found).toEqual(marked);
  },
);

test('the marked modules have many places of many kinds', () => {
  const texts = Object.values(kinds).flatMap((modules) => Object.values(modules));
  expect(texts.join('').match(/\/\*@ (read|write|call|type|whole) /g)?.length).toBeGreaterThan(100);
});
