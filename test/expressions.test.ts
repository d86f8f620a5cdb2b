import { expect, test } from '@jest/globals';
import type { Json } from '../src/base/json.js';
import { Random } from '../src/base/random.js';
import { same } from '../src/base/same.js';
import { checkSchemas } from '../src/jobs/check.js';
import { PayloadSource } from '../src/comparing/inputs/payloads.js';
import { poolOf } from '../src/comparing/inputs/pool.js';
import { repeatableEnvironment } from '../src/comparing/playing/environment.js';
import { Judge } from '../src/meaning/judge.js';
import { membersOf, type Type, type TypeTable } from '../src/model/types.js';
import { deckSchema } from './helpers.js';
import { participantsOf } from './participants.js';
import { ExpressionSource, stateOfRandom, typesOfRandom } from './random-expressions.js';
import { howMany } from './sweep.js';

/** How many expressions, in batches of one schema each. `npm run soak` does all, `npm test` a share. */
const batches = howMany(8, 1250);
const perBatch = 80;
const states = 3;

const sum = (items: readonly never[], f: (item: never) => number = (item) => item) =>
  items.reduce((total, item) => total + f(item), 0);

type Key = number | string;

/** Ordered by swapping neighbours: nothing of how the stores do it. */
function sortBy(items: readonly never[], ...by: readonly ((item: never) => Key)[]) {
  const sorted = [...items];
  const isAfter = (a: never, b: never) => {
    for (const key of by) {
      const [one, other] = [key(a), key(b)];
      if (Object.is(one, other) || one === other) continue;
      if (Number.isNaN(one) || Number.isNaN(other)) return Number.isNaN(one);
      return one > other;
    }
    return false;
  };
  for (let end = sorted.length - 1; end > 0; end--) {
    for (let i = 0; i < end; i++) {
      const [a, b] = [sorted[i] as never, sorted[i + 1] as never];
      if (isAfter(a, b)) [sorted[i], sorted[i + 1]] = [b, a];
    }
  }
  return sorted;
}

/** Without a prototype, since a dictionary is read by own keys only. */
function groupBy(items: readonly never[], keyOf: (item: never) => string) {
  const groups = Object.create(null) as Record<string, never[]>;
  for (const item of items) (groups[keyOf(item)] ??= []).push(item);
  return groups;
}

function toMap(
  items: readonly never[],
  keyOf: (item: never) => string,
  valueOf: (item: never) => unknown,
) {
  const map = Object.create(null) as Record<string, unknown>;
  for (const item of items) map[keyOf(item)] = valueOf(item);
  return map;
}

/** By arithmetic on days: nothing of how the stores do it. */
function isoTime(ms: number): string {
  if (!(Math.abs(ms) <= 8.64e15)) return '';
  const whole = Math.trunc(ms);
  const days = Math.floor(whole / 86_400_000);
  const rest = whole - days * 86_400_000;
  // The civil calendar, from the first of March of the year 0.
  const shifted = days + 719_468;
  const era = Math.floor(shifted / 146_097);
  const dayOfEra = shifted - era * 146_097;
  const yearOfEra = Math.floor(
    (dayOfEra -
      Math.floor(dayOfEra / 1460) +
      Math.floor(dayOfEra / 36_524) -
      Math.floor(dayOfEra / 146_096)) /
      365,
  );
  const dayOfYear =
    dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const shiftedMonth = Math.floor((5 * dayOfYear + 2) / 153);
  const day = dayOfYear - Math.floor((153 * shiftedMonth + 2) / 5) + 1;
  const month = shiftedMonth < 10 ? shiftedMonth + 3 : shiftedMonth - 9;
  const year = yearOfEra + era * 400 + (month <= 2 ? 1 : 0);
  const pad = (n: number, digits = 2) => String(Math.abs(n)).padStart(digits, '0');
  const years = year >= 0 && year <= 9999 ? pad(year, 4) : `${year < 0 ? '-' : '+'}${pad(year, 6)}`;
  const [h, m, s] = [3_600_000, 60_000, 1000].map((unit, i) =>
    pad(Math.floor(rest / unit) % (i === 0 ? 24 : 60)),
  );
  return `${years}-${pad(month)}-${pad(day)}T${h ?? ''}:${m ?? ''}:${s ?? ''}.${pad(rest % 1000, 3)}Z`;
}

const isoDay = (ms: number): string => isoTime(ms).split('T')[0] ?? '';

const isText = (value: unknown) => typeof value === 'string';

/** The types of the random schema, by hand. */
const checks: Readonly<Record<string, (value: unknown) => boolean>> = {
  Code: (value) => isText(value) && [...value].length >= 2 && [...value].length <= 4,
  Car: (value) => {
    if (typeof value !== 'object' || value === null) return false;
    const { id, len, lane, note, on, ...more } = value as Record<string, unknown>;
    return (
      isText(id) &&
      Number.isFinite(len) &&
      ['port', 'centre', 'starboard'].includes(lane as string) &&
      (note === undefined || isText(note)) &&
      typeof on === 'boolean' &&
      Object.keys(more).length === 0
    );
  },
};

const fits = (value: unknown, type: string) => checks[type]?.(value);

/** What the JavaScript engine makes of an expression, in a state. */
function engine(expression: string, state: Readonly<Record<string, unknown>>): unknown {
  const names = Object.keys(state);
  const ours = { sum, same, sortBy, groupBy, toMap, isoTime, isoDay, fits };
  const run = new Function(...names, ...Object.keys(ours), `return (${expression})`) as (
    ...values: unknown[]
  ) => unknown;
  // A dictionary is read by own keys only.
  const values = names.map((name) =>
    name === 'map' ? Object.assign(Object.create(null) as object, state.map) : state[name],
  );
  return run(...values, ...Object.values(ours));
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
    const { application, problems } = await checkSchemas([
      {
        path: 'random',
        text: deckSchema({ state: stateOfRandom, types: typesOfRandom, derived }),
      },
    ]);
    const errors = problems.filter(({ severity }) => severity === 'error');
    const refused = new Set(errors.map(({ span }) => span.source.placeOf(span.start).line));
    // What can never be is refused by design: random expressions say such things, and are left out.
    const first = deckSchema({ state: stateOfRandom, types: typesOfRandom }).split('\n').length;
    const kept = expressions.filter((_, i) => !refused.has(first + 1 + i));
    expect(
      errors
        .filter(({ code }) => code !== 'never-equal' && code !== 'never-here')
        .map(
          ({ message, span }) =>
            `${message} ${span.source.lineText(span.source.placeOf(span.start).line)}`,
        ),
    ).toEqual([]);
    const model =
      application ??
      (
        await checkSchemas([
          {
            path: 'random',
            text: deckSchema({
              state: stateOfRandom,
              types: typesOfRandom,
              derived: kept
                .map((expression, i) => `d${i}: ${JSON.stringify(expression)}`)
                .join('\n'),
            }),
          },
        ])
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
        if (JSON.stringify(type).includes('"unknown"'))
          throw new Error(`${expression} has no type, and nobody was told`);
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
});
