import { describe, expect, test } from '@jest/globals';
import { nextTurn } from '../../src/base/turn.js';
import { loadModules } from '../../src/participants/load-modules.js';
import { allStyles, foldersOf, modelOf } from '../helpers.js';
import { participantNames, start } from '../participants.js';

const schema = `
leeshore: 1
types: { Price: { fields: { kind: string, more: { list: Price } } } }
services:
  office:
    operations:
      price: { payload: string, result: Price, error: Price, extra: drop }
      prices: { results: Price, error: Price }
stores:
  tariff:
    state: { busy: { type: boolean, default: false }, said: { list: string } }
    tasks:
      ask:
        payload: string
        operation: office.price
        start: [{ set: { busy: true } }]
        finish: [{ set: { busy: false } }, { append: { to: said, value: "'done'" } }]
        fail: [{ set: { busy: false } }, { append: { to: said, value: "\`\${error.kind}:\${error.message}\`" } }]
      follow:
        operation: office.prices
        start: [{ set: { busy: true } }]
        each: [{ append: { to: said, value: "result.kind" } }]
        finish: [{ set: { busy: false } }]
        fail: [{ set: { busy: false } }, { append: { to: said, value: "\`\${error.kind}:\${error.message}\`" } }]
`;

const deep = () => {
  let price: object = { kind: 'deep', more: [] };
  for (let i = 0; i < 5000; i++) price = { kind: 'deep', more: [price] };
  return price;
};
const throwing = (name: string) => ({
  kind: 'price',
  more: [],
  get [name](): never {
    throw new Error('not to be read');
  },
});
const closed = () => {
  const { proxy, revoke } = Proxy.revocable({ kind: '', more: [] }, {});
  revoke();
  return proxy;
};
const reject = (error: unknown) => () =>
  // eslint-disable-next-line @typescript-eslint/prefer-promise-reject-errors -- what services do reject with
  Promise.reject(error);

/** What the service does, and what the task ends with. */
const cases: readonly (readonly [string, () => unknown, string])[] = [
  ['an answer of 5,000 levels', deep, 'bad result:bad result'],
  ['an answer of 5,000 levels, later', () => Promise.resolve(deep()), 'bad result:bad result'],
  ['an answer with a property that throws', () => throwing('kind'), 'bad result:bad result'],
  ['an answer with a list that throws', () => throwing('more'), 'bad result:bad result'],
  [
    'an answer that cannot be looked at',
    () => Promise.resolve([closed()]),
    'bad result:bad result',
  ],
  ['a rejection whose message throws', reject(throwing('message')), 'rejected:'],
  ['a rejection with data that throws', reject(throwing('more')), 'rejected:[object Object]'],
  ['a rejection of 5,000 levels', reject(deep()), 'rejected:[object Object]'],
  ['a rejection that cannot be looked at', reject(closed()), 'rejected:'],
];

describe.each(participantNames)('%s: the task ends, and says so, after', (name) => {
  test.each(cases)('%s', async (_, price, said) => {
    const { running, reports } = await start(schema, name, {
      services: { office: { price } },
    });
    const outcome = running.start?.('tariff', 'ask', 'car');
    await nextTurn();
    expect(running.read()).toEqual({ tariff: { busy: false, said: [said] } });
    expect(running.tasks?.()['tariff']?.['ask' as never]).toMatchObject({ running: false });
    expect(reports).toEqual([]);
    const { ended } = outcome as unknown as { ended: Promise<{ status: string }> };
    expect((await ended).status).toBe('failed');
  });

  test('one of many values that throws', async () => {
    const { running, reports } = await start(schema, name, {
      services: {
        office: {
          prices: async function* () {
            await nextTurn();
            yield { kind: 'bus', more: [] };
            yield throwing('kind');
          },
        },
      },
    });
    running.start?.('tariff', 'follow', undefined);
    for (let i = 0; i < 5; i++) await nextTurn();
    expect(running.read()).toEqual({
      tariff: { busy: false, said: ['bus', 'bad result:bad result'] },
    });
    expect(reports).toEqual([]);
  });
});

test.each(allStyles)('%s: such answers do not stop the log', async (style) => {
  const [folder] = await foldersOf(await modelOf(schema), [style], { log: true });
  const { createStores } = loadModules(folder?.files ?? [], 'index.ts');
  for (const [, price, said] of cases) {
    const lines: { kind?: string; changes?: { value?: unknown }[] }[] = [];
    const app = (createStores as (options: object) => Record<string, never>)({
      log: { write: (line: object) => lines.push(line) },
      services: { office: { price } },
    });
    if (style === 'reducer')
      (app['dispatch'] as unknown as (action: object) => void)({
        type: 'tariff.ask',
        payload: 'car',
      });
    else (app['stores'] as unknown as { tariff: { ask(of: string): void } }).tariff.ask('car');
    await nextTurn();
    const last = lines.at(-1);
    expect(last?.kind).toBe('fail');
    expect(last?.changes).toContainEqual(expect.objectContaining({ value: said }));
  }
});
