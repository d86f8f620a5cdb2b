import type { RecordedCall, Recorder, Run } from './recorder.js';
import { isPromise } from './later.js';

export type AnyFunction = (...args: never[]) => unknown;

export type ReadCall<Call extends AnyFunction> = (...args: Parameters<Call>) => RecordedCall;
export type ReadRequest = (url: string, init: RequestInit | undefined) => RecordedCall | undefined;

/** What was rejected with, as a line has it. */
interface Failure {
  readonly message: string;
  readonly data?: unknown;
}

/** A call that was made: whose, and which. */
interface Made {
  readonly run: Run | undefined;
  readonly call: RecordedCall;
  /** With which its caller may give it up. */
  readonly signal: AbortSignal | undefined;
}

export function recordedService<Call extends AnyFunction>(
  recorder: Recorder,
  call: Call,
  read: ReadCall<Call>,
): Call {
  return function (this: unknown, ...args: Parameters<Call>) {
    const made = { run: recorder.going(), call: read(...args), signal: signalIn(args) };
    const given = call.apply(this, args);
    if (!isPromise(given)) return given;
    return answered(recorder, made, given, (value) => ({ kind: 'finish', payload: value }));
  } as Call;
}

export function recordedFetch(
  recorder: Recorder,
  fetch: typeof globalThis.fetch,
  read: ReadRequest,
): typeof globalThis.fetch {
  return (input, init) => {
    const isRequest = typeof input === 'object' && 'url' in input;
    const call = read(isRequest ? input.url : String(input), isRequest ? input : init);
    if (call === undefined) return fetch(input, init);
    const made = { run: recorder.going(), call, signal: signalIn([init, input]) };
    return answered(recorder, made, fetch(input, init).then(withBody), ({ response, body }) =>
      response.ok
        ? { kind: 'finish', payload: body }
        : { kind: 'fail', payload: failureOf(response, body) },
    ).then(({ response }) => response);
  };
}

export function recordedListener<Listen extends AnyFunction>(
  recorder: Recorder,
  operation: string,
  listen: Listen,
  asked: unknown,
): Listen {
  return function (this: unknown, ...args: Parameters<Listen>) {
    const line = { do: operation, kind: 'each', operation, payload: args[0] as unknown } as const;
    recorder.arrive(asked === undefined ? line : { ...line, with: asked }, undefined, () => {
      listen.apply(this, args);
    });
  } as Listen;
}

/** What a call comes to, when its turn has come: then it is a line. */
function answered<Value>(
  recorder: Recorder,
  { run, call, signal }: Made,
  given: Promise<Value>,
  lineOf: (value: Value) => { readonly kind: 'finish' | 'fail'; readonly payload: unknown },
): Promise<Value> {
  const about = { do: run?.do ?? call.operation, operation: call.operation };
  const asked = call.with === undefined ? {} : { with: call.with };
  const base = { ...about, ...asked, nth: recorder.count(call) };
  return new Promise((resolve, reject) => {
    given.then(
      (value) => {
        recorder.arrive({ ...base, ...lineOf(value) }, run, () => {
          resolve(value);
        });
      },
      (error: unknown) => {
        const pass = () => {
          // eslint-disable-next-line @typescript-eslint/prefer-promise-reject-errors -- what the service rejects with
          reject(error);
        };
        if (signal?.aborted !== true)
          recorder.arrive({ ...base, kind: 'fail', payload: failureFrom(error) }, run, pass);
        // It follows from what gave it up: of that there is a line, unless the platform did.
        else if (recorder.isUnderWay) pass();
        else recorder.arrive({ do: about.do, by: 'timer' }, run, pass);
      },
    );
  });
}

/** The signal among what a call was given, or in it. */
function signalIn(args: readonly unknown[]): AbortSignal | undefined {
  const signals = args.map((one) =>
    typeof one === 'object' && one !== null && 'signal' in one ? one.signal : one,
  );
  return signals.find((one) => one instanceof AbortSignal);
}

/** What was thrown: its message, and what else it carries. */
function failureFrom(error: unknown): Failure {
  if (typeof error !== 'object' || error === null) return { message: '', data: error };
  const { message, ...data } = error as { readonly message?: unknown };
  const text = typeof message === 'string' ? message : '';
  return Object.keys(data).length === 0 ? { message: text } : { message: text, data };
}

const failureOf = ({ status }: Response, body: unknown): Failure => ({
  message: `HTTP ${status}`,
  data: { status, ...(typeof body === 'object' && body !== null && body) },
});

/** A response whose body is there, so that what reads it goes on at once. */
async function withBody(given: Response): Promise<{ response: Response; body: unknown }> {
  const text = await given.clone().text();
  let body: unknown = text === '' ? undefined : text;
  try {
    body = JSON.parse(text);
  } catch {
    // It is a text then.
  }
  const reading = {
    text: () => Promise.resolve(text),
    json: () => new Promise((resolve) => void resolve(JSON.parse(text))),
  };
  return { response: Object.assign(given, reading), body };
}
