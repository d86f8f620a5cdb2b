import { expect, test } from '@jest/globals';
import type { Json } from '../src/base/json.js';
import { Random } from '../src/base/random.js';
import { same } from '../src/base/same.js';
import { checkSchema } from '../src/pipeline.js';
import { PayloadSource } from '../src/explore/payloads.js';
import { poolOf } from '../src/explore/pool.js';
import { repeatableEnvironment } from '../src/explore/environment.js';
import { Judge } from '../src/interpret/judge.js';
import { membersOf, type Type, type TypeTable } from '../src/model/types.js';
import { deckSchema } from './helpers.js';
import { participantsOf } from './participants.js';
import { ExpressionSource, stateOfRandom, typesOfRandom } from './random-expressions.js';

/** How many expressions, in batches of one schema each. `npm run soak` does all, `npm test` a share. */
const batches = Number(process.env.LEESHORE_SOAK ?? 12);
const perBatch = 80;
const states = 3;

const sum = (items: readonly never[], f: (item: never) => number = (item) => item) =>
  items.reduce((total, item) => total + f(item), 0);

/** What the JavaScript engine makes of an expression, in a state. */
function engine(expression: string, state: Readonly<Record<string, unknown>>): unknown {
  const names = Object.keys(state);
  const run = new Function(...names, 'sum', 'same', `return (${expression})`) as (
    ...values: unknown[]
  ) => unknown;
  // A dictionary is read by own keys only.
  const values = names.map((name) =>
    name === 'map' ? Object.assign(Object.create(null) as object, state.map) : state[name],
  );
  return run(...values, sum, same);
}

/** Whether a value fits an inferred type, NaN and infinity aside, which JSON does not have. */
function fitsInferred(value: unknown, type: Type, types: TypeTable, judge: Judge): boolean {
  if (
    JSON.stringify(value, (_key, part: unknown) =>
      typeof part === 'number' && !Number.isFinite(part) ? '?' : part,
    ).includes('"?"')
  )
    return true;
  return judge.fits(value, type) || membersOf(type, types).some(({ kind }) => kind === 'never');
}

test(`${batches * perBatch} random expressions mean the same to the engine, the interpreter and every style`, async () => {
  let compared = 0;
  for (let batch = 0; batch < batches; batch++) {
    const random = new Random(batch);
    const source = new ExpressionSource(random);
    const expressions = Array.from({ length: perBatch }, () => source.any(3));
    const derived = expressions
      .map((expression, i) => `d${i}: ${JSON.stringify(expression)}`)
      .join('\n');
    const { application, problems } = await checkSchema({
      path: 'random',
      text: deckSchema({ state: stateOfRandom, types: typesOfRandom, derived }),
    });
    const refused = new Set(problems.map(({ span }) => span.source.placeOf(span.start).line));
    // What can never be is refused by design: random expressions say such things, and are left out.
    const first = deckSchema({ state: stateOfRandom, types: typesOfRandom }).split('\n').length;
    const kept = expressions.filter((_, i) => !refused.has(first + 1 + i));
    expect(
      problems
        .filter(({ code }) => code !== 'never-equal' && code !== 'never-here')
        .map(
          ({ message, span }) =>
            `${message} ${span.source.lineText(span.source.placeOf(span.start).line)}`,
        ),
    ).toEqual([]);
    const model =
      application ??
      (
        await checkSchema({
          path: 'random',
          text: deckSchema({
            state: stateOfRandom,
            types: typesOfRandom,
            derived: kept.map((expression, i) => `d${i}: ${JSON.stringify(expression)}`).join('\n'),
          }),
        })
      ).application;
    if (model === undefined) throw new Error('the schema of the random expressions has problems');
    const all = application === undefined ? kept : expressions;
    const participants = [...(await participantsOf(model))].map(([name, participant]) => ({
      name,
      running: participant.create(repeatableEnvironment([])),
    }));
    const payloads = new PayloadSource(model.types, random);
    const judge = new Judge(model.types);
    const store = model.stores[0];
    for (let round = 0; round < states; round++) {
      for (const action of store?.actions ?? []) {
        const state = participants[0]?.running.read() ?? {};
        const payload: Json = payloads.draw(action.payload as Type, poolOf(model, state)).payload;
        for (const { running } of participants) running.send('deck', action.name, payload);
      }
      const state = participants[0]?.running.read().deck as Readonly<Record<string, unknown>>;
      const answers = participants.map(({ name, running }) => ({
        name,
        values: running.derive?.().deck ?? {},
      }));
      for (const [i, expression] of all.entries()) {
        const expected = engine(expression, state);
        const type = store?.derived[i]?.value.type as Type;
        if (!fitsInferred(expected, type, model.types, judge)) {
          throw new Error(
            `${expression} is ${JSON.stringify(expected)}, which does not fit ${JSON.stringify(type)}`,
          );
        }
        for (const { name, values } of answers) {
          compared++;
          if (same(values[`d${i}`], expected)) continue;
          throw new Error(
            `${name}: ${expression} is ${JSON.stringify(values[`d${i}`])}, but the engine says ${JSON.stringify(expected)} in ${JSON.stringify(state)}`,
          );
        }
      }
    }
  }
  expect(compared).toBeGreaterThan(batches * perBatch * states * 4);
}, 3_600_000);
