import { mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { makeReady, printedBy, shots } from '../scripts/shots.mjs';
import { root } from './helpers.js';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'leeshore-shots-'));
  makeReady(folder, fileURLToPath(root));
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

const pictures = fileURLToPath(new URL('docs/screenshots/', root));

test('each picture has its text beside it, and the README links to it', () => {
  const drawn = ['app', 'app-react', 'timeline-page', 'timeline-script'];
  const named = [...shots.map(({ name }) => name), ...drawn].sort();
  const files = readdirSync(pictures);
  const png = files.filter((name) => name.endsWith('.png'));
  expect(png.sort()).toEqual(named.map((name) => `${name}.png`).sort());
  const readme = readFileSync(new URL('README.md', root), 'utf8');
  expect(named.filter((name) => !readme.includes(`docs/screenshots/${name}.png`))).toEqual([]);
});

// What takes long is looked at with npm run soak.
const looked = shots.filter(
  ({ isLong }) => isLong !== true || process.env.LEESHORE_SOAK !== undefined,
);

test.each(looked.map((shot) => [shot.name, shot] as const))(
  'the picture %s shows what its commands print (npm run screenshots takes it again)',
  (name, shot) => {
    const text = readFileSync(join(pictures, `${name}.txt`), 'utf8');
    expect(printedBy(shot, folder)).toBe(text);
  },
  120_000,
);
