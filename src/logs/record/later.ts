export const isPromise = (value: unknown): value is Promise<unknown> => value instanceof Promise;

type Job = () => void;

/** Node has it, and browsers do not. */
declare const setImmediate: ((job: Job) => unknown) | undefined;

/** Runs a job when all microtasks are done, before anything else if the platform can. */
export const afterMicrotasks: (job: Job) => void =
  typeof setImmediate === 'function'
    ? (
        (later) => (job: Job) =>
          void later(job)
      )(setImmediate)
    : typeof MessageChannel === 'function'
      ? byMessages()
      : (
          (later) => (job: Job) =>
            void later(job, 0)
        )(setTimeout);

function byMessages(): (job: Job) => void {
  const { port1, port2 } = new MessageChannel();
  const jobs: Job[] = [];
  port1.addEventListener('message', () => jobs.shift()?.());
  port1.start();
  return (job) => {
    jobs.push(job);
    port2.postMessage(null);
  };
}
