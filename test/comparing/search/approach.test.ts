import { describe, expect, test } from '@jest/globals';
import { observedOf } from '../../../src/comparing/session/observed.js';
import { Reached } from '../../../src/comparing/reached.js';
import type { ScriptStep } from '../../../src/comparing/script.js';
import { approach, type ApproachItem } from '../../../src/comparing/search/approach.js';
import { referenceParticipant } from '../../../src/meaning/reference.js';
import { coverableOf } from '../../../src/model/cover-points.js';
import { modelOf } from '../../helpers.js';

const pier = `
leeshore: 1
types:
  Crate: { fields: { id: string, kg: { type: integer, minimum: 1, maximum: 700 } } }
stores:
  pier:
    state:
      crates: { list: Crate, by: id }
      tries: { type: integer, default: 0 }
    derived:
      full: "sum(crates, c => c.kg) >= 1234"
      worn: "tries >= 5"
    actions:
      land:
        payload: { fields: { kg: { type: integer, minimum: 1, maximum: 700 } } }
        let: { id: "newId()" }
        steps:
          - append: { to: crates, value: { id: "id", kg: "payload.kg" } }
      knock: [{ set: { tries: "tries + 1" } }]
      rest: [{ reset: [tries] }]
`;

const office = `
leeshore: 1
types:
  Trouble: { fields: { status: integer } }
services:
  office: { operations: { ask: { result: string, error: Trouble } } }
stores:
  desk:
    state: { shown: { maybe: string } }
    tasks:
      ask:
        operation: office.ask
        finish: [{ set: { shown: "result" } }]
        fail: [{ set: { shown: "(error.data?.status ?? 0) >= 500 ? 'later' : 'no'" } }]
`;

async function approached(
  schema: string,
  ids: readonly string[],
  steps: readonly ScriptStep[],
  { most = 500, ...aim }: Partial<ApproachItem['aim']> & { readonly most?: number } = {},
) {
  const application = await modelOf(schema);
  const reached = new Reached(coverableOf(application));
  const searching = {
    application,
    participants: [referenceParticipant(application, { reach: reached })],
    observed: observedOf(application),
    reached,
  };
  const points = ids.map((id) => reached.points.findIndex((one) => one.id === id));
  expect(points).not.toContain(-1);
  // All else was reached before.
  reached.restart(reached.points.flatMap((_, i) => (points.includes(i) ? [] : [i])));
  const result = await approach(searching, {
    kind: 'approach',
    seed: 1,
    sides: points.map((point) => ({ point, from: { steps, reaches: [] } })),
    isOfNumbers: true,
    aim: { name: undefined, by: [], point: undefined, ...aim },
    steps: most,
  });
  const news = result.kept.filter(({ near }) => near === undefined);
  return { ...result, news, points };
}

const land = (kg: number): ScriptStep => ({ send: 'pier.land', payload: { kg } });
const totalOf = (steps: readonly ScriptStep[]) =>
  steps.reduce((sum, step) => sum + ('send' in step ? (step.payload as { kg: number }).kg : 0), 0);

describe('a side of a corner', () => {
  test('is met by the number that is missing', async () => {
    const { news, steps } = await approached(
      pier,
      ['pier.full: sum(crates, c => c.kg) >= 1234 equal'],
      [land(600), { send: 'pier.knock' }, land(7)],
    );
    expect(news).toHaveLength(1);
    const way = news[0]?.steps ?? [];
    expect(totalOf(way.filter((step) => 'send' in step && step.send === 'pier.land'))).toBe(1234);
    expect(steps).toBeLessThan(40);
  });

  test('is met where one number cannot be as large as that', async () => {
    const { news } = await approached(
      pier,
      ['pier.full: sum(crates, c => c.kg) >= 1234 just-above'],
      [land(3)],
      { by: ['pier.land'] },
    );
    const [way] = news;
    expect(totalOf(way?.steps ?? [])).toBe(1235);
  });

  test('is met by doing again what counts', async () => {
    const { news } = await approached(
      pier,
      ['pier.worn: tries >= 5 equal'],
      [{ send: 'pier.knock' }],
    );
    expect(
      news[0]?.steps.filter((step) => 'send' in step && step.send === 'pier.knock').length,
    ).toBeGreaterThanOrEqual(5);
  });

  test('is met by the status of an error; its other sides from there', async () => {
    const sides = ['equal', 'just-below', 'just-above'].map(
      (side) => `desk.ask.fail[0]: (error.data?.status ?? 0) >= 500 ${side}`,
    );
    const { news, steps } = await approached(office, sides, [
      { start: 'desk.ask' },
      { answer: 1, error: { status: 3 } },
    ]);
    const statuses = news.map(({ steps: way }) => JSON.stringify(way.at(-1)));
    expect(statuses.sort()).toEqual([
      '{"answer":1,"error":{"status":499}}',
      '{"answer":1,"error":{"status":500}}',
      '{"answer":1,"error":{"status":501}}',
    ]);
    expect(steps).toBeLessThan(60);
  });
});

test('what comes nearer in vain is told, without what it does not need', async () => {
  const { kept, news, points, steps } = await approached(
    pier,
    ['pier.full: sum(crates, c => c.kg) >= 1234 equal'],
    [{ send: 'pier.knock' }, land(3), { send: 'pier.rest' }],
    { most: 20 },
  );
  expect(news).toEqual([]);
  expect(kept).toMatchObject([{ reaches: [], near: [[points[0], expect.any(Number)]] }]);
  expect(kept[0]?.steps.every((step) => 'send' in step && step.send === 'pier.land')).toBe(true);
  expect(totalOf(kept[0]?.steps ?? [])).toBeGreaterThan(600);
  expect(steps).toBe(20);
});
