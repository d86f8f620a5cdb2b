import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { loadModules } from '../../src/participants/load-modules.js';
import type { GeneratedFolder } from '../../src/participants/generated-participant.js';
import { complaints } from '../compiler.js';
import { allStyles, ferryText, foldersOf, modelOf } from '../helpers.js';

/** The same small use of each style, as an application would write it; what is wrong must not compile. */
const uses = {
  reducer: `
import { createStores, deckActions, type AppState, type Outcome } from './index.js';
const terminal = createStores({ newId: () => 'v1', guard: true });
const outcome: Outcome = terminal.dispatch(deckActions.admit({ plate: 'SK 4', lengthM: 4, lane: 'port' }));
export const log: unknown[] = [];
terminal.whenChanged(terminal.derived.deck.freeM, (now, before) => log.push(now - before));
terminal.subscribe(() => log.push(terminal.snapshot().deck.capacityM.toFixed(0)));
export const state: AppState = terminal.snapshot();
terminal.dispatch({ type: 'deck.setCapacity', payload: 100 });
export const result = [outcome.status, terminal.derived.deck.waiting(terminal.snapshot()).length];
// @ts-expect-error a lane that is none
deckActions.admit({ plate: 'SK 4', lengthM: 4, lane: 'bow' });
// @ts-expect-error text for a number
terminal.dispatch({ type: 'deck.setCapacity', payload: '100' });
// @ts-expect-error an action that is none
terminal.dispatch({ type: 'deck.sink' });
// @ts-expect-error snapshots are read-only
terminal.snapshot().deck.capacityM = 1;
`,
  atom: `
import { createStores, type Outcome } from './index.js';
const { stores, state } = createStores({ newId: () => 'v1', guard: true });
const outcome: Outcome = stores.deck.admit({ plate: 'SK 4', lengthM: 4, lane: 'port' });
export const log: unknown[] = [];
stores.deck.freeM.watch((now, before) => log.push(now - before));
state.watch((now) => log.push(now.deck.capacityM.toFixed(0)));
stores.deck.setCapacity(100);
export const result = [outcome.status, stores.deck.waiting.get().length];
// @ts-expect-error a lane that is none
stores.deck.admit({ plate: 'SK 4', lengthM: 4, lane: 'bow' });
// @ts-expect-error text for a number
stores.deck.setCapacity('100');
// @ts-expect-error an action that is none
stores.deck.sink();
// @ts-expect-error snapshots are read-only
stores.deck.vehicles.get().push();
// @ts-expect-error fields are given out to be read
export const cheat = () => stores.deck.capacityM.set(1);
`,
  proxy: `
import { createStores, type Outcome } from './index.js';
const { stores, state, whenChanged } = createStores({ newId: () => 'v1', guard: true });
const outcome: Outcome = stores.deck.admit({ plate: 'SK 4', lengthM: 4, lane: 'port' });
export const log: unknown[] = [];
whenChanged(() => stores.deck.freeM, (now, before) => log.push(now - before));
whenChanged(state, (now) => log.push(now.deck.capacityM.toFixed(0)));
stores.deck.setCapacity(100);
export const result = [outcome.status, stores.deck.waiting.length];
// @ts-expect-error a lane that is none
stores.deck.admit({ plate: 'SK 4', lengthM: 4, lane: 'bow' });
// @ts-expect-error text for a number
stores.deck.setCapacity('100');
// @ts-expect-error an action that is none
export const sink = () => stores.deck.sink();
// @ts-expect-error fields are changed by actions only
export const cheat = () => (stores.deck.capacityM = 1);
`,
  observable: `
import { createStores, type Outcome } from './index.js';
const { stores, state } = createStores({ newId: () => 'v1', guard: true });
const outcome: Outcome = stores.deck.admit({ plate: 'SK 4', lengthM: 4, lane: 'port' });
export const log: unknown[] = [];
let before = stores.deck.freeM.latest;
stores.deck.freeM.subscribe((now) => { log.push(now - before); before = now; });
state.subscribe({ next: (now) => log.push(now.deck.capacityM.toFixed(0)) });
stores.deck.setCapacity(100);
export const result = [outcome.status, stores.deck.waiting.latest.length];
// @ts-expect-error a lane that is none
stores.deck.admit({ plate: 'SK 4', lengthM: 4, lane: 'bow' });
// @ts-expect-error text for a number
stores.deck.setCapacity('100');
// @ts-expect-error an action that is none
export const sink = () => stores.deck.sink();
// @ts-expect-error only actions put values into the stream of a field
export const cheat = () => stores.deck.capacityM.push(1);
`,
} as const;

let folders: GeneratedFolder[];
let folder: string;
beforeAll(async () => {
  folders = await foldersOf(await modelOf(ferryText));
  folder = mkdtempSync(join(tmpdir(), 'leeshore-usage-'));
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

describe.each(allStyles)('the %s stores in an application', (style) => {
  test('do what it asks for', () => {
    const files = folders.find((one) => one.style === style)?.files ?? [];
    // What must not compile must not run either: an action that is none throws, so it is left out.
    const wrong = uses[style].indexOf('// @ts-expect-error');
    const used = loadModules(
      [...files, { path: 'use.ts', text: uses[style].slice(0, wrong) }],
      'use.ts',
    );
    expect(used.result).toEqual(['done', 1]);
    expect(used.log).toEqual([-140, '100']);
  });
});

test('what is wrong in an application does not compile', () => {
  const roots: string[] = [];
  for (const style of allStyles) {
    const files = folders.find((one) => one.style === style)?.files ?? [];
    for (const { path, text } of [...files, { path: 'use.ts', text: uses[style] }]) {
      mkdirSync(dirname(join(folder, style, path)), { recursive: true });
      writeFileSync(join(folder, style, path), text);
    }
    roots.push(join(folder, style, 'use.ts'));
  }
  expect(complaints(roots)).toEqual([]);
});
