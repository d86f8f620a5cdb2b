import { beforeAll, describe, expect, test } from '@jest/globals';
import { from, map, take, toArray, firstValueFrom } from 'rxjs';
import type { ObservableInput } from 'rxjs';
import { loadModules } from '../../src/participants/load-modules.js';
import { allStyles, ferryText, foldersOf, modelOf } from '../helpers.js';

interface Watchable<T> extends AsyncIterable<T> {
  subscribe(observer: unknown): { readonly closed: boolean; unsubscribe(): void };
  toJSON(): T;
}

interface Ferry {
  readonly setCapacity: (metres: number) => void;
  readonly capacityM: Watchable<number>;
  readonly freeM: Watchable<number>;
  readonly deck: Watchable<{ readonly capacityM: number }>;
  readonly json: () => unknown;
  readonly close: () => void;
}

type Any = never;

/** How each style lets what it has be followed. */
const open: Readonly<Record<(typeof allStyles)[number], (created: Any) => Ferry>> = {
  reducer(store: {
    dispatch(action: object): void;
    close(): void;
    follow<T>(select: (state: { deck: { capacityM: number } }) => T): Watchable<T>;
    derived: { deck: { freeM: (state: object) => number } };
  }) {
    return {
      setCapacity: (payload) => {
        store.dispatch({ type: 'deck.setCapacity', payload });
      },
      capacityM: store.follow((state) => state.deck.capacityM),
      freeM: store.follow((state) => store.derived.deck.freeM(state)),
      deck: store.follow((state) => state.deck),
      json: () => store,
      close: store.close,
    };
  },
  atom: units,
  observable: units,
  proxy({
    stores: { deck },
    states,
    follow,
    state,
    close,
  }: {
    stores: {
      deck: { capacityM: number; freeM: number; setCapacity: (metres: number) => void };
    };
    states: { deck: () => { capacityM: number } };
    state: () => unknown;
    close: () => void;
    follow: <T>(read: () => T) => Watchable<T>;
  }) {
    return {
      setCapacity: (metres) => {
        deck.setCapacity(metres);
      },
      capacityM: follow(() => deck.capacityM),
      freeM: follow(() => deck.freeM),
      deck: follow(() => states.deck()),
      json: state,
      close,
    };
  },
};

function units(created: {
  stores: {
    deck: {
      capacityM: Watchable<number>;
      freeM: Watchable<number>;
      setCapacity: (metres: number) => void;
    };
  };
  states: { deck: Watchable<{ capacityM: number }> };
  state: unknown;
  close: () => void;
}): Ferry {
  const { deck } = created.stores;
  return {
    setCapacity: deck.setCapacity,
    capacityM: deck.capacityM,
    freeM: deck.freeM,
    deck: created.states.deck,
    json: () => created.state,
    close: created.close,
  };
}

describe.each(allStyles)('what the %s style has can be followed', (style) => {
  let create: () => Ferry;
  beforeAll(async () => {
    const [folder] = await foldersOf(await modelOf(ferryText), [style]);
    const { createStores } = loadModules(folder?.files ?? [], 'index.ts');
    create = () => open[style]((createStores as () => Any)());
  });

  test('a general-purpose stream library takes fields, derived values and stores', async () => {
    const ferry = create();
    const values = (followed: Watchable<unknown>) =>
      firstValueFrom(from(followed as ObservableInput<unknown>).pipe(take(2), toArray()));
    const all = [
      values(ferry.capacityM),
      values(ferry.freeM),
      firstValueFrom(
        from(ferry.deck as ObservableInput<{ capacityM: number }>).pipe(
          map(({ capacityM }) => capacityM),
        ),
      ),
    ];
    for (const metres of [100, 100, 200, 300]) ferry.setCapacity(metres);
    expect(await Promise.all(all)).toEqual([[100, 200], [100, 200], 100]);
  });

  test('an async iterator gives every new value, and ends when it is left', async () => {
    const ferry = create();
    const seen: number[] = [];
    const iterated = (async () => {
      for await (const metres of ferry.freeM) {
        seen.push(metres);
        if (seen.length === 3) break;
      }
    })();
    for (const metres of [100, 90, 80, 70]) ferry.setCapacity(metres);
    await iterated;
    expect(seen).toEqual([100, 90, 80]);
    const iterator = ferry.freeM[Symbol.asyncIterator]();
    const pending = iterator.next();
    await iterator.return?.();
    ferry.setCapacity(60);
    expect(await pending).toEqual({ done: true, value: undefined });
    expect(await iterator.next()).toEqual({ done: true, value: undefined });
  });

  test('an observer is told of the subscription and of new values, until it unsubscribes', () => {
    const ferry = create();
    const calls: unknown[] = [];
    const subscription = ferry.freeM.subscribe({
      start: (own: { closed: boolean }) => calls.push(own.closed),
      next: (value: number) => calls.push(value),
    });
    ferry.setCapacity(100);
    subscription.unsubscribe();
    ferry.setCapacity(50);
    expect(calls).toEqual([false, 100]);
    expect(subscription.closed).toBe(true);
  });

  test('closing the stores ends what is followed: iterators, observers, and those that come later', async () => {
    const ferry = create();
    const seen: number[] = [];
    const iterated = (async () => {
      for await (const metres of ferry.freeM) seen.push(metres);
      return 'over';
    })();
    const calls: unknown[] = [];
    const observer = {
      next: (value: number) => calls.push(value),
      complete: () => calls.push(subscription.closed),
    };
    const subscription = ferry.freeM.subscribe(observer);
    const left = ferry.capacityM.subscribe({ complete: () => calls.push('told after leaving') });
    left.unsubscribe();
    ferry.setCapacity(100);
    // A value that waits is still given.
    ferry.close();
    expect(await iterated).toBe('over');
    expect([seen, calls]).toEqual([[100], [100, true]]);
    ferry.close();
    ferry.setCapacity(50);
    expect(calls).toEqual([100, true]);

    const late: unknown[] = [];
    const after = ferry.deck.subscribe({ complete: () => late.push('complete') });
    for await (const state of ferry.deck) late.push(state);
    expect([late, after.closed]).toEqual([['complete'], true]);
    await expect(
      firstValueFrom(from(ferry.freeM as ObservableInput<unknown>), { defaultValue: 'none' }),
    ).resolves.toBe('none');
  });

  test('stores that are closed by a watcher end after the round', () => {
    const ferry = create();
    const calls: unknown[] = [];
    ferry.freeM.subscribe(() => {
      ferry.close();
      calls.push('closing');
    });
    ferry.freeM.subscribe({
      next: (value: number) => calls.push(value),
      complete: () => calls.push('complete'),
    });
    ferry.setCapacity(100);
    expect(calls).toEqual(['closing', 100, 'complete']);
  });

  test('JSON of it is the value of now', () => {
    const ferry = create();
    ferry.setCapacity(100);
    expect(JSON.parse(JSON.stringify(ferry.capacityM))).toBe(100);
    expect(JSON.parse(JSON.stringify(ferry.deck))).toMatchObject({ capacityM: 100 });
    expect(JSON.parse(JSON.stringify(ferry.json()))).toMatchObject({
      deck: { capacityM: 100, vehicles: [] },
    });
  });
});

test('closing the stores ends what follows an action of the observable style too', async () => {
  const [folder] = await foldersOf(await modelOf(ferryText), ['observable']);
  const { createStores } = loadModules(folder?.files ?? [], 'index.ts');
  const problems: { kind: string }[] = [];
  const { stores, close } = (createStores as (options: object) => unknown)({
    onProblem: (problem: { kind: string }) => problems.push(problem),
  }) as {
    stores: { deck: { setCapacity: Watchable<number> & ((metres: number) => void) } };
    close(): void;
  };
  const { setCapacity } = stores.deck;
  const seen: unknown[] = [];
  const iterated = (async () => {
    for await (const metres of setCapacity) seen.push(metres);
    return 'over';
  })();
  const subscription = setCapacity.subscribe({
    complete: () => {
      throw new Error('an observer that throws stops nobody');
    },
  });
  setCapacity.subscribe({ complete: () => seen.push('complete') });
  setCapacity(100);
  close();
  expect(await iterated).toBe('over');
  expect(seen).toEqual(['complete', 100]);
  expect([subscription.closed, problems.map(({ kind }) => kind)]).toEqual([true, ['watcher']]);
});

test('a watcher whose reading throws is passed over, and that is told once', async () => {
  const [folder] = await foldersOf(await modelOf(ferryText), ['reducer']);
  const { createStores } = loadModules(folder?.files ?? [], 'index.ts');
  const problems: { kind: string }[] = [];
  const store = (
    createStores as (options: object) => {
      dispatch(action: object): { status: string };
      whenChanged(
        read: (state: { deck: { capacityM: number } }) => number,
        changed: () => void,
      ): void;
    }
  )({ onProblem: (problem: { kind: string }) => problems.push(problem) });
  let told = 0;
  store.whenChanged(
    ({ deck }) => {
      if (deck.capacityM < 50) throw new Error('too short to be read');
      return deck.capacityM;
    },
    () => (told += 1),
  );
  for (const payload of [100, 40, 30, 60, 20])
    expect(store.dispatch({ type: 'deck.setCapacity', payload }).status).toBe('done');
  expect(told).toBe(2);
  expect(problems.map(({ kind }) => kind)).toEqual(['derived', 'derived']);
});
