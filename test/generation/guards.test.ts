import { expect, test } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { same } from '../../src/base/same.js';
import { Random } from '../../src/base/random.js';
import { repeatableEnvironment } from '../../src/comparing/playing/environment.js';
import type { Outcome } from '../../src/model/participant.js';
import { PayloadSource } from '../../src/comparing/inputs/payloads.js';
import { deckSchema, modelOf } from '../helpers.js';
import { participantsOf } from '../participants.js';

/** A type in the short forms, at random. */
function randomType(random: Random, depth: number): string {
  const bound = () => random.pick([-1, 0, 0.5, 1, 2, 3, 10]);
  const scalars = [
    'string',
    'number',
    'integer',
    'boolean',
    `{ type: string, minLength: ${random.below(3)}, maxLength: ${2 + random.below(4)} }`,
    `{ type: number, minimum: ${bound()} }`,
    `{ type: integer, maximum: ${bound()} }`,
    `{ type: number, exclusiveMinimum: ${bound()}, exclusiveMaximum: 20 }`,
    `{ type: number, multipleOf: ${random.pick([0.1, 0.5, 2, 3])} }`,
    '{ enum: [a, 12, true, null] }',
    "{ type: [integer, 'null'] }",
  ];
  if (depth <= 0 || random.chance(0.3)) return random.pick(scalars);
  const inner = () => randomType(random, depth - 1);
  return random.pick([
    () => `{ list: ${inner()} }`,
    () => `{ list: { fields: { id: string, at: ${inner()} } }, by: id }`,
    () => `{ map: ${inner()} }`,
    () => `{ maybe: ${inner()} }`,
    () => `{ fields: { a: ${inner()}, b: ${inner()}, c: ${inner()} }, optional: [c] }`,
  ])();
}

const odd: readonly Json[] = [
  null,
  true,
  0,
  -0.5,
  0.3,
  1e21,
  12,
  '',
  'a',
  '⛴⛴',
  'constructor',
  [],
  [null],
  {},
  { id: 'a' },
  { a: 1, b: 2 },
];

/** A value like one that fits, with some part exchanged. */
function mutated(value: Json, random: Random): Json {
  if (random.chance(0.3) || typeof value !== 'object' || value === null) return random.pick(odd);
  if (Array.isArray(value))
    return value.length === 0
      ? [random.pick(odd)]
      : [...(value as Json[]), mutated((value as Json[])[0] ?? null, random)];
  const key = random.pick([...Object.keys(value), 'extra']);
  return {
    ...value,
    [key]: mutated((value as Readonly<Record<string, Json>>)[key] ?? null, random),
  };
}

test('generated stores take what Ajv takes, and say of all else where it does not fit', async () => {
  let [taken, refused] = [0, 0];
  for (let seed = 1; seed <= 6; seed++) {
    const random = new Random(seed);
    const types = Array.from({ length: 20 }, () => randomType(random, 3));
    const actions = types
      .map((type, i) => `a${i}:\n  payload: ${type}\n  steps: [{ set: { capacityM: 1 } }]`)
      .join('\n');
    const application = await modelOf(deckSchema({ actions }));
    const participants = [...(await participantsOf(application))].map(([name, participant]) => ({
      name,
      running: participant.create(repeatableEnvironment([])),
    }));
    const source = new PayloadSource(application.types, random);
    const empty = { keys: [], names: [], texts: [], numbers: [], records: [] };
    for (const action of application.stores[0]?.actions ?? []) {
      for (let i = 0; i < 40; i++) {
        if (action.payload === undefined) throw new Error('every action has a payload');
        const drawn = source.draw(action.payload, empty).payload;
        const payload = i % 2 === 0 ? drawn : mutated(drawn, random);
        const [reference, ...others] = participants.map(({ name, running }) => ({
          name,
          outcome: running.send('deck', action.name, payload) as Outcome,
        }));
        if (reference?.outcome.status === 'done') taken++;
        else refused++;
        for (const { name, outcome } of others) {
          if (!same(outcome, reference?.outcome))
            throw new Error(
              `${name}: ${JSON.stringify(payload)} for ${types[Number(action.name.slice(1))] ?? ''} is ${JSON.stringify([outcome, reference?.outcome])}`,
            );
        }
      }
    }
  }
  expect(taken).toBeGreaterThan(1000);
  expect(refused).toBeGreaterThan(1000);
});
