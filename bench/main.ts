import { readFileSync } from 'node:fs';
import { repeatableEnvironment } from '../src/explore/environment.js';
import { generatedParticipant, namesOf } from '../src/load/generated-participant.js';
import {
  checkSchemas,
  compareStores,
  generatedInMemory,
  type GeneratedFolder,
} from '../src/pipeline.js';
import { styles, type Style } from '../src/emit/style-names.js';
import type { Application } from '../src/model/application.js';
import { cpuToCheck } from './scaling.js';
import { createAtomByHand } from './by-hand/atom.js';
import type { Admitted, ByHand } from './by-hand/deck.js';
import { createObservableByHand } from './by-hand/observable.js';
import { createProxyByHand } from './by-hand/proxy.js';
import { createReducerByHand } from './by-hand/reducer.js';

/** Rounds of each measurement: all candidates take turns in each, so that noise meets all alike. */
const rounds = 7;

const byHand: Readonly<Record<Style, (newId: () => string) => ByHand>> = {
  reducer: createReducerByHand,
  atom: createAtomByHand,
  proxy: createProxyByHand,
  observable: createObservableByHand,
};

/** A generated store as the hand-written ones offer it. */
function generated(application: Application, folder: GeneratedFolder): () => ByHand {
  const names = namesOf(application);
  const participant = generatedParticipant(folder.name, folder.style, folder.files, names);
  return () => {
    const store = participant.create(repeatableEnvironment([]));
    return {
      admit: (payload) => store.send('deck', 'admit', { ...payload }).status === 'done',
      setCapacity: (metres) => store.send('deck', 'setCapacity', metres).status === 'done',
      freeM: () => store.derive?.().deck?.freeM as number,
      watchFree: (changed) => void store.watch?.('deck.freeM', (now) => changed(now as number)),
    };
  };
}

/** Actions per second on a store with that many vehicles and watchers. */
function measure(make: () => ByHand, items: number, watchers: number): number {
  const store = make();
  const vehicle: Admitted = { plate: 'SK 4', lengthM: 4, lane: 'port' };
  for (let i = 0; i < items; i++)
    if (!store.admit(vehicle)) throw new Error('a vehicle was refused');
  let told = 0;
  for (let i = 0; i < watchers; i++) store.watchFree(() => (told += 1));
  const actions = Math.max(60, Math.round(20_000 / (items + 10)));
  const start = performance.now();
  for (let i = 0; i < actions; i++) {
    if (i % 4 === 0 ? !store.admit(vehicle) : !store.setCapacity(100 + (i % 300)))
      throw new Error('an action was refused');
  }
  const took = performance.now() - start;
  if (watchers > 0 && told === 0) throw new Error('no watcher was told');
  return (actions / took) * 1000;
}

function median(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[sorted.length >> 1] ?? 0;
}

function print(cells: readonly (string | number)[]): void {
  console.log(
    cells
      .map((cell, i) => (i === 0 ? String(cell).padEnd(26) : String(cell).padStart(13)))
      .join(''),
  );
}

const path = 'examples/skerry/ferry.stores.yaml';
const { application } = await checkSchemas([{ path, text: readFileSync(path, 'utf8') }]);
if (application === undefined) throw new Error(`${path} has problems`);
const folders = await generatedInMemory(application, styles, (file) =>
  readFileSync(`src/emit/${file}`, 'utf8'),
);

console.log(
  `Actions per second: generated store / store written by hand in the same style (median of ${rounds} rounds).`,
);
print(['items, watchers', ...styles]);
for (const [items, watchers] of [
  [10, 0],
  [10, 10],
  [1000, 0],
  [1000, 10],
] as const) {
  const ratios = folders.map((folder) => {
    const make = generated(application, folder);
    const hand = () => byHand[folder.style as Style](() => `v${Math.random()}`);
    const pairs = Array.from(
      { length: rounds },
      () => measure(make, items, watchers) / measure(hand, items, watchers),
    );
    return median(pairs).toFixed(2);
  });
  print([`${items}, ${watchers}`, ...ratios]);
}

console.log(
  '\nSteps per second of compare on the ferry schema, against the reference alone (1.00).',
);
const rate = async (some: readonly GeneratedFolder[]) => {
  const options = { seed: 3, steps: 1500, clock: () => performance.now(), until: Infinity };
  const { steps, tookMs } = await compareStores(application, some, options);
  return (steps / tookMs) * 1000;
};
await rate(folders);
const candidates = [[], ...folders.map((folder) => [folder]), folders];
const rates = candidates.map(() => [] as number[]);
for (let round = 0; round < 3; round++) {
  for (const [i, some] of candidates.entries()) rates[i]?.push(await rate(some));
}
const alone = median(rates[0] ?? []);
print(['participants', 'steps/s', 'ratio']);
for (const [i, some] of candidates.entries()) {
  const name = ['reference', ...some.map((folder) => folder.name)].join(' + ');
  const steps = median(rates[i] ?? []);
  print([some.length === 4 ? 'all five' : name, Math.round(steps), (steps / alone).toFixed(2)]);
}

console.log(
  '\nCPU time of check: 1,000 stores with 10,000 actions and 5,000 derived values against 100 stores.',
);
const [few, all] = [await cpuToCheck(100), await cpuToCheck(1000)];
const again = await cpuToCheck(100);
print(['100 stores', '1,000 stores', 'times']);
print([
  `${Math.round(again)} ms`,
  `${Math.round(all)} ms`,
  (all / Math.min(few, again)).toFixed(1),
]);
