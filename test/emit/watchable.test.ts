import { beforeAll, describe, expect, test } from '@jest/globals';
import { from, map, take, toArray, firstValueFrom } from 'rxjs';
import type { ObservableInput } from 'rxjs';
import { loadModules } from '../../src/load/load-modules.js';
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
}

type Any = never;

/** How each style lets what it has be followed. */
const open: Readonly<Record<(typeof allStyles)[number], (created: Any) => Ferry>> = {
  reducer(store: {
    dispatch(action: object): void;
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
    };
  },
  atom: units,
  observable: units,
  proxy({
    stores: { deck },
    states,
    follow,
    state,
  }: {
    stores: {
      deck: { capacityM: number; freeM: number; setCapacity: (metres: number) => void };
    };
    states: { deck: () => { capacityM: number } };
    state: () => unknown;
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
}): Ferry {
  const { deck } = created.stores;
  return {
    setCapacity: deck.setCapacity,
    capacityM: deck.capacityM,
    freeM: deck.freeM,
    deck: created.states.deck,
    json: () => created.state,
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
