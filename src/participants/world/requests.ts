import type { RequestOptions } from '../../model/external.js';
import type { Signal } from '../../model/participant.js';
import { thrownMessage } from '../../base/thrown-message.js';
import { current } from './world.js';

const idle: Signal = { aborted: false, addEventListener: () => undefined };

/** What a request says that is an object, with the options that are given beside it. */
async function optionsOf(input: Request, init?: RequestOptions): Promise<RequestOptions> {
  const body = input.body === null ? {} : { body: await input.clone().text() };
  return { method: input.method, signal: input.signal, ...body, ...init };
}

/** A request, as a call of the operation that the participant file says it is. */
export function fetched(input: unknown, init?: RequestOptions): Promise<unknown> {
  // The text of a request that is an object has to be waited for; others are called at once.
  if (input instanceof Request)
    return optionsOf(input, init).then((options) => asked(input.url, options));
  const url = typeof input === 'object' && input !== null && 'href' in input ? input.href : input;
  return asked(String(url), init);
}

function asked(url: string, init: RequestOptions | undefined): Promise<unknown> {
  const { services, globals } = current();
  const { request, response } = globals;
  return new Promise((resolve, reject) => {
    const signal = init?.signal ?? idle;
    const abort = () => {
      reject((signal as AbortSignal).reason as Error);
    };
    if (signal.aborted) {
      abort();
      return;
    }
    if (request === undefined || response === undefined)
      throw new TypeError(
        "fetch was called, and the participant file has no 'request' and 'response'",
      );
    const meant = request(url, init);
    const [service = '', operation = ''] = meant.operation.split('.');
    const call = services[service]?.[operation];
    if (call === undefined)
      throw new TypeError(
        `'request' gives '${meant.operation}', which is no operation of the schema`,
      );
    signal.addEventListener('abort', abort);
    Promise.resolve(call(meant.with, signal))
      .then(
        (result: unknown) => response(meant.operation, { result }),
        (error: unknown) => response(meant.operation, { error, message: thrownMessage(error) }),
      )
      .then(resolve, reject);
  });
}
