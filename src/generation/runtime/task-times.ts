// Calls that take too long, are made again, or are made from time to time.
import type { LiveRun } from './call.js';
import type { Ask } from './engine.js';
import { waitable, type Runner, type TaskPlan } from './task-plan.js';

/** Milliseconds, or a function that gives them. */
type Time = number | Ask;

/** The milliseconds of a time; nothing if finding them has failed: then the run fails. */
function msOf(tasks: Runner, live: LiveRun, what: string, of: Time, more?: object) {
  return tasks.find(live, what, (run) => {
    const ms = typeof of === 'number' ? of : waitable(tasks.answer(of, run, more) as number);
    if (ms === undefined) throw new RangeError('No timer can wait as long as that.');
    return ms;
  })?.value;
}

/** A call has failed after some milliseconds. */
export const within =
  (limit: Time): NonNullable<TaskPlan['timeLimit']> =>
  (tasks, live) =>
    msOf(tasks, live, 'timeLimit', limit);

/** How often a call is made again, after how many milliseconds, and after which errors. */
interface Again {
  readonly times: number;
  readonly wait?: Time;
  readonly when?: Ask;
}

/** A call that has failed is made again. */
export const again =
  ({ times, wait = 0, when }: Again): NonNullable<TaskPlan['retry']> =>
  (tasks, live, error) => {
    if (live.attempt >= times) return false;
    const more = { error, attempt: live.attempt + 1 };
    if (when !== undefined) {
      const wanted = tasks.find(live, 'retry', (run) => tasks.answer(when, run, more));
      if (wanted === undefined) return true;
      if (wanted.value !== true) return false;
    }
    const ms = msOf(tasks, live, 'retry', wait, more);
    if (ms !== undefined) tasks.callAgain(live, ms, error);
    return true;
  };

/** Milliseconds after the end of a round the next begins. */
export const repeating =
  (every: Time): NonNullable<TaskPlan['every']> =>
  (tasks, live, act) => {
    const changed = tasks.transact(act);
    live.attempt = 0;
    tasks.then(() => {
      const ms = msOf(tasks, live, 'every', every);
      if (ms === undefined) return;
      const work = tasks.timed(live, () => {
        tasks.turn(live, (run) => {
          try {
            const isNew = tasks.transact(() => {
              tasks.restart(live.name, run);
            });
            tasks.then(() => {
              tasks.call(live);
            });
            return isNew;
          } catch (error) {
            return tasks.endWith(live, tasks.errorOf(live, 'start', error));
          }
        });
      });
      live.after(ms, work);
    });
    return changed;
  };
