import { workerData } from 'node:worker_threads';
import { watchTurns } from '../base/turn.js';
import { thrownText } from '../base/thrown-text.js';
import {
  type Difference,
  type Searching,
  runWorkItem,
  type WorkResult,
} from '../comparing/index.js';
import { LoadError, plainValue, SharedWatchdog } from '../participants/index.js';
import type { Answer, Order, WorkerStart } from './messages.js';
import { ReplayOrders } from './replay-orders.js';
import { searchingOf, type CountedSearching } from './searching-of.js';
import { tryFault } from './try-fault.js';

/** A worker: makes the participants ready once, then does what it is asked for, one order after the other. */
const { cast, memory, port } = workerData as WorkerStart;
const watchdog = new SharedWatchdog(memory);
watchTurns(watchdog.turns);
// Code of the user's may replace what it finds on the way there.
const post = port.postMessage.bind(port);

const answer = (message: Answer): void => {
  post(message);
};

let searching: CountedSearching | undefined;
let replays: ReplayOrders | undefined;
try {
  searching = await searchingOf(cast, watchdog);
  replays = new ReplayOrders(searching, watchdog);
  answer({
    kind: 'ready',
    ways: searching.told,
    participants: searching.participants.map(({ name, has, refusesMisfits, judgesAnswers }) => ({
      name,
      ...(has === undefined ? {} : { has }),
      ...(refusesMisfits === undefined ? {} : { refusesMisfits }),
      ...(judgesAnswers === undefined ? {} : { judgesAnswers }),
    })),
  });
} catch (error) {
  if (!(error instanceof LoadError)) throw error;
  answer({ kind: 'unusable', path: error.path, detail: error.detail });
}

port.on('message', (order: Order) => {
  if (searching !== undefined) void answerTo(searching, order);
});

/** Does what is asked for. Where code of the user's has changed what everybody uses, nothing else counts. */
async function answerTo(searching: CountedSearching, order: Order): Promise<void> {
  let done: Answer;
  try {
    done = await work(searching, order);
  } catch (error) {
    done = { kind: 'fault', error: error instanceof Error ? error : new Error(thrownText(error)) };
  }
  const changed = changedBy(searching);
  if (changed === '') {
    answer(done);
    return;
  }
  const detail = `while it runs, it changes globals that the generated stores use too: ${changed}`;
  answer({ kind: 'unusable', path: cast.external[0]?.path ?? '', detail });
}

/** The names of what code of the user's has changed. Lists may not be what they were: nothing of them is called. */
function changedBy({ participants }: Searching): string {
  let names = '';
  for (let i = 0; i < participants.length; i++) {
    const changed = participants[i]?.changedGlobals?.() ?? [];
    for (let j = 0; j < changed.length; j++) names += `${names === '' ? '' : ', '}${changed[j]}`;
  }
  return names;
}

async function work(searching: Searching, order: Order): Promise<Answer> {
  if (order.kind === 'replay') {
    if (replays === undefined) throw new Error('the participants are not ready');
    return replays.do(order.replay);
  }
  if (order.kind === 'fault') {
    const clock = () => performance.now();
    const { msLeft, ...options } = order.options;
    const until = clock() + msLeft;
    const result = await tryFault(cast.application, order.folder, { ...options, clock, until });
    return { kind: 'tried', result };
  }
  const isOver = () => Promise.resolve(watchdog.isOver);
  const result = await runWorkItem(searching, order.item, order.known, isOver);
  return { kind: 'work', result: sendable(result) };
}

/** What a participant showed may be anything: what cannot be sent is named. With it goes what came before. */
function sendable(result: WorkResult): WorkResult {
  const { found } = result;
  if (found === undefined) return result;
  const difference: Difference = {
    ...found.difference,
    expected: plainValue(found.difference.expected),
    actual: plainValue(found.difference.actual),
  };
  const earlier = watchdog.runs.earlier.map((steps) => ({ steps: [...steps] }));
  return { ...result, found: { ...found, difference, earlier } };
}
