// Streams that come from outside: by the ECMAScript Observable contract, or as async iterables.
import { errorOf } from './answers.js';
import type { Listener } from './call.js';
import type { TaskStream } from './task-plan.js';

interface Subscribable {
  subscribe(observer: object): { unsubscribe?(): void } | (() => void) | undefined;
}

const observable =
  (Reflect.get(Symbol, 'observable') as unknown as string | undefined) ?? '@@observable';

/** Listens to a stream up to its end; returns what ends it before, or nothing if it is no stream. */
function listen(stream: unknown, { next, error, end }: Listener): (() => void) | undefined {
  if (Object(stream) !== stream) return undefined;
  const of = stream as Record<string, unknown> & Partial<AsyncIterable<unknown>>;
  let isOver = false;
  const last = (tell: (value: unknown) => void) => (value: unknown) => {
    if (isOver) return;
    isOver = true;
    tell(value);
  };
  const [fail, complete] = [last(error), last(end)];
  const made = of[observable];
  const source = (typeof made === 'function' ? made.call(of) : of) as Partial<Subscribable>;
  let stop: () => void;
  try {
    if (typeof source.subscribe === 'function') {
      const subscription = source.subscribe({
        next: (value: unknown) => {
          if (!isOver) next(value);
        },
        error: fail,
        complete,
      });
      stop = () => {
        if (typeof subscription === 'function') subscription();
        else subscription?.unsubscribe?.();
      };
    } else {
      const iterator = of[Symbol.asyncIterator]?.();
      if (iterator === undefined) return undefined;
      const go = (): void => {
        Promise.resolve(iterator.next()).then((result) => {
          if (isOver) return;
          if (result.done === true) complete(result.value);
          else {
            next(result.value);
            go();
          }
        }, fail);
      };
      go();
      stop = () => {
        Promise.resolve(iterator.return?.()).catch(() => undefined);
      };
    }
  } catch (thrown) {
    fail(thrown);
    return () => undefined;
  }
  return () => {
    if (isOver) return;
    isOver = true;
    stop();
  };
}

/** A call gives one value after the other: each that fits is taken in a transaction of its own. */
export const stream: TaskStream = {
  listen,
  take(tasks, live, run, value) {
    const taken = tasks.judged(live, value, 'results');
    if (taken === undefined) {
      live.quit(true);
      return tasks.lost(live, run, errorOf('bad result'));
    }
    try {
      const changed = tasks.transact(() => {
        tasks.perform(live.name, 'each', run, { result: taken.value });
      });
      live.attempt = 0;
      return changed;
    } catch (error) {
      live.quit(true);
      return tasks.fail(live, run, tasks.errorOf(live, 'each', error));
    }
  },
};
