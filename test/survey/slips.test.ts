import { beforeAll, describe, expect, test } from '@jest/globals';
import { generateStyle } from '../../src/jobs/generate.js';
import { modelOf, readRuntime } from '../helpers.js';
import { surveyOf, type Modules } from './marked.js';

const schema = `leeshore: 1
stores:
  deck:
    state:
      queue: { list: string }
      capacityM: { type: number, default: 240 }
    derived:
      first: "queue.at(0) ?? null"
    actions:
      admit:
        payload: { fields: { plate: string, lengthM: number } }
        steps: [append: { to: queue, value: payload.plate }]
      board: { payload: string, steps: [set: { queue: "queue.filter(q => q !== payload)" }] }
      clear: { steps: [reset: all] }
  berth:
    value: { type: integer, default: 0 }
    actions: { moor: { payload: integer, steps: [set: { value: payload }] } }
`;
const stores: Record<string, Modules> = {};
const styles = ['reducer', 'atom', 'proxy', 'observable'] as const;

beforeAll(async () => {
  const application = await modelOf(schema);
  for (const style of styles) {
    const files = await generateStyle(application, style, {
      version: '0.1.0',
      schema: 'deck.stores.yaml',
      readRuntime,
      output: { readers: ['react'] },
    });
    stores[style] = Object.fromEntries(files.map(({ path, text }) => [`stores/${path}`, text]));
  }
});

const old = { 'old.ts': 'export class Terminal { cars = 1 }' };
const options = { newIndex: 'stores/index.ts' };

/** A survey of modules beside the new stores, with the marks in them. */
async function beside(style: string, modules: Modules) {
  const all = { ...old, ...stores[style], ...modules };
  const { survey, found, marked } = await surveyOf(all, options);
  return { survey, found, marked };
}

const atOnce: Readonly<Record<string, string>> = {
  atom: 'stores.deck./*@ copied-out */queue.get()',
  proxy: 'stores.deck./*@ copied-out */queue',
  observable: 'stores.deck./*@ copied-out */queue.latest',
};
const reading: Readonly<Record<string, string>> = {
  atom: '({ deck }) => deck.queue.get()',
  proxy: '({ deck }) => deck.queue',
  observable: '({ deck }) => deck.queue.latest',
};

const unmarked = (style: string) => (atOnce[style] ?? '').replace('/*@ copied-out */', '');

describe.each(['atom', 'proxy', 'observable'])('slips at %s stores', (style) => {
  test('names that are not there, with the nearest', async () => {
    const { survey, found, marked } = await beside(style, {
      'a.js': `import { createStores } from './stores/index.js';
export const { stores } = createStores();
stores.deck./*@ unknown-name */bord('SK 104');
const { /*@ unknown-name */quue } = stores.deck;
const { deck } = stores;
deck./*@ unknown-name */clearAll();
deck.clear();
export default quue;`,
    });
    expect(found).toEqual(marked);
    expect(survey.slips.map(({ hint }) => hint)).toEqual([
      "Did you mean 'board'?",
      "Did you mean 'queue'?",
      expect.stringMatching(/^There are: .*queue, capacityM/),
    ]);
    expect(survey.moved).toBe(1);
  });

  test('payloads of the wrong shape, in JavaScript', async () => {
    const { survey, found, marked } = await beside(style, {
      'a.js': `import { createStores } from './stores/index.js';
const { stores } = createStores();
const metres = document.querySelector('input').value;
stores.deck.admit(/*@ wrong-payload */{ plate: 'SK 104', metres: 4 });
stores.deck.admit(/*@ wrong-payload */{ plate: 'SK 104', lengthM: metres });
stores.deck.admit({ plate: 'SK 104', lengthM: Number(metres) });
stores.deck.board(/*@ wrong-payload */7);
/*@ wrong-payload */stores.deck.board();
stores.deck.clear(/*@ wrong-payload */1);
stores.berth.moor(2);`,
    });
    expect(found).toEqual(marked);
    expect(survey.slips[2]?.message).toBe("'deck.board' is given number.");
    expect(survey.slips[2]?.hint).toBe('It takes string.');
  });

  test('values that are copied out, and those that are followed', async () => {
    const { found, marked } = await beside(style, {
      'a.tsx': `import { useReading } from './stores/react.js';
import { createStores } from './stores/index.js';
const { stores } = createStores();
export const queue = ${atOnce[style] ?? ''};
export function Deck() {
  const copied = ${atOnce[style] ?? ''};
  const followed = useReading(${reading[style] ?? ''});
  const onClick = () => { const now = ${unmarked(style)}; alert(now.length); };
  return <b onClick={onClick}>{copied.length}{followed.length}</b>;
}
export class Board { readonly queue = ${atOnce[style] ?? ''}; }
export const later = () => { const now = ${unmarked(style)}; return now; };`,
    });
    expect(found).toEqual(marked);
  });
});

test('fields of live stores that are taken apart are copies', async () => {
  const { found, marked } = await beside('proxy', {
    'a.tsx': `import { createStores } from './stores/index.js';
const { stores } = createStores();
export const { /*@ copied-out */queue, clear } = stores.deck;
export function Deck() {
  const { /*@ copied-out */first: next, board } = stores.deck;
  return <b onClick={() => { const { queue: now } = stores.deck; board(now[0] ?? ''); }}>{next}</b>;
}`,
  });
  expect(found).toEqual(marked);
});

test('state that is changed outside of an action', async () => {
  const { found, marked } = await beside('proxy', {
    'a.js': `import { createStores } from './stores/index.js';
const { stores } = createStores();
stores.deck./*@ changed-outside */capacityM = 12;
stores.deck./*@ changed-outside */queue.push('SK 104');
stores.deck./*@ changed-outside */queue.sort();
export const sorted = [...stores.deck.queue].sort();
export const n = stores.deck.capacityM + 1;`,
  });
  expect(found).toEqual(marked);
});

test('watchers that nobody can stop', async () => {
  const { found, marked } = await beside('atom', {
    'a.tsx': `import { useEffect } from 'react';
import { createStores } from './stores/index.js';
const { stores } = createStores();
stores.deck.queue.watch(() => {});
export function Deck() {
  /*@ never-stopped */stores.deck.queue.watch(() => {});
  useEffect(() => stores.deck.queue.watch(() => {}));
  useEffect(() => { /*@ never-stopped */stores.deck.queue.subscribe(() => {}); });
  return null;
}
export class Board {
  constructor() { /*@ never-stopped */stores.deck.first.watch(() => {}); }
}`,
    'B.vue': `<script setup lang="ts">
import { createStores } from './stores/index.js';
const { stores } = createStores();
/*@ never-stopped */stores.deck.queue.watch(() => {});
</script>
<template><p /></template>`,
  });
  expect(found).toEqual(marked);
});

test('reducer stores: types of actions in texts, wrong payloads, and states that are kept', async () => {
  const { survey, found, marked } = await beside('reducer', {
    'a.js': `import { createStores, deckActions } from './stores/index.js';
const store = createStores();
store.dispatch({ type: /*@ unknown-name */'deck.bord', payload: 'SK' });
store.dispatch({ type: 'deck.board', payload: 'SK' });
store.dispatch(deckActions.admit(/*@ wrong-payload */{ plate: 'SK' }));
store.dispatch(deckActions./*@ unknown-name */clearr());
log({ type: 'deck.nothing' });
const state = store.snapshot();
export const kept = state.deck./*@ copied-out */queue;
export const now = () => store.snapshot().deck.queue.length + store.derived.deck.first(store.snapshot()).length;
export const quue = () => store.snapshot().deck./*@ unknown-name */quue;`,
  });
  expect(found).toEqual(marked);
  expect(survey.slips[0]?.hint).toBe("Did you mean 'deck.board'?");
});

test('what to write instead follows the style of the new stores', async () => {
  const modules = {
    'old.ts': `export interface Car { number: string }
export class Terminal { cars: Car[] = []; first() { return this.cars[0]; } berth = 0;
  arrive(plate: string, metres: number) {} drive(number: string) {} leave() {} }
export const terminal = new Terminal();`,
    'participant.ts': `export default { name: 'old', names: {
  'Terminal.cars': 'deck.queue', 'Terminal.cars[].number': 'deck.queue[].id', 'Terminal.first': 'deck.first', 'Terminal.berth': 'berth',
  'Terminal.arrive': { is: 'deck.admit', arguments: ['plate', 'lengthM'] }, 'Terminal.drive': 'deck.board', 'Terminal.leave': 'deck.boardd', 'Terminal.arive': 'deck.admit',
} } satisfies object;`,
    'a.ts': `import { terminal } from './old';
terminal.arrive('SK 104', 4.5);
terminal.drive(terminal.cars[0]!.number);
export const n = [terminal.cars.length, terminal.first(), terminal.berth];
terminal.berth = 2;`,
  };
  const insteads = async (style: string) => {
    const all = { ...modules, ...stores[style] };
    const { survey } = await surveyOf(all, { ...options, participant: 'participant.ts' });
    expect(survey.unknownNames).toEqual([
      { name: 'Terminal.arive', in: 'old', nearest: 'Terminal.arrive' },
      { name: 'deck.boardd', in: 'new', nearest: 'deck.board' },
    ]);
    return survey.left.map(({ instead }) => instead);
  };
  expect(await insteads('reducer')).toEqual([
    "dispatch(deckActions.admit({ plate: 'SK 104', lengthM: 4.5 }))",
    'dispatch(deckActions.board(terminal.cars[0]!.number))',
    'state.deck.queue',
    '.id',
    'state.deck.queue',
    'derived.deck.first(state)',
    'state.berth',
    'an action of berth',
  ]);
  expect((await insteads('observable')).slice(0, 3)).toEqual([
    "stores.deck.admit({ plate: 'SK 104', lengthM: 4.5 })",
    'stores.deck.board(terminal.cars[0]!.number)',
    'stores.deck.queue.latest',
  ]);
  expect((await insteads('atom')).slice(4)).toEqual([
    'stores.deck.queue.get()',
    'stores.deck.first.get()',
    'stores.berth.value.get()',
    'an action of berth',
  ]);
});

test('components that only a template names are not left behind', async () => {
  const { found, marked } = await beside('proxy', {
    'Deck.vue': `<script setup lang="ts">
import { defineComponent } from 'vue';
import { createStores } from './stores/index.js';
const { stores } = createStores();
const CarRow = defineComponent({});
const Free = defineComponent({});
const /*@ variable unused */unused = 1;
const clear = () => stores.deck.clear();
</script>
<template><car-row /><Free>{{ 1 }}</Free><b @click="clear">clear</b></template>`,
  });
  expect(found).toEqual(marked);
});
