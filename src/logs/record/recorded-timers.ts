import type { Recorder, Run } from './recorder.js';

/** The functions of a page that have to do with timers. */
export type TimerFunctions = Pick<
  typeof globalThis,
  'setTimeout' | 'clearTimeout' | 'setInterval' | 'clearInterval'
>;

type Callback = (...args: unknown[]) => void;

/** Timers that recorded methods set become lines when they go off; those of other code stay as they are. */
export function recordedTimers(recorder: Recorder): TimerFunctions {
  const { setTimeout, clearTimeout, setInterval, clearInterval } = globalThis;
  recorder.recordTimers();
  /** Those that may still go off; one that waits for its turn may be cleared. */
  const live = new Set<unknown>();
  const later = (run: Run, id: () => unknown, isRepeated: boolean, callback: () => void) => () => {
    recorder.arrive(
      { do: run.do, by: 'timer' },
      run,
      () => {
        if (!live.has(id())) return;
        if (!isRepeated) live.delete(id());
        callback();
      },
      true,
    );
  };
  const setter =
    (set: (callback: Callback, ms?: number) => unknown, isRepeated: boolean) =>
    (callback: Callback, ms?: number, ...args: unknown[]) => {
      const run = recorder.going();
      if (run === undefined || typeof callback !== 'function')
        return (set as (...all: unknown[]) => unknown)(callback, ms, ...args);
      const go = () => {
        callback(...args);
      };
      const id: unknown = set(
        later(run, () => id, isRepeated, go),
        ms,
      );
      live.add(id);
      return id;
    };
  const clearer = (clear: (id: never) => void) => (id: unknown) => {
    live.delete(id);
    clear(id as never);
  };
  return {
    setTimeout: setter(setTimeout, false) as unknown as typeof globalThis.setTimeout,
    setInterval: setter(setInterval, true) as unknown as typeof globalThis.setInterval,
    clearTimeout: clearer(clearTimeout),
    clearInterval: clearer(clearInterval),
  };
}
