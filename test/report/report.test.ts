import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import type { Script } from '../../src/comparing/script.js';
import { readScript, scriptText, unknownIn } from '../../src/comparing/reports/script-file.js';
import { ferryText, modelOf, root } from '../helpers.js';
import { plainPaint } from '../../src/report/paint.js';
import type { ComparisonJson } from '../../src/comparing/reports/comparison-json.js';
import { differenceText } from '../../src/comparing/reports/difference-text.js';
import { narrowed } from '../../src/comparing/session/difference.js';
import { namedJson } from '../../src/report/value-json.js';
import { bothLines, countText, valueLines, valueText } from '../../src/report/value-text.js';

describe('values as text', () => {
  test.each([
    [undefined, 'absent'],
    [NaN, 'NaN'],
    ['a "b"', '"a \\"b\\""'],
    [[1, [], {}], '[1, [], {}]'],
    [{ id: 'a', 'two words': null }, '{ id: "a", "two words": null }'],
  ])('%j', (value, text) => {
    expect(valueText(value)).toBe(text);
  });

  test('long ones are cut, or set over several lines', () => {
    expect(valueText('x'.repeat(50), 10)).toBe('"xxxxxxxx…');
    const lines = valueLines({ vehicles: [{ id: 'id-1', plate: 'SK 4' }], hold: null }, 24);
    expect(lines[0]).toBe('{');
    expect(lines).toContain('      id: "id-1"');
    expect(lines).toContain('  hold: null');
    expect(lines.every((line) => line.length <= 24)).toBe(true);
  });

  test('great ones are cut, with a count of what is left out, and where two differ stays', () => {
    const nested = (levels: number, inner: unknown): unknown =>
      levels === 0 ? inner : { deeper: nested(levels - 1, inner), beside: 'x'.repeat(30) };
    for (const levels of [25, 60, 3000]) {
      const lines = valueLines(nested(levels, 1), 30);
      expect(lines.length).toBeLessThan(80);
      expect(lines.every((line) => line.length <= 30)).toBe(true);
      expect(valueText(nested(levels, 1))).toContain(`… ${countText(levels - 20)} more level`);
    }
    const text = 'ice '.repeat(100_000);
    const [one, other] = bothLines(text, `${text.slice(0, 200_000)}fog${text.slice(200_000)}`, 36);
    expect(one.join('')).not.toContain('fog');
    expect(other.join('')).toContain('fog');
    expect(other.join(' ')).toContain('… 199,9');
    expect(other.length).toBeLessThan(50);
    const list = Array.from({ length: 5000 }, (_, i) => i);
    const [whole, changed] = bothLines(list, list.with(4000, -1), 36);
    expect(whole[1]).toBe('  … 3,997 items');
    expect(changed).toContain('  -1');
    expect(changed.at(-2)).toBe('  … 943 more items');
    const map = Object.fromEntries(list.map((i) => [`k${i}`, i]));
    const [, short] = bothLines(map, { ...map, k3000: -1 }, 36);
    expect(short).toContain('  k3000: -1');
    expect(short.at(-2)).toBe('  … 4,940 more parts');
  });

  test('a property that is undefined is told from one that is absent', () => {
    expect(namedJson({ n: undefined })).toEqual({ n: 'undefined' });
    expect(namedJson(undefined)).toEqual({ absent: true });
    const found = narrowed({ deck: { n: 1 } }, { deck: { n: 1, m: undefined } });
    expect([found.at, namedJson(found.expected), namedJson(found.actual)]).toEqual([
      '/deck',
      { n: 1 },
      { n: 1, m: 'undefined' },
    ]);
    expect(narrowed({ n: 1 }, { n: undefined }).at).toBe('/n');
  });

  test('counts have a comma every three digits', () => {
    expect([0, 999, 1000, 1234567].map(countText)).toEqual(['0', '999', '1,000', '1,234,567']);
  });
});

describe('script files', () => {
  const script = {
    steps: [
      { send: 'deck.board', payload: 'id-1', fill: { '': '/deck/vehicles/0/id' } },
      { send: 'deck.clear' },
    ],
  };

  const watching = {
    quiet: true,
    steps: [
      { watch: 'deck.freeM', as: 'w1' },
      { watch: '*', as: 'w2', then: 'throw' as const },
      { watch: 'berth', as: 'w3', then: { send: 'berth.castOff' } },
      { send: 'berth.moor', payload: 2 },
      { stop: 'w1' },
    ],
  };
  const afterwards: Script = {
    steps: [
      { attach: 'tariff' },
      { storage: { key: 'tariff', text: '{}' } },
      { storage: 'full' },
      { reopen: true },
    ],
  };

  const observing: Script = {
    ids: 'alike',
    beside: true,
    steps: [
      { watch: '*', as: 'w1', then: { stop: 'w1' } },
      { watch: 'berth', as: 'w2', then: { watch: 'deck', as: 'w2a' } },
      { send: 'deck.swap', payload: {}, passed: 'changed after' },
    ],
  };

  test.each([script, watching, afterwards, observing])(
    'are read as they were written, and fit their JSON Schema',
    (one) => {
      const text = scriptText(one, 'ferry.stores.yaml', 7);
      expect(readScript(text)).toEqual({ script: one, seed: 7 });
      const schema = JSON.parse(
        readFileSync(new URL('schema/script-1.schema.json', root), 'utf8'),
      ) as object;
      expect(new Ajv2020().validate(schema, JSON.parse(text))).toBe(true);
    },
  );

  test('an undo is read as the action that it is', () => {
    const text = JSON.stringify({ leeshoreScript: 1, steps: [{ undo: 'deck' }, { redo: 'deck' }] });
    expect(readScript(text)).toEqual({
      script: { steps: [{ send: 'deck.undo' }, { send: 'deck.redo' }] },
      seed: 0,
    });
  });

  test.each([
    [{ attach: 1 }],
    [{ reopen: false }],
    [{ storage: 'lost' }],
    [{ storage: { key: 'tariff' } }],
    [{ send: 'deck.swap', passed: 'thawed' }],
    [{ watch: '*', as: 'w1', then: { stop: 1 } }],
  ])('%j is no step', (step) => {
    const text = JSON.stringify({ leeshoreScript: 1, steps: [step] });
    expect(readScript(text)).toContain('step 1 has no');
  });

  test('names that the schema does not have are found', async () => {
    const application = await modelOf(ferryText);
    expect(unknownIn(script, application)).toBeUndefined();
    expect(unknownIn(watching, application)).toBeUndefined();
    expect(unknownIn({ steps: [{ send: 'deck.sink' }] }, application)).toBe('deck.sink');
    expect(unknownIn({ steps: [{ watch: 'deck.mast', as: 'a' }] }, application)).toBe('deck.mast');
    const sends = { watch: '*', as: 'a', then: { send: 'deck.sink' } };
    expect(unknownIn({ steps: [sends] }, application)).toBe('deck.sink');
    expect(unknownIn({ steps: [{ attach: 'deck' }] }, application)).toBe('deck');
  });

  test.each([
    ['{', 'it is not valid JSON'],
    ['{}', "it has no 'leeshoreScript': 1"],
    ['{"leeshoreScript":1}', "it has no list of 'steps'"],
    [
      '{"leeshoreScript":1,"steps":[{"watch":"deck.hold","as":"w1","by":"glance"}]}',
      "step 1: 'by' is none of observer, iteration",
    ],
    [
      '{"leeshoreScript":1,"steps":[{"watch":"deck.hold","as":"w1","by":"iteration","then":"throw"}]}',
      "step 1: a watcher with 'by': 'iteration' has no 'then'",
    ],
    ['{"leeshoreScript":1,"steps":[{"send":"deck"}]}', "step 1 has no 'send'"],
    ['{"leeshoreScript":1,"steps":[{"watch":"deck"}]}', "step 1 has no 'send'"],
    ['{"leeshoreScript":1,"steps":[{"watch":"*","as":"a","then":"sink"}]}', 'step 1'],
    ['{"leeshoreScript":1,"steps":[{"stop":1}]}', 'step 1'],
    [
      '{"leeshoreScript":1,"steps":[{"send":"deck.a"},{"send":"deck.a","fill":{"":1}}]}',
      "step 2 has no 'send'",
    ],
  ])('%s is none', (text, why) => {
    expect(readScript(text)).toContain(why);
  });
});

test('of a difference in much data the part around it is shown, quickly', () => {
  const entries = (last: string) => [
    ...Array.from({ length: 400 }, (_, i) => ({ id: `id-${i}`, metres: i })),
    { id: 'id-400', metres: 400, note: last },
    ...Array.from({ length: 400 }, (_, i) => ({ id: `x-${i}`, metres: i })),
  ];
  const difference = {
    participant: 'atom',
    step: 1,
    action: 'log.clear',
    place: null,
    what: 'state',
    at: '/log/entries',
    expected: entries('fog'),
    actual: entries('tide '.repeat(20)),
    patch: [],
    foundAfter: 1,
    stepsBefore: 0,
    script: { steps: [{ send: 'log.clear' }] },
    savedAs: null,
    scripts: 1,
  } as const;
  const comparison = {
    verdict: 'different',
    participants: [
      { name: 'reference', lacks: [], without: [], refusesMisfits: true, notReported: 0 },
    ],
    seed: 1,
  } as unknown as ComparisonJson;
  const text = differenceText(difference, comparison, { paint: plainPaint, origins: new Map() });
  expect(text).toContain('(seed 1, 1 step):');
  expect(text).toContain('note: "fog"');
  expect(text).toContain('note: "tide tide');
  expect(text).toMatch(/│ … [\d,]+ more lines/);
  const lines = text.split('\n');
  expect(lines.length).toBeLessThan(50);
  expect(
    new Set(lines.filter((line) => line.startsWith('│')).map((line) => line.length)).size,
  ).toBe(1);
});
