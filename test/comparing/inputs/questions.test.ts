import { expect, test } from '@jest/globals';
import { questionsOf } from '../../../src/comparing/inputs/questions.js';
import { ferryText, modelOf } from '../../helpers.js';

const schema = `leeshore: 1
types: { Lane: { enum: [port, centre, starboard] } }
stores:
  deck:
    state: { cars: { list: { fields: { id: string, lane: Lane } }, by: id } }
    derived:
      plain: "cars.length"
      inLane: { given: { lane: Lane }, value: "cars.filter(c => c.lane === lane)" }
      has: { given: { id: string, open: boolean }, value: "open && cars.some(c => c.id === id)" }
`;

test('a few values are all asked, others are drawn from the state, the same each time', async () => {
  const ask = questionsOf(await modelOf(schema));
  const state = { deck: { cars: [{ id: 'q7', lane: 'port' }] } };
  const questions = ask(state);
  expect(questions.filter(({ name }) => name === 'inLane').map(({ args }) => args)).toEqual([
    ['port'],
    ['centre'],
    ['starboard'],
  ]);
  expect(questions.some(({ name }) => name === 'plain')).toBe(false);
  const texts = questions.map(({ text }) => text);
  expect(new Set(texts).size).toBe(texts.length);
  expect(texts[0]).toBe('deck.inLane("port")');
  expect(questions.some(({ name, args }) => name === 'has' && args[0] === 'q7')).toBe(true);
  expect(ask(state)).toEqual(questions);
});

test('where nothing has parameters nothing is asked', async () => {
  const without = ferryText.replace(/ {6}waitingIn:\n(?: {8}.*\n)+/, '');
  expect(questionsOf(await modelOf(without))({})).toEqual([]);
});

test('a value store is asked when its value is null, a lazy store when it is attached', async () => {
  const ask = questionsOf(
    await modelOf(`leeshore: 1
stores:
  ramp:
    value: { maybe: string }
    derived: { is: { given: { at: boolean }, value: "at && value !== null" } }
  annex:
    lazy: true
    state: { open: { type: boolean, default: false } }
    derived: { is: { given: { at: boolean }, value: "at && open" } }
`),
  );
  const asked = (state: Readonly<Record<string, unknown>>) =>
    ask(state).map(({ text }) => text.split('(')[0]);
  expect(new Set(asked({ ramp: null, annex: null }))).toEqual(new Set(['ramp.is']));
  expect(new Set(asked({ ramp: null, annex: { open: true } }))).toEqual(
    new Set(['ramp.is', 'annex.is']),
  );
});
