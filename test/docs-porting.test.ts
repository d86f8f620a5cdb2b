import { cpSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@jest/globals';
import { inFolder, leeshore } from './cli/run.js';
import { root } from './helpers.js';
import { isSoak } from './sweep.js';

const text = readFileSync(new URL('docs/porting.md', root), 'utf8');

/** What the tutorial says, in its order: commands, what they print, and changes of the old code. */
const blocks = [...text.matchAll(/```(console|text|diff)\n([^]*?)```/g)].map(
  ([, kind = '', content = '']) => ({ kind, lines: content.trimEnd().split('\n') }),
);

/** The lines of one side of a change. */
const side = (lines: readonly string[], mark: string) =>
  lines
    .filter((line) => line.startsWith(mark))
    .map((line) => line.slice(1))
    .join('\n');

/** A soak searches for as long as the tutorial does. */
const budgeted = (line: string) =>
  isSoak
    ? line
    : line.replace('--steps 20000', '--steps 2000').replace('--seconds 120', '--steps 3000');

test('the tutorial on porting works as it is written', () =>
  inFolder(async (folder) => {
    for (const name of ['ferry.stores.yaml', 'harbour.stores.yaml', 'old', 'port', 'old-app'])
      cpSync(fileURLToPath(new URL(`examples/skerry/${name}`, root)), join(folder, name), {
        recursive: true,
        filter: (from) => !/old-app[\\/]stores$/.test(from),
      });
    const path = join(folder, 'old/terminal.ts');
    let printed = '';
    let codes: (number | null)[] = [];
    for (const { kind, lines } of blocks) {
      if (kind === 'console') {
        expect(lines).toHaveLength(1);
        const [program = '', ...args] = budgeted(lines[0] ?? '').split(' ');
        if (program === 'cp') {
          execFileSync(program, args, { cwd: folder });
          continue;
        }
        const { code, out, err } = await leeshore(folder, ...args);
        [printed, codes] = [out + err, [...codes, code]];
      } else if (kind === 'text') {
        for (const line of lines) expect(printed).toContain(line);
      } else {
        const before = readFileSync(path, 'utf8');
        expect(before.split(side(lines, '-'))).toHaveLength(2);
        writeFileSync(path, before.replace(side(lines, '-'), side(lines, '+')));
      }
    }
    expect(codes).toEqual([0, 1, ...codes.slice(2).map(() => 0)]);
    expect(codes).toHaveLength(12);
    expect(existsSync(join(folder, 'old/ferry.types.ts'))).toBe(true);
  }));
