import { setImmediate, setTimeout } from 'node:timers';

/** Lets everything else that waits have its turn. Code of the user's may have replaced the global functions. */
export function nextTurn(): Promise<void> {
  return new Promise((resume) => setImmediate(resume));
}

/** Waits so many milliseconds. */
export function pause(ms: number): Promise<void> {
  return new Promise((resume) => setTimeout(resume, ms));
}
