import { spawn } from 'node:child_process';
import {
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import { contentOf, inFolder, leeshore } from './run.js';
import { expectValid } from './published.js';

const file = 'pier.stores.yaml';

/** Small, since writing is what is tried here. */
const pier = `leeshore: 1
title: The pier of Skerry Sound
functions:
  half: { given: { metres: number }, value: "metres / 2" }
stores:
  wind:
    state: { speed: { type: number, default: 0 }, limit: { type: number, default: 18 } }
    derived: { tooStrong: "speed > limit" }
    actions:
      measure: { payload: { type: number, maximum: 60 }, steps: [{ set: { speed: "payload" } }] }
  deck:
    state: { capacityM: { type: number, maximum: 500, default: 240 } }
    derived: { room: "wind.tooStrong ? half(capacityM) : capacityM" }
    actions:
      stretch: { payload: number, accepts: text, steps: [{ set: { capacityM: "payload" } }] }
  berth:
    value: { type: integer, default: 0 }
    actions:
      moor: { payload: integer, steps: [{ set: { value: "payload" } }] }
`;
const later = pier.replace('default: 240', 'default: 300');
const withoutBerth = (text: string) => text.slice(0, text.indexOf('  berth:'));

async function inPierFolder(run: (folder: string) => Promise<void>): Promise<void> {
  await inFolder(async (folder) => {
    writeFileSync(join(folder, file), pier);
    await run(folder);
  });
}

/** All files of a folder, by name. */
const generate = (folder: string, ...args: readonly string[]) =>
  leeshore(folder, 'generate', file, '--style', 'atom', ...args);

describe('generate, before it writes', () => {
  test('--dry-run lists what would change, and touches nothing', () =>
    inPierFolder(async (folder) => {
      const first = await generate(folder, '--dry-run');
      expect(first.code).toBe(0);
      expect(first.out).toContain('stores/atom  nothing there yet');
      expect(first.out).toContain('  + stores/deck.ts');
      expect(existsSync(join(folder, 'stores'))).toBe(false);

      await generate(folder);
      const before = contentOf(join(folder, 'stores/atom'));
      writeFileSync(join(folder, file), withoutBerth(later));
      const { out } = await generate(folder, '--dry-run');
      expect(out).toMatch(/^ {2}~ stores\/deck\.ts$/m);
      expect(out).toMatch(/^ {2}- stores\/berth\.ts$/m);
      expect(contentOf(join(folder, 'stores/atom'))).toEqual(before);
    }));

  test('--diff shows it line by line, as patches that apply', () =>
    inPierFolder(async (folder) => {
      await generate(folder);
      expect((await generate(folder, '--diff')).out).toBe('Nothing would change.\n');
      writeFileSync(join(folder, file), later);
      const { code, out } = await generate(folder, '--diff');
      expect(code).toBe(0);
      expect(out).toContain('--- stores/atom/stores/deck.ts\n+++ stores/atom/stores/deck.ts\n@@ ');
      expect(out).toContain('("deck.capacityM", 240);\n+');
    }));

  test('--verify exits 1 if the folder is out of date, and writes nothing', () =>
    inPierFolder(async (folder) => {
      expect((await generate(folder, '--verify')).code).toBe(1);
      await generate(folder);
      expect((await generate(folder, '--verify')).code).toBe(0);
      writeFileSync(join(folder, file), later);
      const { code, out } = await generate(folder, '--verify');
      expect(code).toBe(1);
      expect(out).toContain('~ stores/deck.ts');
      expect(readFileSync(join(folder, 'stores/atom/stores/deck.ts'), 'utf8')).toContain('240');
    }));

  test('refuses an option that is given twice, but for lists, which add up', () =>
    inPierFolder(async (folder) => {
      const { code, err } = await generate(folder, '--out', 'a', '--out', 'b');
      expect(code).toBe(2);
      expect(err).toContain('--out is given more than once.');
      const both = await generate(folder, '--style', 'proxy');
      expect([both.code, both.out.match(/stores\/\w+/g)]).toEqual([
        0,
        ['stores/atom', 'stores/proxy'],
      ]);
    }));

  test('refuses options that do not go together', () =>
    inPierFolder(async (folder) => {
      const { code, err } = await generate(folder, '--dry-run', '--verify');
      expect(code).toBe(2);
      expect(err).toContain('--dry-run and --verify do not go together.');
    }));
});

describe('generate --force', () => {
  test('overwrites what was changed by hand, and keeps a copy each time', () =>
    inPierFolder(async (folder) => {
      await generate(folder);
      const path = join(folder, 'stores/atom/index.ts');
      const before = readFileSync(path, 'utf8');
      for (const [mine, copy] of [
        ['// mine\n', 'index.ts.kept'],
        ['// mine, too\n', 'index.ts.kept-2'],
      ] as const) {
        writeFileSync(path, before + mine);
        const listed = await generate(folder, '--dry-run');
        expect(listed.out).toContain('~ index.ts  changed by hand: only with --force');
        const { code, out } = await generate(folder, '--force');
        expect(code).toBe(0);
        expect(out).toContain(`kept  stores/atom/${copy}`);
        expect(readFileSync(path, 'utf8')).toBe(before);
        expect(readFileSync(join(folder, 'stores/atom', copy), 'utf8')).toBe(before + mine);
      }
    }));

  test('a file that is no longer needed is not taken away if it was changed by hand', () =>
    inPierFolder(async (folder) => {
      await generate(folder);
      const path = join(folder, 'stores/atom/stores/berth.ts');
      writeFileSync(path, `${readFileSync(path, 'utf8')}// mine\n`);
      writeFileSync(join(folder, file), withoutBerth(pier));
      const { code, err } = await generate(folder);
      expect(code).toBe(2);
      expect(err).toContain('stores/atom/stores/berth.ts (changed by hand, and not needed)');
      expect(existsSync(path)).toBe(true);
    }));
});

describe('generate, options of the output', () => {
  test('--only writes some stores, and those that they need', () =>
    inPierFolder(async (folder) => {
      await generate(folder, '--only', 'wind');
      const stores = () => readdirSync(join(folder, 'stores/atom/stores'));
      expect(stores()).toEqual(['wind.ts']);
      expect(existsSync(join(folder, 'stores/atom/functions.ts'))).toBe(false);
      await generate(folder, '--only', 'deck');
      expect(stores()).toEqual(['deck.ts', 'wind.ts']);
      const { code, err } = await generate(folder, '--only', 'dock');
      expect(code).toBe(2);
      expect(err).toContain("There is no store 'dock'.");
    }));

  test('--layout and --language, one after the other, leave nothing of the last', () =>
    inPierFolder(async (folder) => {
      const atom = join(folder, 'stores/atom');
      await generate(folder);
      expect(Object.keys(contentOf(atom)).length).toBeGreaterThan(10);

      await generate(folder, '--layout', 'one-file');
      expect(Object.keys(contentOf(atom))).toEqual(['index.ts']);
      await generate(folder, '--layout', 'one-file', '--language', 'js');
      expect(Object.keys(contentOf(atom))).toEqual(['index.d.ts', 'index.js']);
      const args = ['--steps', '200', '--generated', 'stores'];
      const { code, out } = await leeshore(folder, 'compare', file, '--style', 'atom', ...args);
      expect([code, out]).toEqual([0, expect.stringContaining('no difference')]);

      writeFileSync(join(atom, 'index.js'), `${contentOf(atom)['index.js'] ?? ''}\n`);
      const refused = await generate(folder);
      expect([refused.code, refused.err]).toEqual([2, expect.stringContaining('index.js')]);
    }));

  test('--checks never leaves out judging, --guard never freezing', () =>
    inPierFolder(async (folder) => {
      await generate(folder, '--checks', 'never', '--guard', 'never');
      const files = contentOf(join(folder, 'stores/atom'));
      expect(files['runtime/guard.ts']).toContain('=> false');
      expect(files['checks/wind.ts']).toBeUndefined();
      // What comes as text is judged all the same: the compiler cannot know what it says.
      expect(files['checks/deck.ts']).toContain('from: fromText');
      expect(files['checks/deck.ts']).not.toContain('state:');
      // Such stores are sent only what fits, and the report says so.
      const { code, out } = await leeshore(
        folder,
        ...['compare', file, '--generated', 'stores', '--steps', '3000'],
      );
      expect([code, out]).toEqual([0, expect.stringContaining('no difference')]);
      expect(out).toContain(
        'do not fit their type were not sent: atom does not check them (refusesMisfits).',
      );
    }));
});

test('generate --json says what was written, or would be', () =>
  inPierFolder(async (folder) => {
    const generated = async (...args: readonly string[]) => {
      const { code, out } = await leeshore(
        folder,
        ...['generate', file, '--style', 'atom', '--layout', 'one-file', '--json'],
        ...args,
      );
      expectValid('generation', out);
      return [code, JSON.parse(out)] as const;
    };
    const changes = [{ path: 'index.ts', kind: 'new' }];
    const would = { isWritten: false, isUpToDate: false, folders: [{ changes }] };
    expect(await generated('--dry-run')).toMatchObject([0, would]);
    expect(await generated('--verify')).toMatchObject([1, would]);
    expect(await generated()).toMatchObject([0, { ...would, isWritten: true }]);
    expect(await generated('--verify')).toMatchObject([0, { isUpToDate: true }]);
  }));

describe('the project file', () => {
  const config = 'leeshore.config.yaml';

  test('says which files and how, and the command line has the last word', () =>
    inPierFolder(async (folder) => {
      writeFileSync(
        join(folder, config),
        `files: [${file}]\ngenerate: { style: [atom, proxy], out: src/stores }\n`,
      );
      expect((await leeshore(folder, 'check')).code).toBe(0);
      expect((await leeshore(folder, 'generate')).code).toBe(0);
      expect(readdirSync(join(folder, 'src/stores')).toSorted()).toEqual(['atom', 'proxy']);
      await leeshore(folder, 'generate', '--style', 'reducer');
      expect(readdirSync(join(folder, 'src/stores'))).toContain('reducer');
    }));

  test.each([
    ['generate:\n  stile: atom\n', "leeshore.config.yaml:2:3: there is no 'stile' in 'generate'."],
    ['generate:\n  guard: now\n', "leeshore.config.yaml:2:10: 'generate.guard' must be equal"],
    [
      'compare:\n  for: 30\n',
      "leeshore.config.yaml:2:3: there is no 'for' in 'compare' any more.\n  hint: It is called 'seconds' now.",
    ],
    ['files: [\n', 'leeshore.config.yaml:2:1: '],
    ['loud: true\n', "leeshore.config.yaml:1:1: there is no 'loud' in the project file."],
  ])('%j is refused with its place', (text, message) =>
    inPierFolder(async (folder) => {
      writeFileSync(join(folder, config), text);
      const { code, err } = await leeshore(folder, 'check', file);
      expect(code).toBe(2);
      expect(err).toContain(message);
      expect(err.trim().split('\n')).toHaveLength(2);
    }),
  );

  test('a broken one is in the way of no help', () =>
    inPierFolder(async (folder) => {
      writeFileSync(join(folder, config), 'loud: true\n');
      expect((await leeshore(folder, 'schema', '--project')).code).toBe(0);
      expect((await leeshore(folder, 'generate', '--help')).code).toBe(0);
      expect((await leeshore(folder, 'explain', 'unknown-name')).code).toBe(0);
    }));

  test('without it, a command says that it needs files', () =>
    inFolder(async (folder) => {
      const { code, err } = await leeshore(folder, 'generate');
      expect(code).toBe(2);
      expect(err).toContain('No schema file given.');
    }));

  test('holds the options of every command that takes some, with paths relative to it', () =>
    inPierFolder(async (folder) => {
      mkdirSync(join(folder, 'within'));
      cpSync(
        new URL('examples/skerry/logs/morning.log.jsonl', root),
        join(folder, 'morning.log.jsonl'),
      );
      writeFileSync(join(folder, 'old.ts'), 'export const speed = 1;\n');
      writeFileSync(join(folder, 'page.ts'), "import { speed } from './old';\nspeed;\n");
      writeFileSync(
        join(folder, config),
        [
          `files: [${file}]`,
          'timeline: { store: [deck, wind], failed: true, html: seen.html }',
          'survey: { old: [old.ts], left: 5 }',
          'weigh: { style: atom, against: old.ts, max-size: 50kB }',
          'replay: { mapping: old.participant.ts, call-seconds: 3 }',
        ].join('\n'),
      );
      const within = join(folder, 'within');
      const page = await leeshore(within, 'timeline', '../morning.log.jsonl');
      expect(page.err).toContain('--store is not for a page');
      const survey = await leeshore(within, 'survey', '..');
      expect([survey.err, survey.code]).toEqual(['', 0]);
      const weighed = await leeshore(within, 'weigh');
      expect([weighed.err, weighed.out]).toEqual(['', expect.stringContaining('../old.ts')]);
      const replayed = await leeshore(within, 'replay', '../morning.log.jsonl');
      expect(replayed.err).toContain('There is no file ../old.participant.ts');
    }));

  test.each([
    'check',
    'show',
    'format',
    'generate',
    'compare',
    'replay',
    'timeline',
    'survey',
    'weigh',
  ])('knows every option of %s', (command) =>
    inFolder(async (folder) => {
      const { out } = await leeshore(folder, 'schema', '--project');
      const { properties } = JSON.parse(out) as {
        properties: Record<string, { properties: Record<string, unknown> }>;
      };
      const help = await leeshore(folder, command, '--help');
      const named = [...help.out.matchAll(/^ +(?:-h, )?--([a-z-]+)/gm)].map(([, name]) => name);
      const shared = ['help', 'version', 'config', 'quiet', 'color'];
      const options = new Set(named.filter((name) => !shared.includes(name ?? '')));
      expect([...options].toSorted()).toEqual(
        Object.keys(properties[command]?.properties ?? {}).toSorted(),
      );
    }),
  );
});

describe('generate that is stopped', () => {
  test('the next run puts back a folder that was on its way out', () =>
    inPierFolder(async (folder) => {
      await generate(folder);
      const target = join(folder, 'stores/atom');
      const before = contentOf(target);
      renameSync(target, join(folder, 'stores/.atom.leeshore-last'));
      mkdirSync(join(folder, 'stores/.atom.leeshore-next'));
      // Who only looks finds it where it stands, and leaves it there.
      expect((await generate(folder, '--verify')).code).toBe(0);
      expect(existsSync(target)).toBe(false);
      await generate(folder);
      expect(contentOf(target)).toEqual(before);
      expect(readdirSync(join(folder, 'stores'))).toEqual(['atom']);
    }));

  test('files of others and folders in it stay as they are', () =>
    inPierFolder(async (folder) => {
      await generate(folder);
      const mine = join(folder, 'stores/atom/notes/mine.md');
      mkdirSync(join(folder, 'stores/atom/notes'));
      writeFileSync(mine, 'mine\n');
      const { mtimeMs, ino } = statSync(mine);
      const types = statSync(join(folder, 'stores/atom/types.ts')).mtimeMs;
      writeFileSync(join(folder, file), later);
      await generate(folder);
      expect(statSync(mine)).toMatchObject({ mtimeMs, ino });
      expect(statSync(join(folder, 'stores/atom/types.ts')).mtimeMs).toBe(types);
      rmSync(mine);
    }));
});

describe('generate --watch', () => {
  test('writes again when the schema is saved, and says so in a line', () =>
    inPierFolder(async (folder) => {
      const program = fileURLToPath(new URL('bin/leeshore.js', root));
      const child = spawn(
        process.execPath,
        [program, 'generate', file, '--style', 'atom', '--watch'],
        { cwd: folder },
      );
      let out = '';
      child.stdout.on('data', (data: Buffer) => (out += data.toString()));
      const until = async (text: string) => {
        for (let i = 0; i < 300 && !out.includes(text); i++)
          await new Promise((resume) => setTimeout(resume, 50));
        expect(out).toContain(text);
      };
      await until('watching the schema');
      writeFileSync(join(folder, file), later);
      await until('pier.stores.yaml saved: 1 file changed');
      writeFileSync(join(folder, file), later.replace('speed > limit', 'sped > limit'));
      await new Promise((resume) => setTimeout(resume, 1000));
      writeFileSync(join(folder, file), pier);
      await new Promise((resume) => setTimeout(resume, 200));
      await until('saved: 1 file changed');
      const ended = new Promise<number | null>((resolve) => child.on('close', resolve));
      child.kill('SIGINT');
      expect(await ended).toBe(130);
      expect(readFileSync(join(folder, 'stores/atom/stores/deck.ts'), 'utf8')).toContain('240');
    }));
});

test('check --watch says what is wrong when the schema is saved, until it is interrupted', () =>
  inPierFolder(async (folder) => {
    const program = fileURLToPath(new URL('bin/leeshore.js', root));
    const child = spawn(process.execPath, [program, 'check', file, '--watch'], { cwd: folder });
    let out = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (data: Buffer) => (out += data.toString()));
    const until = async (text: string) => {
      for (let i = 0; i < 300 && !out.includes(text); i++)
        await new Promise((resume) => setTimeout(resume, 50));
      expect(out).toContain(text);
      out = out.slice(out.indexOf(text) + text.length);
    };
    await until('fine  pier.stores.yaml');
    await until('watching the schema');
    writeFileSync(join(folder, file), pier.replace('metres / 2', 'meters / 2'));
    await until('pier.stores.yaml saved');
    await until("Did you mean 'metres'?");
    writeFileSync(join(folder, file), pier);
    await until('fine  pier.stores.yaml');
    const ended = new Promise<number | null>((resolve) => child.on('close', resolve));
    child.kill('SIGINT');
    expect(await ended).toBe(130);
  }));
