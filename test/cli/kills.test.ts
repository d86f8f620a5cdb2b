import { spawn, spawnSync } from 'node:child_process';
import {
  cpSync,
  existsSync,
  lstatSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import { contentOf, inFolder, leeshore, leeshoreProcess } from './run.js';
import { howMany } from '../sweep.js';

const program = fileURLToPath(new URL('bin/leeshore.js', root));

const pier = (limit: number) =>
  `leeshore: 1\nstores: { pier: { state: { n: { type: number, default: ${limit} } }, actions: { up: [{ set: { n: "n + 1" } }] } } }\n`;

/**
 * Loaded before the program: kills it at one of the operations that change the file system, before it is done or after.
 * With no number it writes down how many there were.
 */
const killer = `import fs from 'node:fs';
import { syncBuiltinESMExports } from 'node:module';
let count = 0;
const at = Number(process.env.KILL_AT ?? 0);
const changing = ['mkdirSync', 'writeFileSync', 'renameSync', 'rmSync', 'rmdirSync', 'linkSync', 'symlinkSync', 'copyFileSync', 'utimesSync', 'chmodSync'];
if (!process.argv[1]?.includes('guardian'))
  for (const name of changing) {
    const real = fs[name];
    fs[name] = (...args) => {
      const own = (count += 1);
      if (own === at && process.env.KILL_WHEN === 'before') process.kill(process.pid, 'SIGKILL');
      try {
        return real(...args);
      } finally {
        if (own === at) process.kill(process.pid, 'SIGKILL');
      }
    };
  }
syncBuiltinESMExports();
process.on('exit', () => { if (at === 0) fs.writeSync(2, 'operations: ' + count); });
`;

const pause = (ms: number) => new Promise((resume) => setTimeout(resume, ms));

/** How many operations of how many are tried: all of them with `npm run soak`. */
const each = howMany(9, 1);

test('a kill at any operation on the file system leaves the old folder or the new one', () =>
  inFolder(async (folder) => {
    writeFileSync(join(folder, 'killer.mjs'), killer);
    const schema = join(folder, 'pier.stores.yaml');
    const target = join(folder, 'stores/atom');
    const generate = (env: Readonly<Record<string, string>> = {}) =>
      spawnSync(
        process.execPath,
        ['--import', './killer.mjs', program, 'generate', 'pier.stores.yaml', '--style', 'atom'],
        { cwd: folder, env: { PATH: process.env.PATH, ...env }, encoding: 'utf8' },
      );
    const write = (limit: number) => {
      writeFileSync(schema, pier(limit));
      const { status, stderr } = generate();
      expect([status, stderr]).toEqual([0, expect.stringContaining('operations')]);
      return Number(/operations: (\d+)/.exec(stderr)?.[1]);
    };
    write(1);
    const stores = join(folder, 'stores');
    cpSync(stores, join(folder, 'stores before'), { recursive: true });
    const old = JSON.stringify(contentOf(target));
    const operations = write(2);
    const next = JSON.stringify(contentOf(target));
    expect(operations).toBeGreaterThan(10);
    // The renames are the last but one and the one before it: these are always tried.
    const tried = Array.from({ length: operations }, (_, i) => i + 1).filter(
      (at) => at % each === 0 || at > operations - 4,
    );
    for (const at of tried)
      for (const when of ['before', 'after']) {
        rmSync(stores, { recursive: true });
        cpSync(join(folder, 'stores before'), stores, { recursive: true });
        const { signal } = generate({ KILL_AT: String(at), KILL_WHEN: when });
        expect([at, when, signal]).toEqual([at, when, 'SIGKILL']);
        // It takes the guardian a moment to put the folder back.
        const isDone = () => existsSync(target) && readdirSync(stores).length === 1;
        for (let i = 0; i < 100 && !isDone(); i++) await pause(20);
        expect([old, next]).toContain(JSON.stringify(contentOf(target)));
      }
    write(2);
    await pause(300);
    expect(readdirSync(join(folder, 'stores'))).toEqual(['atom']);
  }));

/** The processes that one has started, as far as the system tells. */
function childrenOf(id: number): readonly number[] {
  try {
    const text = readFileSync(`/proc/${id}/task/${id}/children`, 'utf8');
    return text.split(' ').filter(Boolean).map(Number);
  } catch {
    return [];
  }
}

test('a kill of the guardian changes nothing', () =>
  inFolder(async (folder) => {
    writeFileSync(join(folder, 'pier.stores.yaml'), pier(1));
    await leeshore(folder, 'generate', 'pier.stores.yaml', '--style', 'atom');
    writeFileSync(join(folder, 'pier.stores.yaml'), pier(2));
    const child = spawn(
      process.execPath,
      [program, 'generate', 'pier.stores.yaml', '--style', 'atom'],
      { cwd: folder, stdio: 'ignore' },
    );
    const ended = new Promise((resolve) => child.on('close', resolve));
    const killed = new Set<number>();
    const timer = setInterval(() => {
      for (const id of childrenOf(child.pid ?? 0)) {
        process.kill(id, 'SIGKILL');
        killed.add(id);
      }
    }, 5);
    expect(await ended).toBe(0);
    clearInterval(timer);
    expect(killed.size).toBeGreaterThan(0);
    const text = Object.values(contentOf(join(folder, 'stores/atom/stores'))).join('');
    expect(text).toContain(', 2)');
  }));

describe('what stands where a file is to be written', () => {
  const made = async (folder: string) => {
    writeFileSync(join(folder, 'pier.stores.yaml'), pier(1));
    await leeshore(folder, 'generate', 'pier.stores.yaml', '--style', 'atom');
    rmSync(join(folder, 'stores/atom/index.ts'));
    writeFileSync(join(folder, 'mine.txt'), 'mine');
    return join(folder, 'stores/atom/index.ts');
  };
  test.each<[string, (path: string, folder: string) => void]>([
    ['a folder', (path) => mkdirSync(join(path, 'inside'), { recursive: true })],
    ['a link', (path, folder) => symlinkSync(join(folder, 'mine.txt'), path)],
    ['a link', (path) => symlinkSync('/nowhere', path)],
  ])('stays there if it is %s, by force too', async (what, put) => {
    await inFolder(async (folder) => {
      const path = await made(folder);
      put(path, folder);
      for (const options of [[], ['--force']]) {
        const args = ['generate', 'pier.stores.yaml', '--style', 'atom', ...options];
        const { code, err } = await leeshore(folder, ...args);
        expect([code, err]).toEqual([2, expect.stringContaining(`index.ts is ${what}`)]);
        expect(lstatSync(path).isFile()).toBe(false);
      }
      expect(readFileSync(join(folder, 'mine.txt'), 'utf8')).toBe('mine');
    });
  });

  test('a style folder that is a link is written where it leads, and stays a link', () =>
    inFolder(async (folder) => {
      await made(folder);
      mkdirSync(join(folder, 'elsewhere'));
      renameSync(join(folder, 'stores/atom'), join(folder, 'elsewhere/atom'));
      symlinkSync('../elsewhere/atom', join(folder, 'stores/atom'));
      const { code } = await leeshore(folder, 'generate', 'pier.stores.yaml', '--style', 'atom');
      expect(code).toBe(0);
      expect(lstatSync(join(folder, 'stores/atom')).isSymbolicLink()).toBe(true);
      expect(existsSync(join(folder, 'elsewhere/atom/index.ts'))).toBe(true);
    }));
});

describe('what cannot be saved', () => {
  const broken =
    "export default { name: 'old', create() { let n = 1; return { actions: { pier: { up() { n += 2; return true; } } }, state: { pier: { n: () => n } } }; } };";
  const compare = ['compare', 'pier.stores.yaml', '--with', 'old.js', '--style', 'atom'];

  test.each([
    ['--save', 'no/such/folder/a.json'],
    // Node itself never comes back from making folders here at one go.
    ...(existsSync('/proc/self') ? [['--corpus', '/proc/no/corpus']] : []),
  ])('takes nothing from what was found: %s %s', async (...options) => {
    await inFolder(async (folder) => {
      writeFileSync(join(folder, 'pier.stores.yaml'), pier(1));
      writeFileSync(join(folder, 'old.js'), broken);
      const { code, out, err } = await leeshore(folder, ...compare, ...options);
      expect([code, out]).toEqual([1, expect.stringContaining('old differs from the reference')]);
      expect(err).toContain('cannot be written');
    });
  });

  test.each([
    ['--corpus', 'kept'],
    ['--save', 'kept.json'],
  ])('nor does a full disk: %s %s', async (...options) => {
    await inFolder(async (folder) => {
      writeFileSync(join(folder, 'pier.stores.yaml'), pier(1));
      writeFileSync(join(folder, 'old.js'), broken);
      writeFileSync(
        join(folder, 'full.mjs'),
        `import fs from 'node:fs';
import { syncBuiltinESMExports } from 'node:module';
const write = fs.writeFileSync;
fs.writeFileSync = (path, text, options) => {
  if (!String(path).includes('kept')) return write(path, text, options);
  write(path, text.slice(0, 5), options);
  throw Object.assign(new Error('no space left'), { code: 'ENOSPC' });
};
syncBuiltinESMExports();
`,
      );
      const env = { NODE_OPTIONS: `--import ${join(folder, 'full.mjs')}` };
      const { code, out, err } = await leeshoreProcess(folder, env, ...compare, ...options);
      expect([code, out]).toEqual([1, expect.stringContaining('old differs from the reference')]);
      expect(err).toContain('cannot be written (ENOSPC)');
      const left = readdirSync(folder).flatMap((name) =>
        name === 'kept' ? readdirSync(join(folder, name)) : [name],
      );
      expect(left.filter((name) => /kept|^(found|reach)-/.test(name))).toEqual([]);
    });
  });

  test('leaves no empty file behind, and one script in all', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, 'pier.stores.yaml'), pier(1));
      writeFileSync(join(folder, 'old.js'), broken);
      const before = readdirSync(folder);
      const { out } = await leeshore(folder, ...compare);
      const more = readdirSync(folder).filter((name) => !before.includes(name));
      expect(more).toEqual(['pier.seed-1.script.json']);
      expect(out).toContain('pier.seed-1.script.json');
    }));
});
