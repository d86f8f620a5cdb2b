import { describe, expect, test } from '@jest/globals';
import { checkSchemas } from '../../../src/jobs/check.js';
import { deckSchema } from '../../helpers.js';

const state = `
n: { type: number, minimum: 0, maximum: 9, default: 1 }
m: { maybe: number }
lane: { enum: [port, centre], default: port }
open: { type: boolean, default: true }
`;

/** Stores to every field, so that none of them is said never to change. */
const change =
  'change:\n  payload: number\n  steps:\n    - set: { n: 2, m: "payload", lane: "\'centre\'", open: "!open" }\n';

async function told(schema: string, severity: 'warning' | 'advice'): Promise<string[]> {
  const { problems } = await checkSchemas([{ path: 'x', text: schema }]);
  expect(problems.filter((problem) => problem.severity === 'error')).toEqual([]);
  return problems
    .filter((problem) => problem.severity === severity)
    .map(({ code, span }) => `${code} ${span.source.text.slice(span.start, span.end)}`);
}

const withActions = (actions: string) => deckSchema({ state, actions: `${change}${actions}` });
const requiring = (...conditions: string[]) =>
  withActions(
    `go:\n  payload: { type: number, minimum: 1, exclusiveMaximum: 5 }\n  requires:\n${conditions
      .map((condition) => `    - { that: "${condition}", otherwise: No. }`)
      .join('\n')}\n  steps:\n    - set: { n: "payload" }`,
  );

describe('a condition that can turn out one way only', () => {
  test.each([
    ['payload >= 1', 'always-true payload >= 1'],
    ['payload > 0', 'always-true payload > 0'],
    ['payload < 5', 'always-true payload < 5'],
    ['payload <= 5', 'always-true payload <= 5'],
    ['payload < 1', 'always-false payload < 1'],
    ['payload >= 5', 'always-false payload >= 5'],
    ['n <= 9', 'always-true n <= 9'],
    ['n > 9', 'always-false n > 9'],
    ['true', 'always-true true'],
  ])('%s', async (condition, warning) => {
    expect(await told(requiring(condition), 'warning')).toEqual([warning]);
  });

  test.each([
    'payload > 1',
    'payload < 4',
    'n > 8',
    'n < 9',
    'n >= 1',
    'm !== null',
    "lane === 'port'",
  ])('%s can turn out both ways', async (condition) => {
    expect(await told(requiring(condition), 'warning')).toEqual([]);
  });

  test('what the ones before it have settled', async () => {
    const twice = requiring("lane !== 'port'", "lane === 'centre'");
    expect(await told(twice, 'warning')).toEqual(["always-true lane === 'centre'"]);
  });

  test('in a step and in an expression', async () => {
    const step = withActions('go:\n  - when: "n < 0"\n    then:\n      - set: { n: 1 }');
    expect(await told(step, 'warning')).toEqual(['always-false n < 0']);
    const derived = deckSchema({ state, actions: change, derived: 'x: "n >= 0 ? 1 : 2"' });
    expect(await told(derived, 'warning')).toEqual(['always-true n >= 0']);
  });
});

describe('division by what may be zero', () => {
  const setting = (value: string) =>
    withActions(`go:\n  payload: number\n  steps:\n    - set: { n: "${value}" }`);
  test.each([
    ['1 / payload', ['may-divide-by-zero payload']],
    ['1 / n', ['may-divide-by-zero n']],
    ['n % (payload + 1)', ['may-divide-by-zero payload + 1']],
    ['1 / 2', []],
    ['payload === 0 ? 0 : 1 / payload', []],
    ['payload > 0 && 1 / payload > 2 ? 1 : 2', []],
    ['m !== null && m > 0 ? 1 / m : 0', []],
  ])('%s', async (value, warnings) => {
    expect(await told(setting(value), 'warning')).toEqual(warnings);
  });

  test('a requirement or a step around it may have asked', async () => {
    const asked = withActions(
      'go:\n  payload: number\n  requires:\n    - { that: "payload !== 0", otherwise: No. }\n  steps:\n    - set: { n: "1 / payload" }',
    );
    expect(await told(asked, 'warning')).toEqual([]);
    const within = withActions(
      'go:\n  payload: number\n  steps:\n    - when: "payload > 0"\n      then:\n        - set: { n: "1 / payload" }',
    );
    expect(await told(within, 'warning')).toEqual([]);
  });

  test('a derived value may be infinite: nothing is stored', async () => {
    const derived = deckSchema({ state, actions: change, derived: 'share: "1 / n"' });
    expect(await told(derived, 'warning')).toEqual([]);
  });
});

describe('what nothing uses or changes', () => {
  test('types, but not those that others use', async () => {
    const types =
      'Lane: { enum: [port] }\nCar: { fields: { lane: Lane } }\nPier: string\nUnit: string';
    const used = deckSchema({
      types,
      state: 'cars: { list: Car }',
      actions: "go:\n  - set: { cars: \"fits('m', 'Unit') ? [] : cars\" }",
    });
    expect(await told(used, 'warning')).toEqual(['unused Pier']);
  });

  test('fields that steps only reset, or nothing stores to', async () => {
    const schema = deckSchema({
      state:
        'a: { maybe: number }\nb: { maybe: number }\nc: { maybe: number, setter: setC }\nd: { maybe: number }',
      actions: 'go:\n  - reset: [a]\n  - set: { b: 1 }',
    });
    expect(await told(schema, 'warning')).toEqual(['never-stored a', 'never-stored d']);
  });

  test('a store without actions is left alone', async () => {
    expect(await told(deckSchema({ state: 'a: { maybe: number }' }), 'warning')).toEqual([]);
  });

  test('functions and constants, in whatever store they are read', async () => {
    const schema = `leeshore: 1
functions:
  twice: { given: { x: number }, value: "x * 2" }
  thrice: { given: { x: number }, value: "twice(x) + x" }
stores:
  deck: { constants: { carM: 4, busM: 12 }, state: {} }
  pier: { state: {}, derived: { places: "deck.carM" } }
`;
    expect(await told(schema, 'warning')).toEqual(['unused thrice', 'unused busM']);
  });

  test('warnings wait while there are errors', async () => {
    const text = deckSchema({ types: 'Pier: string', state: 'n: number' });
    const { problems } = await checkSchemas([{ path: 'x', text }]);
    expect(problems.map(({ code }) => code)).toEqual(['no-default']);
  });
});

describe('advice', () => {
  const four =
    'a: { maybe: number }\nb: { maybe: number }\nc: { maybe: number }\nd: { maybe: number }';
  const set = (name: string, ...fields: string[]) =>
    `${name}:\n  - set: { ${fields.map((field) => `${field}: 1`).join(', ')} }\n`;
  const of = async (actions: string, derived?: string) =>
    (
      await told(deckSchema({ state: four, actions, ...(derived && { derived }) }), 'advice')
    ).filter((advice) => !advice.startsWith('unread'));

  test('parts that nothing touches together', async () => {
    expect(await of(set('x', 'a', 'b') + set('y', 'c', 'd'))).toEqual(['could-split deck']);
    expect(await of(set('x', 'a', 'b') + set('y', 'c', 'd') + set('z', 'b', 'c'))).toEqual([]);
  });

  test('a derived value that reads two parts joins them, through others too', async () => {
    const actions = set('x', 'a', 'b') + set('y', 'c', 'd');
    expect(await of(actions, 'sum2: "(a ?? 0) + (c ?? 0)"')).toEqual([]);
    expect(await of(actions, 'one: "a ?? 0"\ntwo: "one + (d ?? 0)"')).toEqual([]);
  });

  test('an action that stores to everything, which a reset does not', async () => {
    expect(await of(set('all', 'a', 'b', 'c', 'd'))).toEqual(['stores-everything all']);
    expect(
      await of(`${set('x', 'a', 'b', 'c')}${set('y', 'c', 'd')}clear:\n  - reset: all`),
    ).toEqual([]);
  });

  test('parts that are reset apart', async () => {
    const apart = `${set('x', 'a', 'b', 'c')}${set('y', 'c', 'd')}one:\n  - reset: [a]\ntwo:\n  - reset: [d]`;
    expect(await of(apart)).toEqual(['reset-in-parts deck']);
    expect(await of(apart.replace('[d]', '[a, d]'))).toEqual([]);
  });

  test('what is saved where nothing says how old texts are read', async () => {
    const saved = (more: string) => `
leeshore: 1
stores:
  deck:
    state: { a: { type: boolean, default: false } }
    saved: { fields: [a], key: deck, version: 1${more} }
    actions: { turn: { steps: [{ set: { a: "!a" } }] } }
`;
    expect(await told(saved(''), 'advice')).toEqual(['old-texts saved']);
    const old = `, old: { texts: { a: deck-a }, fields: { a: "old.a === 'yes'" } }`;
    expect(await told(saved(old), 'advice')).toEqual([]);
  });

  test('what no expression reads, and actions without steps that nothing runs', async () => {
    const schema = deckSchema({
      state: 'a: { maybe: number }',
      derived: 'free: "a === null"\nbusy: "!free"',
      actions: 'depart: []\narrive: []\nboth:\n  - run: arrive\n  - set: { a: 1 }',
    });
    expect(await told(schema, 'advice')).toEqual(['unread busy', 'does-nothing depart']);
  });
});
