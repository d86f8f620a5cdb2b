import type { Environment } from '../model/participant.js';
import type { Operation } from '../model/tasks.js';
import type { LiveRun } from './live-run.js';
import { listen, streamIn } from './streams.js';

/** A call of a run: what is asked of whom, and for how long at most. */
export interface Call {
  readonly service: string;
  readonly operation: Operation;
  readonly given: unknown;
  /** In milliseconds; for a stream up to its first value. */
  readonly limit: number | undefined;
}

/** Who is told what comes of a call. `isCurrent` says whether that still counts when its turn comes. */
export interface Caller {
  readonly value: (value: unknown, isCurrent: () => boolean) => void;
  readonly answer: (result: unknown, isCurrent: () => boolean) => void;
  readonly reject: (error: unknown, isCurrent: () => boolean) => void;
  readonly noStream: (isCurrent: () => boolean) => void;
  readonly expired: () => void;
}

/** Makes a call for a run. */
export function makeCall(
  live: LiveRun,
  { service, operation, given, limit }: Call,
  environment: Environment,
  caller: Caller,
): void {
  const call = ++live.calls;
  const controller = new AbortController();
  live.controller = controller;
  const isCurrent = () => live.calls === call;
  const unlimit =
    limit === undefined
      ? () => undefined
      : live.after(limit, () => {
          if (!isCurrent()) return;
          live.quit();
          caller.expired();
        });
  const last = (tell: () => void): void => {
    if (!isCurrent()) return;
    unlimit();
    live.answered();
    tell();
  };
  const reject = (error: unknown): void => {
    last(() => {
      caller.reject(error, isCurrent);
    });
  };
  const answer = (result: unknown): void => {
    last(() => {
      caller.answer(result, isCurrent);
    });
  };
  const next = (value: unknown): void => {
    if (!isCurrent()) return;
    unlimit();
    caller.value(value, isCurrent);
  };
  try {
    const asked = environment.services?.[service]?.[operation.name];
    if (asked === undefined) throw new Error(`'${service}.${operation.name}' is not given`);
    const said = asked(given, controller.signal);
    if (operation.results === undefined) {
      if (isThenable(said)) void Promise.resolve(said).then(answer, reject);
      else answer(said);
      return;
    }
    const stream = streamIn(said);
    if (stream === undefined) {
      last(() => {
        caller.noStream(isCurrent);
      });
      return;
    }
    const stop = listen(stream, { next, error: reject, end: answer });
    if (isCurrent() && live.controller !== undefined) live.stop = stop;
  } catch (error) {
    reject(error);
  }
}

function isThenable(value: unknown): value is PromiseLike<unknown> {
  const isObject = (typeof value === 'object' && value !== null) || typeof value === 'function';
  return isObject && typeof (value as { then?: unknown }).then === 'function';
}
