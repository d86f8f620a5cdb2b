import { beforeAll, describe, expect, test } from '@jest/globals';
import { loadModules } from '../../src/participants/load-modules.js';
import { ferryText, foldersOf, modelOf } from '../helpers.js';

interface Stream<T> {
  readonly latest: T;
  subscribe(observer: unknown): { readonly closed: boolean; unsubscribe(): void };
}

interface Ferry {
  readonly stores: {
    readonly deck: {
      readonly capacityM: Stream<number>;
      readonly freeM: Stream<number>;
      setCapacity(metres: number): unknown;
    };
  };
  readonly states: {
    readonly deck: Stream<{ readonly capacityM: number }>;
    readonly berth: Stream<number>;
  };
  readonly state: Stream<{ readonly berth: number }>;
}

let create: () => Ferry;
beforeAll(async () => {
  const [folder] = await foldersOf(await modelOf(ferryText), ['observable']);
  const { createStores } = loadModules(folder?.files ?? [], 'index.ts');
  create = createStores as () => Ferry;
});

describe('the streams of the observable style follow the ECMAScript Observable contract', () => {
  test('subscribing calls start with the subscription, and next only for new values', () => {
    const { stores } = create();
    const calls: unknown[] = [];
    const subscription = stores.deck.capacityM.subscribe({
      start: (own: { closed: boolean }) => calls.push(['start', own.closed]),
      next: (value: number) => calls.push(['next', value]),
    });
    stores.deck.setCapacity(100);
    stores.deck.setCapacity(100);
    expect(calls).toEqual([
      ['start', false],
      ['next', 100],
    ]);
    expect(subscription.closed).toBe(false);
  });

  test('unsubscribing closes the subscription, once and for all', () => {
    const { stores } = create();
    const values: number[] = [];
    const subscription = stores.deck.freeM.subscribe((value: number) => values.push(value));
    stores.deck.setCapacity(100);
    subscription.unsubscribe();
    subscription.unsubscribe();
    stores.deck.setCapacity(200);
    expect(values).toEqual([100]);
    expect(subscription.closed).toBe(true);
  });

  test('an observer may unsubscribe in start, and lack every method', () => {
    const { stores } = create();
    const values: number[] = [];
    const subscription = stores.deck.freeM.subscribe({
      start: (own: { unsubscribe(): void }) => own.unsubscribe(),
      next: (value: number) => values.push(value),
    });
    stores.deck.freeM.subscribe({});
    stores.deck.setCapacity(100);
    expect(values).toEqual([]);
    expect(subscription.closed).toBe(true);
  });

  test('a stream is its own observable', () => {
    const { stores } = create();
    const key = (Reflect.get(Symbol, 'observable') as symbol | undefined) ?? '@@observable';
    const self = Reflect.get(stores.deck.freeM, key) as () => unknown;
    expect(self.call(stores.deck.freeM)).toBe(stores.deck.freeM);
  });

  test('each store and the whole are streams too', () => {
    const { stores, states, state } = create();
    const seen: unknown[] = [];
    states.deck.subscribe((value: { capacityM: number }) => seen.push(value.capacityM));
    state.subscribe(() => seen.push('all'));
    stores.deck.setCapacity(100);
    expect(seen).toEqual([100, 'all']);
    expect([states.berth.latest, state.latest.berth]).toEqual([0, 0]);
  });
});
