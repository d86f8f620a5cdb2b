import { expect, test } from '@jest/globals';
import { compareStores } from '../../src/jobs/compare.js';
import { foldersOf, modelOf, unlimited } from '../helpers.js';

/** What tasks are started with, and what they bind, is made of lists that the same transaction changes. */
const schema = `
leeshore: 1
types:
  Car: { fields: { id: string, len: number } }
stores:
  quay:
    state:
      cars: { list: Car, by: id, setter: setCars }
      seen: { list: Car }
      other: { list: Car }
    tasks:
      weigh:
        wait: 20
        let: { sorted: "sortBy(cars, v => v.len)", long: "cars.filter(c => c.len > 0).at(0) ?? null" }
        start: [{ update: { in: cars, each: c, where: "true", set: { len: "c.len + 1" } } }, { set: { other: "sorted" } }]
        finish: [{ set: { seen: "[...sorted, ...(long === null ? [] : [long])]" } }]
        cancel: [{ start: board, payload: "sorted" }, { update: { in: cars, each: c, where: "true", set: { len: "c.len + 1" } } }]
      list: { wait: 20, cancel: [{ start: board, payload: "sortBy(cars, v => v.len)" }] }
      board: { payload: { list: Car }, wait: 20, finish: [{ set: { seen: "payload" } }] }
`;

test('what a task is started with is as it was when the step was done', async () => {
  const application = await modelOf(schema);
  const options = { ...unlimited, seed: 1, steps: 1500 };
  const { difference, steps } = await compareStores(
    application,
    await foldersOf(application),
    options,
  );
  expect(difference).toBeUndefined();
  expect(steps).toBeGreaterThanOrEqual(1500);
});
