import { describe, expect, test } from '@jest/globals';
import { heldOut } from './held-out.js';
import type { Style } from '../../src/base/styles.js';
import { oldStore, planted, unplanted, type Planted } from './plant.js';
import { tuned } from './tuned.js';

const isOld = (kind: string): kind is 'old' | 'old-office' => kind.startsWith('old');

const rightFiles = new Map<string, Promise<readonly unknown[]>>();

/** The files of a fault's style without it. */
function filesWithout({ schema, in: style }: Planted): Promise<readonly unknown[]> {
  const key = `${schema} ${style}`;
  const files =
    rightFiles.get(key) ?? unplanted(schema, style as Style).then((folder) => folder.files);
  rightFiles.set(key, files);
  return files;
}

describe('faults planted by hand', () => {
  test('are many, many of them in stores of an old kind, and each has its name', () => {
    const all = [...tuned, ...heldOut];
    expect(all.length).toBeGreaterThanOrEqual(130);
    expect(all.filter((one) => isOld(one.in)).length).toBeGreaterThanOrEqual(27);
    expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
  });

  test.each([...tuned, ...heldOut])('$name can be planted: $about', async (fault) => {
    if (isOld(fault.in)) expect((await oldStore(fault.in, fault)).bundle).not.toBe('');
    else expect((await planted(fault)).files).not.toEqual(await filesWithout(fault));
  });
});
