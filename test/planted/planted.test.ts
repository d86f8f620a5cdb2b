import { describe, expect, test } from '@jest/globals';
import { heldOut } from './held-out.js';
import { oldStore, planted } from './plant.js';
import { tuned } from './tuned.js';

const isOld = (kind: string): kind is 'old' | 'old-office' => kind.startsWith('old');

describe('faults planted by hand', () => {
  test('are many, a third of them in stores of an old kind, and each has its name', () => {
    const all = [...tuned, ...heldOut];
    expect(all.length).toBeGreaterThanOrEqual(75);
    expect(all.filter((one) => isOld(one.in)).length).toBeGreaterThanOrEqual(all.length / 3 - 1);
    expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
  });

  test.each([...tuned, ...heldOut])('$name can be planted: $about', async (fault) => {
    if (isOld(fault.in)) expect((await oldStore(fault.in, fault)).bundle).not.toBe('');
    else expect((await planted(fault)).files.map(({ path }) => path)).toContain(fault.file);
  });
});
