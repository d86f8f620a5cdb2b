import { beforeAll, expect, test } from '@jest/globals';
import { createRequire } from 'node:module';
import { stripVTControlCharacters } from 'node:util';
import { loadModules } from '../../src/participants/load-modules.js';
import { ferryText, foldersOf, modelOf } from '../helpers.js';

const { runTests } = createRequire(import.meta.url)('es-observable-tests') as {
  runTests(constructor: unknown): Promise<unknown>;
};

interface Observer {
  next(value: unknown): void;
  error(): void;
  complete(): void;
}

let Observable: new (subscriber: (observer: Observer) => unknown) => object;
beforeAll(async () => {
  const [folder] = await foldersOf(await modelOf(ferryText), ['observable']);
  const { Watchable } = loadModules(folder?.files ?? [], 'runtime/watchable.ts') as {
    Watchable: abstract new () => object;
  };
  /** The suite makes its streams with a function; those of stores have their values from stores. All else is theirs. */
  Observable = class extends Watchable {
    constructor(readonly subscriber: (observer: Observer) => unknown) {
      super();
    }

    watch(changed: (now: unknown) => void) {
      const observer = { next: changed, error: () => undefined, complete: () => undefined };
      const stop = this.subscriber(observer);
      return typeof stop === 'function' ? (stop as () => void) : () => undefined;
    }
  };
  for (const key of Reflect.ownKeys(Watchable.prototype as object))
    if (key !== 'constructor') {
      const own = Reflect.getOwnPropertyDescriptor(Watchable.prototype as object, key);
      if (own !== undefined) Object.defineProperty(Observable.prototype, key, own);
    }
});

/** What the suite found in a group of tests: `test: claim`, by whether it holds. */
async function found(group: string): Promise<{ holds: string[]; fails: string[] }> {
  const printed: string[] = [];
  const { log } = console;
  console.log = (line: unknown) => void printed.push(String(line));
  try {
    await runTests(Observable);
  } finally {
    console.log = log;
  }
  const result = { holds: [] as string[], fails: [] as string[] };
  let [inGroup, test] = [false, ''];
  for (const line of stripVTControlCharacters(printed.join('\n')).split('\n')) {
    if (/^(?:Subscription)?Observ/.test(line)) inGroup = line === group;
    else if (/^ {2}\S/.test(line)) test = line.trim();
    const [, claim, verdict] = /^ {4}(\S.*) (OK|FAIL)$/.exec(line) ?? [];
    if (inGroup && claim !== undefined)
      (verdict === 'OK' ? result.holds : result.fails).push(`${test}: ${claim}`);
  }
  return result;
}

test('streams keep what subscribe() promises, but for what stores have not', async () => {
  const { holds, fails } = await found('Observable.prototype.subscribe');
  expect(new Set(fails)).toEqual(
    new Set([
      // A store never ends, and never fails: nobody is told of it.
      'Function arguments: Second argument is error callback',
      'Function arguments: Third argument is complete callback',
      'Function arguments: Second and third arguments are optional',
      'Cleanup function: The cleanup function is called when an error is sent to the sink',
      'Cleanup function: The cleanup function is called when a complete is sent to the sink',
      'Exceptions thrown from the subscriber: Subscribe does not throw if the observer has an error method',
      'Exceptions thrown from the subscriber: Subscribe sends an error to the observer',
      // Nobody but the store makes streams: what else could be returned there does not matter.
      'Subscriber return types: Non callable, non-subscription objects cannot be returned',
      'Subscriber return types: Non-functions cannot be returned',
      'Cleanup function: If a subscription is returned, then unsubscribe is called on cleanup',
      'Cleanup function: Arguments are not forwarded to the unsubscribe function',
      // The drafts since then have given it up.
      'Returns a subscription object: Contructor property is Object',
    ]),
  );
  expect(holds.length).toBeGreaterThan(40);
});

test('streams are what Symbol.observable gives', async () => {
  const { holds, fails } = await found('Observable.prototype[Symbol.observable]');
  expect([holds.length, fails]).toEqual([7, []]);
});

test('next() is looked up when there is a value', async () => {
  const { holds } = await found('SubscriptionObserver.prototype.next');
  expect(holds).toEqual(
    expect.arrayContaining([
      'Input value: Input value is forwarded to the observer',
      'Method lookup: If property does not exist, then next returns undefined',
      'Method lookup: If property is null, then next returns undefined',
      'Method lookup: Method is not accessed until complete is called',
      'Method lookup: Property is only accessed once during a lookup',
    ]),
  );
});
