import { describe, expect, test } from '@jest/globals';
import { readScript, scriptText } from '../../src/report/comparison-json.js';
import { countText, valueLines, valueText } from '../../src/report/value-text.js';

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

  test('are read as they were written', () => {
    expect(readScript(scriptText(script, 'ferry.stores.yaml', 7))).toEqual({ script, seed: 7 });
  });

  test.each([
    ['{', 'it is no JSON'],
    ['{}', "it has no 'leeshoreScript': 1"],
    ['{"leeshoreScript":1}', "it has no list of 'steps'"],
    ['{"leeshoreScript":1,"steps":[{"send":"deck"}]}', "step 1 has no 'send'"],
    [
      '{"leeshoreScript":1,"steps":[{"send":"deck.a"},{"send":"deck.a","fill":{"":1}}]}',
      "step 2 has no 'send'",
    ],
  ])('%s is none', (text, why) => {
    expect(readScript(text)).toContain(why);
  });
});
