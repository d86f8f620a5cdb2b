import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { codeRun } from '../../../src/comparing/missed.js';
import { bundledParticipant } from '../../../src/library/bundled-participant.js';
import { WaysGone } from '../../../src/participants/branches/ways-gone.js';
import { waysTold } from '../../../src/participants/branches/ways-told.js';
import { importText } from '../../../src/participants/import-text.js';

/** What of a module never ran once it was loaded, and a function of it was called, as `line:column kind`. */
async function never(module: string, call: (exported: Record<string, () => unknown>) => unknown) {
  const folder = mkdtempSync(join(tmpdir(), 'leeshore-ways-'));
  try {
    writeFileSync(join(folder, 'old.ts'), module);
    writeFileSync(join(folder, 'p.ts'), "export * as default from './old.js';");
    const { bundle, map = '', path } = await bundledParticipant('p.ts', folder);
    const ways = new WaysGone();
    const exported = await importText(path, bundle, (text) =>
      ways.count('old', path, text, 'module'),
    );
    const [code] = ways.codes;
    if (code === undefined) throw new Error('it was not counted');
    const told = waysTold(code, { path, bundle, map }, ways.added);
    ways.restart([]);
    call(exported as Record<string, () => unknown>);
    const [run] = codeRun(told, new Set(ways.added));
    return run?.never.map(({ file, line, column, kind }) => `${file}:${line}:${column} ${kind}`);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

test('what ran while the module was loaded has run', async () => {
  const module = `const lanes = makeLanes(3);
function makeLanes(count: number): string[] {
  if (count > 2) return ['port'];
  return [];
}
export const first = (): string => lanes[0] ?? 'none';
`;
  expect(await never(module, ({ first }) => first?.())).toEqual([
    'old.ts:3:3 condition false',
    'old.ts:6:48 value missing',
  ]);
});

test('what lies within something that never ran is not told besides', async () => {
  const module = `export const hold = (why?: string): string => (why && (why.length > 3 ? 'long' : 'short')) || 'none';
export const fold = (): number => {
  if (Math.random() > 2) return 1;
  return 2;
};
`;
  expect(await never(module, ({ hold }) => hold?.())).toEqual([
    'old.ts:1:95 left true',
    'old.ts:1:56 left true',
    'old.ts:2:21 function',
  ]);
});

test('a right side that ran is told though the left side was never false', async () => {
  const module = `export const boards = (): string => (Date.now() > 0 && (Date.now() > 1 ? 'yes' : 'no')) || '';
`;
  expect(await never(module, ({ boards }) => boards?.())).toEqual([
    'old.ts:1:92 left false',
    'old.ts:1:57 left false',
    'old.ts:1:82 condition false',
  ]);
});
