import { parentPort, workerData } from 'node:worker_threads';
import { shrinkFailing, type Shrunk } from '../explore/crew.js';
import type { Difference } from '../explore/difference.js';
import type { Searching } from '../explore/searching.js';
import { runUnit, type UnitResult } from '../explore/unit.js';
import { LoadError } from '../load/load-error.js';
import { plainValue } from '../load/plain-value.js';
import { SharedWatchdog } from '../load/watchdog.js';
import type { Answer, Order, WorkerStart } from './messages.js';
import { searchingOf } from './searching-of.js';
import { tryFault } from './try-fault.js';

/** A worker: makes the participants ready once, then does what it is asked for, one order after the other. */
const { cast, memory } = workerData as WorkerStart;
const watchdog = new SharedWatchdog(memory);
const port = parentPort;
if (port === null) throw new Error('this is the code of a worker');

const answer = (message: Answer): void => {
  port.postMessage(message);
};

let searching: Searching | undefined;
try {
  searching = await searchingOf(cast, watchdog);
  answer({
    kind: 'ready',
    participants: searching.participants.map(({ name, has }) =>
      has === undefined ? { name } : { name, has },
    ),
  });
} catch (error) {
  if (!(error instanceof LoadError)) throw error;
  answer({ kind: 'unusable', path: error.path, detail: error.detail });
}

port.on('message', (order: Order) => {
  if (searching !== undefined)
    work(searching, order).catch((error: unknown) => {
      answer({ kind: 'fault', error: error instanceof Error ? error : new Error(String(error)) });
    });
});

async function work(searching: Searching, order: Order): Promise<void> {
  if (order.kind === 'shrink') {
    const shrunk = await shrinkFailing(searching, order.failing);
    answer({ kind: 'shrink', shrunk: sendable(shrunk) });
    return;
  }
  if (order.kind === 'fault') {
    const clock = () => performance.now();
    const { msLeft, ...options } = order.options;
    const until = clock() + msLeft;
    const result = await tryFault(cast.application, order.folder, { ...options, clock, until });
    answer({ kind: 'tried', result });
    return;
  }
  const isOver = () => Promise.resolve(watchdog.isOver);
  const result = await runUnit(searching, order.unit, order.known, isOver);
  answer({ kind: 'unit', result: sendableResult(result) });
}

function sendableResult(result: UnitResult): UnitResult {
  const { found } = result;
  return found === undefined ? result : { ...result, found: sendable(found) };
}

/** What a participant showed may be anything: what cannot be sent is named. */
function sendable<T extends Pick<Shrunk, 'difference'>>(found: T): T {
  const { difference } = found;
  const plain: Difference = {
    ...difference,
    expected: plainValue(difference.expected),
    actual: plainValue(difference.actual),
  };
  return { ...found, difference: plain };
}
