import { cpSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { describe, expect, test } from '@jest/globals';
import stringWidth from 'string-width';
import { quoted } from '../../src/cli/compare/quoted.js';
import { visible } from '../../src/cli/printed.js';
import { ferryText, root } from '../helpers.js';
import { expectValid } from './published.js';
import { inFolder, leeshore, leeshoreWith } from './run.js';
import { someOf } from '../sweep.js';

const file = 'ferry.stores.yaml';

const inFerryFolder = (work: (folder: string) => Promise<void>) =>
  inFolder(async (folder) => {
    writeFileSync(join(folder, file), ferryText);
    await work(folder);
  });

/** What the program prints on a terminal of some width, on both its streams. */
async function onTerminal(
  folder: string,
  columns: number,
  env: Readonly<Record<string, string>>,
  ...args: readonly string[]
): Promise<string> {
  const { out, err } = await leeshoreWith(folder, { columns, env }, ...args);
  return out + err;
}

describe('--json', () => {
  test('prints one value that fits its published schema, also where there is nothing to do', () =>
    inFerryFolder(async (folder) => {
      expectValid('check', (await leeshore(folder, 'check', file, '--json')).out);
      expectValid('overview', (await leeshore(folder, 'show', file, '--json')).out);
      writeFileSync(join(folder, 'odd.stores.yaml'), ferryText.replace('v.boarded)', 'v.borded)'));
      const odd = await leeshore(folder, 'check', 'odd.stores.yaml', '--json');
      expectValid('check', odd.out);
      for (const args of [['compare'], ['show'], ['compare', '--faults', '2']]) {
        const ran = await leeshore(folder, ...args, 'odd.stores.yaml', '--json');
        expect(ran.code).toBe(1);
        expectValid('failure', ran.out);
        expect(JSON.parse(ran.out)).toMatchObject({ kind: 'problems' });
      }
      for (const args of [
        ['compare', 'nowhere.yaml'],
        ['check', 'nowhere.yaml'],
        ['show', file, '--loud'],
        ['compare', file, '--steps', 'many'],
      ]) {
        const ran = await leeshore(folder, ...args, '--json');
        expect(ran.code).toBe(2);
        expectValid('failure', ran.out);
        expect(JSON.parse(ran.out)).toMatchObject({ kind: 'unusable' });
      }
    }));
});

describe('texts of others', () => {
  test.each([
    ['\u001b[2Jgone', '\\u001b[2Jgone'],
    ['\u001b[31mred\u001b[39m', '\u001b[31mred\u001b[39m'],
    ['a\rb\u0007', 'a\\u000db\\u0007'],
    ['\u202eturned', '\\u202eturned'],
    ['lines\nand\ttabs', 'lines\nand\ttabs'],
  ])('cannot steer the terminal: %j', (text, shown) => {
    expect(visible(text, true)).toBe(shown);
  });

  test('in a schema, a file name and a participant are shown, not obeyed', () =>
    inFolder(async (folder) => {
      const name = 'quay\u001b]0;own title\u0007.stores.yaml';
      const title = 'A \\e[2J pier';
      writeFileSync(
        join(folder, name),
        `leeshore: 1\ntitle: "${title}"\nstores: { quay: { about: "\\e[31m", state: { a: { type: number, default: 0 } }, actions: { up: [{ set: { a: "a + 1" } }] } } }\n`,
      );
      writeFileSync(
        join(folder, 'old.js'),
        "let a = 0; export default { name: 'old\\u001b[2J', create() { let a = 0; return { actions: { quay: { up() { a += 2; throw new Error('\\u001b[1A'); } } }, state: { quay: { a: () => a } } }; } };",
      );
      for (const args of [
        ['check', name],
        ['show', name],
        ['compare', name, '--with', 'old.js', '--style', 'atom', '--steps', '50'],
        ['check', `${name}x`],
      ]) {
        const { out, err } = await leeshore(folder, ...args);
        // eslint-disable-next-line no-control-regex -- these are what must not be there
        expect(`${out}${err}`).not.toMatch(/[\u0000-\u0009\u000b-\u001f\u007f-\u009f]/);
      }
    }));

  test.each([
    ['stores/atom', 'stores/atom'],
    ['two words', "'two words'"],
    ["it's", "'it'\\''s'"],
    ['$(rm -r)', "'$(rm -r)'"],
    ['', "''"],
  ])('the command that replays a script is quoted for a shell: %s', (word, shown) => {
    expect(quoted(word)).toBe(shown);
  });
});

describe('the width of a terminal', () => {
  test.each(someOf([60, 80, 120, 200], 1))('of %i columns is kept to, by tables too', (columns) =>
    inFerryFolder(async (folder) => {
      for (const log of ['morning', 'office'])
        cpSync(
          new URL(`examples/skerry/logs/${log}.log.jsonl`, root),
          join(folder, `${log}.log.jsonl`),
        );
      writeFileSync(
        join(folder, 'odd.stores.yaml'),
        ferryText
          .replace('v.boarded)', 'v.borded)')
          .replace('freeM < averageLengthM', `freeM < average${' + 1 - 1'.repeat(30)}`),
      );
      for (const args of [
        ['check', file, '--advice'],
        ['check', 'odd.stores.yaml'],
        ['show', file],
        ['explain'],
        ['explain', 'unquoted'],
        ['compare', '--help'],
        ['compare', file, '--steps', '200', '--jobs', '1'],
        ['weigh', file, '--readers', 'react,vue,angular', '--max-size', '8kB'],
        ['timeline', 'morning.log.jsonl'],
        ['replay', 'office.log.jsonl', file, '--style', 'none'],
        ['compare', file, '--faults', '2', '--steps', '60', '--jobs', '1', '--style', 'atom'],
      ]) {
        const out = await onTerminal(folder, columns, {}, ...args);
        const lines = stripVTControlCharacters(out).split('\n');
        expect(lines.length).toBeGreaterThan(5);
        const long = lines.filter((line) => stringWidth(line) > columns);
        expect([args.join(' '), long]).toEqual([args.join(' '), []]);
      }
    }),
  );
});

describe('colour', () => {
  const coloured = '\u001b[';
  test.each<[string, Readonly<Record<string, string>>, readonly string[], boolean]>([
    ['a terminal', {}, [], true],
    ['NO_COLOR', { NO_COLOR: '1' }, [], false],
    ['TERM=dumb', { TERM: 'dumb' }, [], false],
    ['--no-color', {}, ['--no-color'], false],
    ['FORCE_COLOR=0', { FORCE_COLOR: '0' }, [], false],
    ['--color, whatever the surroundings say', { NO_COLOR: '1' }, ['--color'], true],
  ])('with %s', async (_name, env, options, expected) => {
    await inFerryFolder(async (folder) => {
      const out = await onTerminal(folder, 100, env, 'check', file, ...options);
      expect(out.includes(coloured)).toBe(expected);
    });
  });

  test('where there is no terminal, only if it is asked for', () =>
    inFerryFolder(async (folder) => {
      expect((await leeshore(folder, 'check', file)).out).not.toContain(coloured);
      expect((await leeshore(folder, 'check', file, '--color')).out).toContain(coloured);
      const forced = await leeshoreWith(folder, { env: { FORCE_COLOR: '1' } }, 'check', file);
      expect(forced.out).toContain(coloured);
    }));
});

describe('--quiet', () => {
  test('prints findings only', () =>
    inFerryFolder(async (folder) => {
      for (const args of [
        ['check', file],
        ['format', file],
        ['generate', file, '--style', 'atom'],
        ['generate', file, '--style', 'atom', '--verify'],
        ['compare', file, '--steps', '100', '--style', 'atom'],
      ])
        expect(await leeshore(folder, ...args, '--quiet')).toMatchObject({ code: 0, out: '' });
      writeFileSync(join(folder, file), ferryText.replace('v.boarded)', 'v.borded)'));
      const { code, out } = await leeshore(folder, 'check', file, '--quiet');
      expect([code, out]).toEqual([1, expect.stringContaining("Did you mean 'boarded'?")]);
    }));
});

describe('what is meant', () => {
  test.each([
    [['check', file, '--jsn'], "Unknown option '--jsn'.", 'Did you mean --json?'],
    [['compare', file, '--stpes=5'], "Unknown option '--stpes'.", 'Did you mean --steps?'],
    [['check', file, '--lighthouse'], "Unknown option '--lighthouse'.", 'check --help lists'],
    [['chekc', file], "There is no command 'chekc'.", "Did you mean 'check'?"],
    [['lighthouse'], "There is no command 'lighthouse'.", 'The commands are: check, generate,'],
    [['check'], 'No schema file given.', 'Name one or more'],
    [['generate', file, '--for', 'vue'], 'There is no --for any more.', '--readers now'],
    [['compare', file, '--limit', '3'], 'There is no --limit any more.', '--call-seconds now'],
    [['replay'], 'Something is missing: leeshore replay <log> [files..].', 'leeshore --help'],
    [['survey', '.'], '--old is missing: leeshore survey <sources..>.', 'leeshore --help'],
    [
      ['compare', file, '--search', 'all'],
      "--search takes both, small, random, and not 'all'.",
      '',
    ],
    [['compare', file, '--jobs', '65'], '--jobs takes a whole number from 1 to 64.', '--jobs 2'],
    [['timeline', 'a.jsonl', '--at', '0'], '--at takes a whole number from 1.', '--at 57'],
  ])('%j', async (args, message, hint) => {
    await inFerryFolder(async (folder) => {
      const { code, err } = await leeshore(folder, ...args);
      expect([code, err]).toEqual([2, expect.stringContaining(message)]);
      expect(err).toContain(hint);
    });
  });

  test('nothing at all, and help, explain the program; help of a command explains that', () =>
    inFolder(async (folder) => {
      for (const args of [[], ['help'], ['--help']]) {
        const { code, out } = await leeshore(folder, ...args);
        expect([code, out]).toEqual([0, expect.stringContaining('leeshore weigh [files..]')]);
      }
      const { out } = await leeshore(folder, 'help', 'compare');
      // What is special to the command comes before what all have, and where the docs are at the end.
      const order = [
        'What:',
        'How long it searches:',
        'What is printed',
        '--config',
        'The docs are',
      ];
      const places = order.map((heading) => out.indexOf(heading));
      expect(places).toEqual(places.toSorted((a, b) => a - b));
      expect(places).not.toContain(-1);
    }));

  test('the version is told by -v', () =>
    inFolder(async (folder) => {
      const { version } = JSON.parse(readFileSync(new URL('package.json', root), 'utf8')) as {
        version: string;
      };
      expect(await leeshore(folder, '-v')).toMatchObject({ code: 0, out: `${version}\n` });
    }));

  test('a shell can complete commands and options', () =>
    inFolder(async (folder) => {
      expect((await leeshore(folder, 'completion')).out).toContain('leeshore');
      const complete = async (...words: string[]) =>
        (await leeshore(folder, '--get-yargs-completions', 'leeshore', ...words)).out.split('\n');
      expect(await complete('')).toEqual(
        expect.arrayContaining([expect.stringMatching(/^compare/)]),
      );
      expect(await complete('generate', '--')).toEqual(
        expect.arrayContaining([expect.stringMatching(/^--layout/)]),
      );
    }));
});

describe('the project file', () => {
  test('is looked for upwards, and its paths are relative to it', () =>
    inFerryFolder(async (folder) => {
      writeFileSync(
        join(folder, 'leeshore.config.yaml'),
        `files: [${file}]\ngenerate: { out: made, style: [atom] }\n`,
      );
      mkdirSync(join(folder, 'deep/down'), { recursive: true });
      const { code, out } = await leeshore(join(folder, 'deep/down'), 'generate');
      expect([code, out]).toEqual([0, expect.stringContaining('../../made/atom')]);
      expect((await leeshore(folder, 'generate', '--verify')).code).toBe(0);
    }));

  test('is the one that --config names', () =>
    inFerryFolder(async (folder) => {
      mkdirSync(join(folder, 'other'));
      writeFileSync(join(folder, 'leeshore.config.yaml'), 'files: [nowhere.yaml]\n');
      writeFileSync(join(folder, 'other/my.yaml'), `files: [../${file}]\n`);
      const { code, out } = await leeshore(folder, 'check', '--config', 'other/my.yaml');
      expect([code, out]).toEqual([0, expect.stringContaining('5 stores')]);
      const none = await leeshore(folder, 'check', '--config', 'none.yaml');
      expect([none.code, none.err]).toEqual([
        2,
        expect.stringContaining('There is no file none.yaml'),
      ]);
    }));
});

describe('standard input', () => {
  test('is checked and formatted as -', () =>
    inFolder(async (folder) => {
      const given = { input: ferryText };
      const checked = await leeshoreWith(folder, given, 'check', '-');
      expect([checked.code, checked.out]).toEqual([0, expect.stringContaining('(standard input)')]);
      const untidy =
        "leeshore: 1\nstores: {deck: {state: {a: {type: number, default: 0}}, derived: {b: 'a + 1'}}}\n";
      const formatted = await leeshoreWith(folder, { input: untidy }, 'format', '-');
      expect(formatted.code).toBe(0);
      expect(formatted.out).toContain('b: "a + 1"');
      const odd = await leeshoreWith(folder, { input: untidy }, 'format', '-', '--check');
      expect(odd.code).toBe(1);
    }));

  test('a device is no schema', () =>
    inFolder(async (folder) => {
      const { code, err } = await leeshore(folder, 'check', '/dev/zero');
      expect([code, err]).toEqual([2, expect.stringContaining('/dev/zero is a device.')]);
      writeFileSync(join(folder, 'a.stores.yaml'), `use: [/dev/zero]\n${ferryText}`);
      expect((await leeshore(folder, 'check', 'a.stores.yaml')).out).toContain('no-such-file');
    }));
});

test('warnings can fail', () =>
  inFolder(async (folder) => {
    writeFileSync(
      join(folder, file),
      ferryText.replace('functions:', '  Unused: string\n\nfunctions:'),
    );
    const codes = async (...args: string[]) =>
      (await leeshore(folder, 'check', file, ...args)).code;
    expect(await codes()).toBe(0);
    expect(await codes('--max-warnings', '0')).toBe(1);
    expect(await codes('--max-warnings', '1')).toBe(0);
    expect(await codes('--max-warnings', 'few')).toBe(2);
  }));

test('a result that says little says so first, and what to do', () =>
  inFerryFolder(async (folder) => {
    const { code, out } = await leeshore(
      folder,
      'compare',
      file,
      '--steps',
      '40',
      '--style',
      'atom',
    );
    const [first, second] = out.split('\n');
    expect([code, first]).toEqual([
      0,
      expect.stringMatching(/^no difference in \d+ steps; \d+ of \d+ outcomes never reached\.$/),
    ]);
    expect(second).toContain('--steps 200');
  }));
