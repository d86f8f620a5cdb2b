import { expect, test } from '@jest/globals';
import { surveyOf } from './marked.js';

test('an old store of functions and variables of a module', async () => {
  const { found, marked } = await surveyOf({
    'old.ts': `export let cars: { plate: string }[] = [];
export const wind = { speed: 0, limit: 18 };
export function arrive(plate: string) { cars.push({ plate }); }
export const isStormy = () => wind.speed > wind.limit;`,
    'a.ts': `import { arrive, cars, isStormy, wind } from './old';
/*@ call arrive */arrive('SK 104');
wind./*@ write wind.speed */speed = 3;
export const n = /*@ read cars */cars.length + (/*@ call isStormy */isStormy() ? 1 : 0) + /*@ read cars */cars[0]!./*@ read cars.plate */plate.length;
window.addEventListener('click', () => /*@ call arrive */arrive('FE'));
addEventListener('blur', /*@ read isStormy */isStormy);`,
  });
  expect(found).toEqual(marked);
});

test('an old store that a function makes, and one that is exported by default', async () => {
  const { found, marked } = await surveyOf(
    {
      'old.ts': `export function createTerminal() {
  const cars: string[] = [];
  return { cars, arrive(plate: string) { cars.push(plate); }, get count() { return cars.length; } };
}`,
      'desk.js': `export default { officer: null, signIn(name) { this.officer = name; } };`,
      'a.ts': `import { createTerminal } from './old';
import desk from './desk';
const terminal = /*@ call createTerminal */createTerminal();
terminal./*@ call createTerminal.arrive */arrive('SK');
desk./*@ call default.signIn */signIn('Inga');
export type T = ReturnType<typeof /*@ type createTerminal */createTerminal>;
export const all = [terminal./*@ read createTerminal.count */count, desk./*@ read default.officer */officer];
export const of = (t: T) => t./*@ read createTerminal.cars */cars;`,
    },
    { old: ['old.ts', 'desk.js'] },
  );
  expect(found).toEqual(marked);
});

test('an old store in JavaScript, whose fields are set when it is made', async () => {
  const { found, marked } = await surveyOf(
    {
      'old.js': `export class Terminal {
  constructor() { this.cars = []; this.wind = { speed: 0 }; }
  arrive(plate) { this.cars.push({ plate }); }
}
export const terminal = new Terminal();`,
      'a.js': `import { terminal } from './old.js';
terminal./*@ call Terminal.arrive */arrive('SK');
terminal.wind./*@ write Terminal.wind.speed */speed = 4;
export const n = terminal./*@ read Terminal.cars */cars.length;`,
    },
    { old: ['old.js'] },
  );
  expect(found).toEqual(marked);
});

test('says what can be deleted: what neither modules nor other members use', async () => {
  const { survey } = await surveyOf({
    'old.ts': `function longest(all: string[]) { return all.reduce(max, ''); }
function max(a: string, b: string) { return a.length > b.length ? a : b; }
export class Terminal {
  cars: string[] = [];
  gone = 0;
  alsoGone = 0;
  get first() { return this.cars[0]; }
  label() { return this.first; }
  leave() { this.gone += this.alsoGone; }
  best() { return longest(this.cars); }
}
export const unused = () => 1;
export const terminal = new Terminal();`,
    'a.ts': `import { terminal } from './old';\nexport const text = terminal.label();`,
  });
  expect(survey.deletable.map(({ member }) => member)).toEqual([
    'Terminal.gone',
    'Terminal.alsoGone',
    'Terminal.leave',
    'Terminal.best',
    'unused',
  ]);
});

test('says which imports and variables are left behind', async () => {
  const { found, marked, survey } = await surveyOf({
    'old.ts': `export class Terminal { cars = 1 }\nexport const terminal = new Terminal();`,
    'a.ts': `import { /*@ import terminal */terminal, Terminal } from './old';\nexport const t = new /*@ call Terminal */Terminal();`,
    'b.ts': `import { terminal } from './old';\nconst unused = 1;\nexport const n = terminal./*@ read Terminal.cars */cars;`,
  });
  expect(found).toEqual(marked);
  expect(survey.modules).toEqual([
    { module: 'a.ts', left: 1, moved: 0 },
    { module: 'b.ts', left: 1, moved: 0 },
  ]);
});

test('says which components it could not read, and why', async () => {
  const { survey } = await surveyOf({
    'old.ts': 'export class Terminal { cars = 1 }',
    'Broken.vue': '<script setup>const a = ;</script><template>{{ a }}</template>',
    'a.ts': 'export {};',
  });
  expect(survey.notRead).toEqual([
    { path: 'Broken.vue', reason: expect.stringContaining('Vue cannot read it') },
  ]);
});

test('types that hold themselves, and variables that ask for themselves, have an end', async () => {
  const { found, marked } = await surveyOf({
    'old.ts': `export type Cargo = string | readonly Cargo[] | { readonly [name: string]: Cargo };
export class Terminal { cargo: Cargo = []; cars: string[] = [] }
export const terminal = new Terminal();`,
    'a.js': `import { terminal } from './old';
var app = app.terminal;
var one = two.cars, two = one.cars;
draw(app, one, two, terminal./*@ read Terminal.cargo */cargo);
function draw(a, b, c, cargo) { return [a.cars, b.cars, c.cars, cargo]; }
export const n = terminal./*@ read Terminal.cars */cars.length;`,
    'b.ts': `type Json = null | string | Json[] | { [name: string]: Json };
declare const json: Json;
declare function send(value: Json, cars: unknown): void;
send(json, json);
export const cars = json;`,
  });
  expect(found).toEqual(marked);
});

test('what is handed on as something else uses the members of the same names', async () => {
  const { survey } = await surveyOf({
    'old.ts': `export class Terminal { cars = 1; capacity = 2; hold = 3; berth = 4 }
export const terminal = new Terminal();`,
    'a.ts': `import { terminal } from './old';
declare function free(of: { readonly capacity: number }): number;
export const n = free(terminal);`,
    'b.ts': `import { terminal } from './old';
export const onlyHold: { hold: number } = { ...{ hold: terminal.hold } };`,
  });
  expect(survey.deletable.map(({ member }) => member)).toEqual(['Terminal.cars', 'Terminal.berth']);
});

test('imports of modules that are not found are unclear, but for packages and files that are no modules', async () => {
  const { found, marked } = await surveyOf({
    'old.ts': 'export class Terminal { cars = 1 }',
    'package.json': '{ "dependencies": { "gulls": "1.0.0", "@sound/fog": "1.0.0" } }',
    'a.ts': `import { terminal } from /*@ unclear */'./sesion';
import { gull } from 'gulls/white';
import fog from '@sound/fog';
import { join } from 'node:path';
import './page.css';
import logo from './logo.svg?raw';
export * from /*@ unclear */'@/stores';
export const later = () => import(/*@ unclear */'./later.js');
export const n = [terminal, gull, fog, join, logo];`,
    'b.cjs': `module.exports = require(/*@ unclear */'herring');`,
  });
  expect(found).toEqual(marked);
});

test('a broken tsconfig.json is told, and generated stores are no modules of the application', async () => {
  const { survey } = await surveyOf({
    'old.ts': 'export class Terminal { cars = 1 }',
    'tsconfig.json': '{ "compilerOptions": {',
    'stores/index.ts':
      '// Generated by Leeshore 0.1.0 from deck.stores.yaml (proxy style). Change the schema.\nimport "./nowhere.js";\n',
    'a.ts': 'export {};',
  });
  expect(survey.notRead).toEqual([
    { path: 'tsconfig.json', reason: expect.stringContaining('expected') },
  ]);
  expect([survey.read, survey.unclear]).toEqual([1, []]);
});
