import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { describe, expect, test } from '@jest/globals';
import { participantNames, start } from '../participants.js';
import { pier } from './task-promises.js';
import { isSoak } from '../sweep.js';

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

/** What the stores have asked of the world and not given back. */
class Held {
  timers = 0;
  calls = 0;
  streams = 0;

  readonly services = {
    office: {
      boats: (_: unknown, signal: AbortSignal) => this.#call(signal),
      note: (_: unknown, signal: AbortSignal) => this.#call(signal),
      count: (_: unknown, signal: AbortSignal) => this.#call(signal),
      tides: () => ({
        subscribe: () => {
          this.streams++;
          return () => this.streams--;
        },
      }),
    },
  };

  readonly #due = new Map<number, () => void>();
  readonly environment = {
    services: this.services,
    timers: {
      setTimeout: (work: () => void) => {
        this.#due.set((this.timers += 1), work);
        return this.timers;
      },
      clearTimeout: (timer: unknown) => void this.#due.delete(timer as number),
    },
  };

  get all() {
    return { timers: this.#due.size, calls: this.calls, streams: this.streams };
  }

  #call(signal: AbortSignal): Promise<never> {
    this.calls++;
    signal.addEventListener('abort', () => this.calls--, { once: true });
    return new Promise(() => undefined);
  }
}

const heap = (): number => {
  collect();
  collect();
  return process.memoryUsage().heapUsed;
};

/** Each begins seven runs; `npm run soak` does more. */
const [first, others] = isSoak ? [300, 1200] : [20, 80];

describe.each(participantNames)('%s', (name) => {
  test('keeps nothing of thousands of tasks that were started and abandoned', async () => {
    const held = new Held();
    const { running } = await start(pier, name, held.environment as never);
    const rounds = async (count: number) => {
      for (let i = 0; i < count; i++) {
        running.start?.('pier', 'load', 'mon');
        running.start?.('pier', 'beside', 'a');
        running.start?.('pier', 'queued', 'b');
        running.start?.('pier', 'queued', 'c');
        running.start?.('pier', 'later', 50);
        running.start?.('pier', 'count', 1);
        running.start?.('pier', 'hear', 'x');
        running.send('pier', 'leave', undefined);
        running.send('pier', 'setLog', []);
        if (i % 100 === 99) await new Promise(setImmediate);
      }
    };
    await rounds(first);
    expect(held.all).toEqual({ timers: 0, calls: 0, streams: 0 });
    const before = heap();
    await rounds(others);
    expect(held.all).toEqual({ timers: 0, calls: 0, streams: 0 });
    // Well under what a single object for each run would take.
    expect(heap() - before).toBeLessThan(600_000);
  });
});
