import { setImmediate } from 'node:timers/promises';
import { afterEach, describe, expect, test } from '@jest/globals';
import { judgeEntry } from '../../../src/logs/log/judge-entry.js';
import { recordOld, type OldRecord } from '../../../src/logs/record/record-old.js';

type Line = Readonly<Record<string, unknown>>;

/** A record in memory, of stores whose state a function gives. */
function recording(state: () => unknown): { record: OldRecord; lines: () => Line[] } {
  const texts: string[] = [];
  const record = recordOld({ write: (line) => texts.push(line), state, now: () => texts.length });
  return {
    record,
    lines() {
      const [, ...rest] = texts.map((text) => JSON.parse(text) as Line);
      for (const line of rest) expect(typeof judgeEntry(line)).toBe('object');
      return rest;
    },
  };
}

/** Until nothing goes on any more. */
async function idle(): Promise<void> {
  for (let i = 0; i < 12; i++) await setImmediate();
}

/** Questions that a test answers, in the order in which they are asked. */
function service() {
  const open: { resolve: (value: unknown) => void; reject: (error: unknown) => void }[] = [];
  return {
    open,
    ask: (_about?: unknown) =>
      new Promise<unknown>((resolve, reject) => {
        open.push({ resolve, reject });
      }),
  };
}

const real = { ...globalThis };
afterEach(() => {
  Object.assign(globalThis, { setTimeout: real.setTimeout, clearTimeout: real.clearTimeout });
});

describe('a class', () => {
  class Beds {
    #free = 4;
    notes: string[] = [];
    get free() {
      return this.#free;
    }
    set limit(count: number) {
      this.#free = count;
    }
    take(count: number) {
      if (count > this.#free) return false;
      this.#free -= count;
      this.#note('taken');
      return true;
    }
    #note(text: string) {
      this.notes.push(text);
    }
    break() {
      throw new Error('broken');
    }
    hasFree() {
      return this.#free > 0;
    }
  }

  test('each call from outside is a line with its arguments, its outcome and the state after it', async () => {
    const beds = new Beds();
    const { record, lines } = recording(() => ({ free: beds.free, asked: beds.hasFree() }));
    const recorded = record.store(beds, { name: 'beds', leaveOut: ['hasFree'] });
    expect(recorded).toBeInstanceOf(Beds);
    expect(recorded.take).toBe(recorded.take);
    expect([recorded.take(3), recorded.take(9), recorded.hasFree()]).toEqual([true, false, true]);
    expect(() => {
      recorded.break();
    }).toThrow('broken');
    recorded.limit = 7;
    await idle();
    expect(lines()).toEqual([
      { do: 'beds.take', payload: [3], outcome: 'done', at: 0, state: { free: 1, asked: true } },
      expect.objectContaining({ do: 'beds.take', payload: [9], outcome: 'refused' }),
      expect.objectContaining({ do: 'beds.break', outcome: 'refused' }),
      expect.objectContaining({ do: 'beds.limit', payload: [7], state: { free: 7, asked: true } }),
    ]);
  });

  test('what cannot be recorded does not end the application, and is told once', () => {
    const { error } = console;
    let told = 0;
    console.error = () => (told += 1);
    const beds = recordOld({
      write: () => undefined,
      state: () => {
        throw new Error('no state');
      },
    }).store(new Beds());
    expect([beds.take(1), beds.take(1)]).toEqual([true, true]);
    console.error = error;
    expect(told).toBe(1);
  });
});

describe('work that takes its time', () => {
  /** A frozen object of functions over variables, as many write it. */
  function makeBoard(ask: (street: string) => Promise<unknown>) {
    let [street, houses, busy] = ['', [] as unknown, false];
    return Object.freeze({
      get shown() {
        return { street, houses, busy };
      },
      show(name: string) {
        street = name;
        busy = true;
        return ask(name).then(
          (answer) => {
            houses = answer;
            busy = false;
            return 'shown';
          },
          () => {
            busy = false;
          },
        );
      },
      clear() {
        street = '';
      },
    });
  }

  test('starts, answers and failures are lines under one name', async () => {
    const { open, ask } = service();
    const box: { board?: ReturnType<typeof makeBoard> } = {};
    const { record, lines } = recording(() => box.board?.shown);
    const board = makeBoard(
      record.service(ask, (street) => ({ operation: 'town.houses', with: street })),
    );
    box.board = board;
    const recorded = record.store(board);
    const first = recorded.show('High Street');
    void recorded.show('Low Street');
    open[1]?.reject(Object.assign(new Error('gone'), { status: 410 }));
    await idle();
    open[0]?.resolve([1, 2]);
    expect(await first).toBe('shown');
    recorded.clear();
    await idle();
    const about = { operation: 'town.houses', nth: 1, do: 'show' };
    const state = (street: string, houses: unknown, busy: boolean) => ({ street, houses, busy });
    expect(lines().map(({ at: _, outcome: __, ...line }) => line)).toEqual([
      {
        do: 'show',
        kind: 'start',
        run: 1,
        payload: ['High Street'],
        state: state('High Street', [], true),
      },
      {
        do: 'show',
        kind: 'start',
        run: 2,
        payload: ['Low Street'],
        state: state('Low Street', [], true),
      },
      {
        ...{ ...about, kind: 'fail', run: 2, with: 'Low Street' },
        payload: { message: 'gone', data: { status: 410 } },
        state: state('Low Street', [], false),
      },
      {
        ...{ ...about, kind: 'finish', run: 1, with: 'High Street' },
        payload: [1, 2],
        state: state('Low Street', [1, 2], false),
      },
      { do: 'clear', payload: [], state: state('', [1, 2], false) },
    ]);
  });

  test('calls of one store by another belong to the line that set them off, at once and after an answer', async () => {
    const { open, ask } = service();
    const seen: string[] = [];
    const { record, lines } = recording(() => ({ seen }));
    const asked = record.service(ask, () => ({ operation: 'door.open' }));
    const journal = record.store(
      { note: (text: string) => void seen.push(text), tidy: () => undefined },
      { name: 'journal' },
    );
    const door = record.store(
      {
        async open() {
          journal.note('asked');
          await asked();
          await Promise.resolve();
          journal.note('open');
        },
      },
      { name: 'door' },
    );
    // A component that goes on when the store has done its work: that is from outside again.
    const component = (async () => {
      await door.open();
      journal.tidy();
    })();
    await idle();
    open[0]?.resolve(null);
    await component;
    await idle();
    expect(lines().map(({ do: name, kind, included }) => [name, kind, included])).toEqual([
      ['door.open', 'start', ['door.open', 'journal.note']],
      ['door.open', 'finish', ['door.open', 'journal.note']],
      ['journal.tidy', undefined, undefined],
    ]);
  });

  test('a request is answered with its body; one that is given up is no answer', async () => {
    const answers = [
      () => Response.json([7]),
      () => Response.json({ code: 'full' }, { status: 409 }),
      () => new Response(null, { status: 204 }),
    ];
    const state = { got: null as unknown };
    const { record, lines } = recording(() => state);
    const fetch = record.fetch(
      (_url, init) =>
        new Promise((resolve, reject) => {
          const answer = answers.shift();
          if (answer !== undefined) resolve(answer());
          init?.signal?.addEventListener('abort', () => {
            reject(init.signal?.reason as Error);
          });
        }),
      (url) =>
        url.startsWith('/seats') ? { operation: 'hall.seats', with: url.slice(7) } : undefined,
    );
    const controller = new AbortController();
    const hall = record.store({
      async load(row: string) {
        const response = await fetch(`/seats/${row}`, { signal: controller.signal });
        state.got = response.status === 204 ? 'nothing' : await response.json();
      },
      stop() {
        controller.abort(new Error('enough'));
      },
    });
    for (const row of ['a', 'b', 'c']) await hall.load(row);
    const last = hall.load('d').catch(() => (state.got = 'given up'));
    await idle();
    hall.stop();
    await last;
    await idle();
    expect(lines().map(({ do: name, kind, payload }) => [name, kind, payload])).toEqual([
      ['load', 'start', ['a']],
      ['load', 'finish', [7]],
      ['load', 'start', ['b']],
      ['load', 'fail', { message: 'HTTP 409', data: { status: 409, code: 'full' } }],
      ['load', 'start', ['c']],
      ['load', 'finish', undefined],
      ['load', 'start', ['d']],
      ['stop', undefined, []],
    ]);
  });

  test('arguments and answers are as they were given, whatever the store does with them', async () => {
    const { open, ask } = service();
    const state = { rows: [] as number[] };
    const { record, lines } = recording(() => state);
    const asked = record.service(ask, () => ({ operation: 'shelf.rows' })) as () => Promise<
      number[]
    >;
    const shelf = record.store({
      async load(about: { only: string[] }) {
        about.only.push('changed');
        state.rows = (await asked()).sort((a, b) => a - b);
      },
    });
    const loaded = shelf.load({ only: ['new'] });
    open[0]?.resolve([3, 1, 2]);
    await loaded;
    await idle();
    expect(lines().map(({ payload }) => payload)).toEqual([[{ only: ['new'] }], [3, 1, 2]]);
    expect(state.rows).toEqual([1, 2, 3]);
  });

  test('timers that stores set are lines if they do something; those of other code stay as they are', async () => {
    const due: (() => void)[] = [];
    const set = (run: () => void) => due.push(run);
    Object.assign(globalThis, { setTimeout: set, clearTimeout: () => undefined });
    const state = { lit: false };
    const { record, lines } = recording(() => state);
    const timers = record.timers();
    const lamp = record.store({
      flash() {
        state.lit = true;
        timers.setTimeout(() => (state.lit = false), 500);
        timers.setTimeout(() => undefined, 600);
        timers.clearTimeout(timers.setTimeout(() => (state.lit = true), 700));
      },
    });
    timers.setTimeout(() => undefined, 5);
    lamp.flash();
    await idle();
    for (const go of due) {
      go();
      await idle();
    }
    expect(lines().map(({ do: name, kind, by, state: after }) => [name, kind, by, after])).toEqual([
      ['flash', 'start', undefined, { lit: true }],
      ['flash', undefined, 'timer', { lit: false }],
    ]);
  });

  test('values that come by and by are lines of their operation', async () => {
    const levels: number[] = [];
    const { record, lines } = recording(() => ({ levels }));
    const onLevel = record.listener('weir.levels', (level: number) => levels.push(level), 'north');
    onLevel(3);
    onLevel(4);
    await idle();
    expect(lines()).toMatchObject([
      {
        do: 'weir.levels',
        kind: 'each',
        operation: 'weir.levels',
        with: 'north',
        payload: 3,
        state: { levels: [3] },
      },
      { payload: 4, state: { levels: [3, 4] } },
    ]);
  });
});
