import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { begin, makeReady, shots, untimed, type Shot } from '../scripts/shots.mjs';
import { leeshore } from './cli/run.js';
import { root } from './helpers.js';
import { isSoak } from './sweep.js';

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
const looked = shots.filter(({ isLong }) => isLong !== true || isSoak);

/** What a line of a shell prints; the program in it is called, and what follows it is left to the shell. */
async function printedByLine(line: string): Promise<string> {
  const [, args, rest = ''] = /^leeshore ([^|>]*?)((?: [|>].*)?)$/.exec(line) ?? [];
  const { out = '', err = '' } =
    args === undefined ? {} : await leeshore(folder, ...args.split(' '));
  if (args !== undefined && rest === '') return out + err;
  const command = args === undefined ? line : `cat ${rest}`;
  const shell = spawnSync('sh', ['-c', command], { cwd: folder, input: out, encoding: 'utf8' });
  return shell.stdout + shell.stderr + err;
}

/** What the commands of a picture print, without what differs from run to run: how long they took. */
async function printedBy(shot: Shot, folder: string): Promise<string> {
  begin(shot, folder);
  const texts: string[] = [];
  for (const command of shot.commands) texts.push(`$ ${command}\n${await printedByLine(command)}`);
  return untimed(texts.join('\n'));
}

test.each(looked.map((shot) => [shot.name, shot] as const))(
  'the picture %s shows what its commands print (npm run screenshots takes it again)',
  async (name, shot) => {
    const text = readFileSync(join(pictures, `${name}.txt`), 'utf8');
    expect(await printedBy(shot, folder)).toBe(text);
  },
);
