import { effort } from './effort.js';
import type { Style } from '../src/base/styles.js';
import { createAtomByHand } from './by-hand/atom.js';
import type { Admitted, DeckStore } from './by-hand/deck.js';
import { createObservableByHand } from './by-hand/observable.js';
import { createProxyByHand } from './by-hand/proxy.js';
import { createReducerByHand } from './by-hand/reducer.js';
import type { MakeDeck } from './generated.js';

/** The stores written by hand. Only the one behind a proxy freezes its snapshots. */
export const byHand: Readonly<Record<Style, MakeDeck>> = {
  reducer: ({ newId }) => createReducerByHand(newId),
  atom: ({ newId }) => createAtomByHand(newId),
  proxy: ({ newId }) => createProxyByHand(newId),
  observable: ({ newId }) => createObservableByHand(newId),
};

export const { sizes, watcherCounts } = effort;

const vehicle: Admitted = { plate: 'SK 4', lengthM: 4, lane: 'port' };

function done(isDone: boolean): void {
  if (!isDone) throw new Error('an action was refused');
}

/** A deck with vehicles and watchers, and what does actions on it: one of each kind in turn. */
export class Rig {
  readonly #deck: DeckStore;
  #told = 0;
  #rounds = 0;

  constructor(make: MakeDeck, guard: boolean, items: number, watchers: number) {
    let ids = 0;
    this.#deck = make({ newId: () => `v${(ids += 1)}`, guard });
    for (let i = 0; i < items; i++) done(this.#deck.admit(vehicle));
    for (let i = 0; i < watchers; i++) this.#deck.watchFree(() => (this.#told += 1));
  }

  /** Does four actions so many times; milliseconds. */
  run(rounds: number): number {
    const deck = this.#deck;
    const before = performance.now();
    for (let i = 0; i < rounds; i++) {
      const place = (this.#rounds += 1) % deck.vehicles().length;
      done(deck.admit(vehicle));
      done(deck.turn(deck.vehicles()[place]?.id ?? ''));
      done(deck.setCapacity(100_000 + (this.#rounds % 7)));
      done(deck.leave(deck.vehicles().at(-1)?.id ?? ''));
    }
    return performance.now() - before;
  }

  /** How often watchers were told: no speed counts if they were not. */
  get told(): number {
    return this.#told;
  }
}

export function median(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[sorted.length >> 1] ?? 0;
}

/** How many times as fast one deck is as another: the median of rounds in which both take turns. */
export function ratio(one: Rig, other: Rig, samples: number, sampleMs: number): number {
  const perSample = (rig: Rig) => {
    let rounds = 1;
    while (rig.run(rounds) < sampleMs && rounds < 100_000) rounds *= 2;
    return rounds;
  };
  const [ofOne, ofOther] = [perSample(one), perSample(other)];
  return median(
    Array.from({ length: samples }, () => {
      const rate = ofOne / one.run(ofOne);
      return rate / (ofOther / other.run(ofOther));
    }),
  );
}
