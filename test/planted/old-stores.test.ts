import { rmSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { leeshore } from '../cli/run.js';
import { howMany, someOf } from '../sweep.js';
import { copyOfOld, heldOutOf, oldStores, type Variant } from './old-stores.js';

const all = await oldStores();

/** What the program says of an old store, right or with a mistake. */
async function compared(name: string, variant: Variant | undefined, steps: number) {
  const { copy, participant } = copyOfOld(name, variant);
  try {
    const args = [`${name}.stores.yaml`, '--with', participant, '--style', 'none'];
    const { code, out, err } = await leeshore(copy, 'compare', ...args, '--steps', String(steps));
    return { code, err, first: out.split('\n')[0] };
  } finally {
    rmSync(copy, { recursive: true });
  }
}

describe('old stores by different habits', () => {
  test('are eighteen, each with four to eight mistakes, half of them held out', () => {
    expect(all).toHaveLength(18);
    for (const one of all) {
      expect(one.variants.length).toBeGreaterThanOrEqual(4);
      expect(one.variants.length).toBeLessThanOrEqual(8);
      expect(heldOutOf(one)).toHaveLength(Math.floor(one.variants.length / 2));
    }
    const names = all.flatMap(({ variants }) => variants.map(({ name }) => name));
    expect(new Set(names).size).toBe(names.length);
  });

  test.each(all)('$name: each mistake can be planted', ({ name, variants }) => {
    for (const variant of variants) rmSync(copyOfOld(name, variant).copy, { recursive: true });
  });

  test.each(someOf(all, 3))('$name is not accused as it is right', async ({ name }) => {
    expect(await compared(name, undefined, howMany(600, 6000))).toEqual({
      code: 0,
      err: '',
      first: expect.stringMatching(/^no difference/),
    });
  });

  const mistakes = all.map(({ name, variants: [variant] }) => ({
    name,
    variant,
    mistake: variant?.mistake,
  }));
  test.each(someOf(mistakes, 2))('$name is told of: $mistake', async ({ name, variant }) => {
    expect(await compared(name, variant, howMany(6000, 20_000))).toMatchObject({
      code: 1,
      first: expect.stringMatching(/^different/),
    });
  });
});
