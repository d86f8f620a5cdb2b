import { AsyncResource } from 'node:async_hooks';
import { isObject } from '../base/json.js';
import { thrownMessage } from '../base/thrown-message.js';
import type { Application } from '../model/application.js';
import type { Services } from '../model/participant.js';
import { plainValue } from './plain-value.js';

/**
 * Services as old code calls them: what they are given may be changed afterwards, and a property that is `undefined` counts as
 * absent. Unless data is wanted, failures are errors, as those of most clients are: with the message, and the data beside it.
 */
export function asCalled(services: Services, isData: boolean): Services {
  const wrapped =
    (call: Services[string][string]): Services[string][string] =>
    (payload, signal) => {
      const answer = call(taken(payload), signal);
      if (isFollowed(answer)) return followedFromHere(answer);
      if (isData || !(answer instanceof Promise)) return answer;
      return answer.catch((thrown: unknown) => {
        throw errorOf(thrown);
      });
    };
  const each = <T, R>(table: Readonly<Record<string, T>>, of: (one: T) => R) =>
    Object.fromEntries(Object.entries(table).map(([name, one]) => [name, of(one)]));
  return each(services, (operations) => each(operations, wrapped));
}

/** A stream of values, to be observed. */
interface FollowedAnswer {
  subscribe(observer: Readonly<Record<string, unknown>>): unknown;
}

const isFollowed = (answer: unknown): answer is FollowedAnswer =>
  isObject(answer) && typeof answer.subscribe === 'function';

/** Whoever gives the values, what observes them is code of the instance that has subscribed. */
const followedFromHere = (answer: FollowedAnswer): FollowedAnswer => ({
  subscribe: (observer) =>
    answer.subscribe(
      Object.fromEntries(
        Object.entries(observer).map(([name, told]) => [
          name,
          typeof told === 'function' ? AsyncResource.bind(told.bind(observer) as Call) : told,
        ]),
      ),
    ),
});

type Call = (...given: readonly unknown[]) => unknown;

/** A copy, also of what a framework has wrapped. */
function taken(payload: unknown): unknown {
  const plain = plainValue(payload);
  if (typeof plain !== 'object' || plain === null) return plain;
  try {
    return structuredClone(plain);
  } catch {
    return JSON.parse(JSON.stringify(plain)) as unknown;
  }
}

/** An error with the message that the schema reads of a rejection, and what else stands in it. */
function errorOf(thrown: unknown): Error {
  if (thrown instanceof Error) return thrown;
  const { message: _, ...data } = isObject(thrown) ? thrown : {};
  return Object.assign(new Error(thrownMessage(thrown)), data);
}

/** Services that answer nothing: a promise that is never kept, or a stream without values. */
export function unanswered({ services }: Application): Services {
  return Object.fromEntries(
    services.map(({ name, operations }) => [
      name,
      Object.fromEntries(
        operations.map((operation) => [
          operation.name,
          () =>
            operation.results === undefined
              ? new Promise(() => undefined)
              : { subscribe: () => ({ unsubscribe: () => undefined }) },
        ]),
      ),
    ]),
  );
}
