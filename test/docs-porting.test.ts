import { cpSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@jest/globals';
import { inFolder, leeshore } from './cli/run.js';
import { root } from './helpers.js';

const text = readFileSync(new URL('docs/porting.md', root), 'utf8');

/** The mends that the tutorial shows: what is written there, and what takes its place. */
const mends = [...text.matchAll(/```diff\n([^]*?)```/g)].map(([, block = '']) => {
  const lines = block.trimEnd().split('\n');
  const side = (mark: string) =>
    lines
      .filter((line) => line.startsWith(mark))
      .map((line) => line.slice(1))
      .join('\n');
  return { from: side('-'), to: side('+') };
});

/** Where each mistake shows, in any order. */
const shown = ['/deck/capacityM', '/wind/gusts', '/desk/relieved'];

test(
  'the tutorial on porting holds: three mistakes are found and mended, one after the other',
  () =>
    inFolder(async (folder) => {
      cpSync(
        fileURLToPath(new URL('examples/skerry/ferry.stores.yaml', root)),
        join(folder, 'ferry.stores.yaml'),
      );
      cpSync(fileURLToPath(new URL('examples/skerry/old', root)), join(folder, 'old'), {
        recursive: true,
      });
      const path = join(folder, 'old/terminal.ts');
      const args = ['compare', 'ferry.stores.yaml', '--with', 'old/terminal.participant.ts'];
      const left = new Set(shown);
      expect(mends).toHaveLength(left.size);
      while (left.size > 0) {
        const { code, out } = await leeshore(folder, ...args, '--json');
        expect(code).toBe(1);
        const { at } = (JSON.parse(out) as { difference: { at: string } }).difference;
        const place = shown.findIndex((one) => at.startsWith(one));
        expect(left.delete(shown[place] ?? '')).toBe(true);
        const { from, to } = mends[place] ?? { from: '', to: '' };
        const before = readFileSync(path, 'utf8');
        const where = place === 2 ? before.indexOf('goOff') : 0;
        expect(before.indexOf(from, where)).toBeGreaterThan(0);
        writeFileSync(path, before.slice(0, where) + before.slice(where).replace(from, to));
      }
      const { code, out } = await leeshore(
        folder,
        ...args,
        '--style',
        'reducer',
        '--steps',
        '6000',
      );
      expect([code, out.split('\n')[0]]).toEqual([0, 'no difference between 3 participants.']);
      expect(out).toContain('Not compared, since old terminal does not have it:\n  deck.onBoard, ');
      expect(out).toContain('Not compared with old terminal: notices, problems, identity.');
    }),
  180_000,
);
