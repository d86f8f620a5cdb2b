import { describe, expect, test } from '@jest/globals';
import { loadModules } from '../../src/participants/load-modules.js';
import { generatedParticipant } from '../../src/participants/generated-participant.js';
import { namesOf } from '../../src/participants/names.js';
import { repeatableEnvironment } from '../../src/comparing/playing/environment.js';
import { allStyles, deckSchema, foldersOf, modelOf } from '../helpers.js';

/** Counts how often the derived value `sum` of a style is computed. */
async function counting(style: (typeof allStyles)[number]) {
  const application = await modelOf(
    deckSchema({
      state:
        'list: { list: number, setter: setList }\nother: { type: number, default: 0, setter: setOther }',
      derived: 'total: "sum(list)"\ndouble: "total * 2"\nbig: "double > 10"',
    }),
  );
  const [folder] = await foldersOf(application, [style]);
  const files = (folder?.files ?? []).map(({ path, text }) =>
    path === 'runtime/values.ts'
      ? {
          path,
          text: text.replace(
            'let total = 0;',
            'globalThis.counted = (globalThis.counted ?? 0) + 1; let total = 0;',
          ),
        }
      : { path, text },
  );
  expect(() => loadModules(files, 'index.ts')).not.toThrow();
  const running = generatedParticipant(style, style, files, namesOf(application)).create(
    repeatableEnvironment([]),
  );
  const counts = globalThis as { counted?: number };
  counts.counted = 0;
  const count = () => {
    const times = counts.counted ?? 0;
    counts.counted = 0;
    return times;
  };
  return { running, count };
}

describe.each(allStyles)('derived values of the %s style', (style) => {
  test('are not computed while nobody asks', async () => {
    const { running, count } = await counting(style);
    running.send('deck', 'setList', [1, 2]);
    running.send('deck', 'setOther', 5);
    expect(count()).toBe(0);
  });

  test('are computed once between two changes of what they read', async () => {
    const { running, count } = await counting(style);
    running.send('deck', 'setList', [4, 5]);
    for (let i = 0; i < 3; i++)
      expect(running.derive?.().deck).toEqual({ total: 9, double: 18, big: true });
    expect(count()).toBe(1);
    running.send('deck', 'setOther', 7);
    running.derive?.();
    expect(count()).toBe(0);
    running.send('deck', 'setList', [5, 4]);
    running.derive?.();
    expect(count()).toBe(1);
  });

  test('are computed once a transaction while somebody watches', async () => {
    const { running, count } = await counting(style);
    const told: unknown[] = [];
    running.watch?.('deck.big', (now) => told.push(now));
    running.watch?.('deck.double', (now) => told.push(now));
    count();
    running.send('deck', 'setList', [6]);
    expect(told).toEqual([true, 12]);
    expect(count()).toBe(1);
    running.send('deck', 'setOther', 3);
    expect(count()).toBe(0);
  });
});
