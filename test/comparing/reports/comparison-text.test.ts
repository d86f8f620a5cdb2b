import { describe, expect, test } from '@jest/globals';
import type {
  ComparisonJson,
  DifferenceJson,
} from '../../../src/comparing/reports/comparison-json.js';
import { comparisonText } from '../../../src/comparing/reports/comparison-text.js';
import { comparisonMade } from './comparison-made.js';

const plain = (text: string) => text;
const paint = { red: plain, green: plain, yellow: plain, cyan: plain, bold: plain, dim: plain };

const textOf = (change: Partial<ComparisonJson>) =>
  comparisonText(comparisonMade({ seed: 3, ...change }), {
    paint: { ...paint, columns: 100 },
    origins: new Map(),
  });

describe('what was tried in a small scope', () => {
  const walk = {
    store: 'deck',
    task: null,
    by: 'state',
    steps: 4,
    states: 1,
    transitions: 4,
    depth: 1,
    isClosed: true,
    isEntered: true,
    begunAfter: 0,
    isBounded: false,
  } as const;

  test('was nothing left of, or nothing could be done there', () => {
    const out = textOf({
      walks: [
        walk,
        { ...walk, store: 'log', transitions: 0, isEntered: false },
        { ...walk, store: 'berth', isEntered: false },
        { ...walk, store: 'timetable', task: 'book', isEntered: false },
        { ...walk, store: 'plan', begunAfter: 2 },
      ],
    });
    expect(out).toMatch(/plan +4 inputs in 1 state, begun after 2 steps: nothing left to try/);
    expect(out).toContain('4 inputs in 1 state: nothing left to try');
    expect(out).toMatch(/log +not entered, since nothing can be sent/);
    expect(out).toMatch(/berth .*: not entered, since nothing that was sent changed anything/);
    expect(out).toMatch(/timetable\.book .*: not entered, since it could not be started from the/);
  });
});

test('bounds of stored values that refused something are told apart from those that nothing broke', () => {
  const never = ['deck.hold maximum-refused', 'deck.cars key-refused'].map((id) => ({
    id,
    file: 'ferry.stores.yaml',
    line: 1,
    column: 1,
  }));
  const withBounds = (bounds: ComparisonJson['coverage']['bounds']) =>
    textOf({
      coverage: { reached: 3, total: 3, missing: [], bounds, corners: { met: 0, never: [] } },
    });
  expect(withBounds({ broken: 3, never: [] })).toContain('All 3 bounds of stored values refused');
  expect(withBounds({ broken: 1, never })).toMatch(
    /Of 3 bounds of stored values, 1 refused something\..*\n {2}deck\.hold maximum, deck\.cars key$/,
  );
  expect(withBounds({ broken: 0, never: [] })).not.toContain('bounds');
});

test('corners are told by their number, and not at all where there are none', () => {
  const withCorners = (corners: ComparisonJson['coverage']['corners']) =>
    textOf({
      coverage: { reached: 3, total: 3, missing: [], bounds: { broken: 0, never: [] }, corners },
    });
  const at = { file: 'ferry.stores.yaml', line: 1, column: 1 };
  expect(withCorners({ met: 7, never: [{ id: 'deck.full: a < b equal', ...at }] })).toMatch(
    /Met 7 of 8 corners: numbers equal or off by one/,
  );
  expect(withCorners({ met: 0, never: [] })).not.toContain('corners');
});

describe('a difference', () => {
  const difference: DifferenceJson = {
    participant: 'atom',
    what: 'derived',
    at: '/deck',
    expected: { full: false, usedM: 4, title: 'a' },
    actual: { usedM: 5, title: 'a', full: true },
    step: 1,
    action: 'deck.admit',
    script: { steps: [{ send: 'deck.admit' }] },
    foundAfter: 1,
    stepsBefore: 0,
    patch: [],
    place: null,
    savedAs: null,
    scripts: 1,
  };
  const found = (change: Partial<DifferenceJson>) =>
    /The script \((.*)\):/.exec(
      textOf({ verdict: 'different', difference: { ...difference, ...change } }),
    )?.[1];

  test('tells the step of the search, and how long the script was', () => {
    expect(found({})).toBe('seed 3, 1 step');
    expect(found({ stepsBefore: 5762 })).toBe('seed 3, found in step 5,763 of the search, 1 step');
    expect(found({ stepsBefore: 5700, foundAfter: 63 })).toBe(
      'seed 3, found in step 5,763 of the search, shrunk from 63 steps to 1',
    );
  });

  test('says what a place means that is no place in the state', () => {
    const shown = (change: Partial<DifferenceJson>) =>
      textOf({ verdict: 'different', difference: { ...difference, ...change } });
    expect(shown({ what: 'notices', at: '/iterated/w1' })).toContain(
      'What differs: notices at /iterated/w1: the values that a watcher got by for await\n',
    );
    expect(shown({ what: 'state', at: '/as JSON/deck' })).toContain(
      ': what JSON.stringify gives\n',
    );
    expect(shown({ what: 'state', at: '/json/deck' })).toContain('state at /json/deck\n');
  });

  test('shows what differs, in one order, and says how much is alike', () => {
    const out = textOf({ verdict: 'different', difference });
    expect(out).toContain('│ { full: false, usedM: 4 }');
    expect(out).toContain('│ { full: true, usedM: 5 }');
    expect(out).not.toContain('title');
    expect(out).toContain('One part that is alike is left out.');
  });
});
