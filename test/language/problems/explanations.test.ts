import { describe, expect, test } from '@jest/globals';
import { catalogue, type Code } from '../../../src/language/problems/catalogue.js';
import { explanations } from '../../../src/language/problems/explanations/explanations.js';
import { checkSchemas } from '../../../src/jobs/check.js';

const codesOf = async (text: string) => {
  const { problems } = await checkSchemas([{ path: 'deck.stores.yaml', text }]);
  return problems.map(({ code, severity }) => ({ code, severity }));
};

test('every code is explained, and nothing else', () => {
  expect(Object.keys(explanations).sort()).toEqual(Object.keys(catalogue).sort());
});

/** Each code has a schema that triggers it, and one that does not: those that are shown. */
describe.each(Object.entries(explanations))('%s', (code, { wrong, right }) => {
  const { severity } = catalogue[code as Code];

  test('what is wrong is that and nothing graver', async () => {
    const found = await codesOf(wrong);
    expect(found).toContainEqual({ code, severity });
    const graver =
      severity === 'error' ? found : found.filter((other) => other.severity === 'error');
    expect(new Set(graver.map((problem) => problem.code))).toEqual(
      new Set(severity === 'error' ? [code] : []),
    );
  });

  test('what is right has no such problem', async () => {
    const found = await codesOf(right);
    expect(found.filter((problem) => problem.severity === 'error')).toEqual([]);
    expect(found.map((problem) => problem.code)).not.toContain(code);
  });
});
