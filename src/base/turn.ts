import { setImmediate, setTimeout } from 'node:timers';

/** Who is told how long others have their turn: they may never let go of it. */
export interface TurnWatcher {
  begin(): void;
  end(): void;
}

let watcher: TurnWatcher = { begin: () => undefined, end: () => undefined };

/** Tells somebody of all turns in this thread from now on. */
export function watchTurns(by: TurnWatcher): void {
  watcher = by;
}

function turn(wait: (over: () => void) => unknown): Promise<void> {
  watcher.begin();
  return new Promise((resume) => {
    wait(() => {
      watcher.end();
      resume();
    });
  });
}

/** Lets everything else that waits have its turn. Code of the user's may have replaced the global functions. */
export const nextTurn = (): Promise<void> => turn((over) => setImmediate(over));

/** Waits so many milliseconds. */
export const pause = (ms: number): Promise<void> => turn((over) => setTimeout(over, ms));
