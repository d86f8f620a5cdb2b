import { beforeAll, describe, expect, test } from '@jest/globals';
import { loadModules } from '../../src/participants/load-modules.js';
import type { GeneratedFolder, Style } from '../../src/core.js';
import { allStyles, ferryText, foldersOf, modelOf } from '../helpers.js';

/** What the test needs of the stores of a style. */
interface Ferry {
  admit(payload: object): unknown;
  signIn(payload: object): unknown;
  /** How many vehicles there are, and how many derive as waiting. */
  read(): readonly [vehicles: number, waiting: number];
  /** Tries to write what only actions may write. */
  write(): void;
}

type Any = never;

const open: Readonly<Record<Style, (created: Any) => Ferry>> = {
  reducer(store: {
    dispatch(action: object): unknown;
    snapshot(): { deck: { vehicles: unknown[]; capacityM: number } };
    derived: { deck: { waiting(state: object): unknown[] } };
  }) {
    return {
      admit: (payload) => store.dispatch({ type: 'deck.admit', payload }),
      signIn: (payload) => store.dispatch({ type: 'desk.signIn', payload }),
      read: () => {
        const state = store.snapshot();
        return [state.deck.vehicles.length, store.derived.deck.waiting(state).length];
      },
      write: () => {
        store.snapshot().deck.capacityM = 1;
      },
    };
  },
  atom({ stores }: { stores: Record<string, Record<string, Any>> }) {
    const { deck, desk } = stores as unknown as Nodes<{
      get(): unknown[];
      set(value: unknown): void;
    }>;
    return {
      admit: deck.admit,
      signIn: desk.signIn,
      read: () => [deck.vehicles.get().length, deck.waiting.get().length],
      write: () => {
        deck.capacityM.set(1);
      },
    };
  },
  proxy({ stores }: { stores: Record<string, Record<string, Any>> }) {
    const { deck, desk } = stores as unknown as Nodes<unknown[]>;
    return {
      admit: deck.admit,
      signIn: desk.signIn,
      read: () => [deck.vehicles.length, deck.waiting.length],
      write: () => {
        Object.assign(deck, { capacityM: 1 });
      },
    };
  },
  observable({ stores }: { stores: Record<string, Record<string, Any>> }) {
    const { deck, desk } = stores as unknown as Nodes<{ latest: unknown[] }>;
    return {
      admit: deck.admit,
      signIn: desk.signIn,
      read: () => [deck.vehicles.latest.length, deck.waiting.latest.length],
      write: () => {
        Object.assign(deck.vehicles, { latest: [] });
      },
    };
  },
};

interface Nodes<Node> {
  readonly deck: {
    readonly vehicles: Node;
    readonly waiting: Node;
    readonly capacityM: Node;
    admit(payload: object): unknown;
  };
  readonly desk: { signIn(payload: object): unknown };
}

const car = { plate: 'SK 1', lengthM: 4, lane: 'port' };

let folders: readonly GeneratedFolder[];
beforeAll(async () => {
  folders = await foldersOf(await modelOf(ferryText));
});

describe.each(allStyles)('code of the application that runs within an action: %s', (style) => {
  /** Stores with one vehicle on deck, and what is done when they ask for something. */
  function begin() {
    const files = folders.find((folder) => folder.style === style)?.files ?? [];
    const { createStores } = loadModules(files, 'index.ts');
    let ids = 0;
    let meanwhile = (): void => undefined;
    const ask = <T>(answer: T): T => {
      meanwhile();
      return answer;
    };
    const created = (createStores as (options: object) => Any)({
      guard: true,
      newId: () => ask(`v${(ids += 1)}`),
      now: () => ask(7),
      onProblem: () => ask(undefined),
    });
    const ferry = open[style](created);
    ferry.admit(car);
    return { ferry, set: (next: () => void) => (meanwhile = next) };
  }

  test('sees the state that was committed last, and can write nothing', () => {
    const { ferry, set } = begin();
    const seen: unknown[] = [];
    set(() => {
      seen.push(ferry.read());
      expect(() => {
        ferry.write();
      }).toThrow(TypeError);
    });
    expect(ferry.admit({ ...car, plate: 'SK 2' })).toEqual({ status: 'done' });
    expect(ferry.signIn({ name: 'Runa', rank: 'mate' })).toEqual({ status: 'done' });
    expect(seen).toEqual([
      [1, 1],
      [2, 2],
    ]);
    expect(ferry.read()).toEqual([2, 2]);
  });

  test('sees it in a getter of a payload, and where a problem is told', () => {
    const { ferry, set } = begin();
    const seen: unknown[] = [];
    const look = () => {
      seen.push(ferry.read());
      expect(() => {
        ferry.write();
      }).toThrow(TypeError);
    };
    const outcome = ferry.admit({
      ...car,
      get plate() {
        look();
        return 'SK 3';
      },
    });
    expect(outcome).toEqual({ status: 'done' });
    let times = 0;
    set(() => {
      look();
      if ((times += 1) === 1) throw new Error('no ids left');
    });
    expect(ferry.admit(car)).toEqual({ status: 'broken', action: 'deck.admit' });
    expect(seen).toEqual([
      [1, 1],
      [2, 2],
      [2, 2],
    ]);
  });

  test('may send an action, which waits for its turn', async () => {
    const { ferry, set } = begin();
    const queued: unknown[] = [];
    set(() => {
      set(() => undefined);
      queued.push(ferry.admit({ ...car, plate: 'SK 9' }));
    });
    expect(ferry.admit({ ...car, plate: 'SK 2' })).toEqual({ status: 'done' });
    expect(queued).toEqual([expect.objectContaining({ status: 'queued' })]);
    expect(await (queued[0] as { outcome: Promise<unknown> }).outcome).toEqual({ status: 'done' });
    expect(ferry.read()).toEqual([3, 3]);
  });
});

describe('actions of the observable style are streams', () => {
  test('that tell each payload that was done, after the commit, in order with other notices', () => {
    const files = folders.find(({ style }) => style === 'observable')?.files ?? [];
    const { createStores } = loadModules(files, 'index.ts');
    interface Told<T> {
      (payload: T): { readonly status: string };
      subscribe(next: (payload: T) => void): { unsubscribe(): void };
    }
    const { stores } = (createStores as () => Any)() as unknown as {
      stores: {
        deck: { setCapacity: Told<number>; stretch: Told<unknown>; capacityM: Told<number> };
        log: { sailed: Told<number | undefined>; newDay: Told<undefined> };
      };
    };
    const told: unknown[] = [];
    const first = stores.deck.setCapacity.subscribe((payload) => told.push(['asked', payload]));
    stores.deck.capacityM.subscribe((now) => told.push(['changed', now]));
    stores.deck.stretch.subscribe((payload) => told.push(['stretched', payload]));
    stores.deck.setCapacity(100);
    stores.deck.setCapacity(100);
    stores.deck.setCapacity(-1);
    // What comes as text is told as it was converted.
    stores.deck.stretch('120');
    first.unsubscribe();
    stores.deck.setCapacity(90);
    expect(told).toEqual([
      ['asked', 100],
      ['changed', 100],
      ['asked', 100],
      ['changed', 120],
      ['stretched', 120],
      ['changed', 90],
    ]);
    const days: unknown[] = [];
    stores.log.newDay.subscribe(() => days.push('day'));
    stores.log.sailed.subscribe((metres) => days.push(metres));
    stores.log.newDay(undefined);
    // Each is told at the place where it was added, whichever was done first.
    expect(days).toEqual(['day', 0]);
  });
});
