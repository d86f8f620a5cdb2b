import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, test } from '@jest/globals';
import { ferryText } from '../helpers.js';
import { inFolder, leeshore } from './run.js';

const file = 'ferry.stores.yaml';

/** The part of SARIF 2.1.0 that is written here, by the published schema. */
const sarif = {
  type: 'object',
  required: ['version', 'runs'],
  properties: {
    version: { const: '2.1.0' },
    $schema: { type: 'string', format: 'uri' },
    runs: {
      type: 'array',
      items: {
        type: 'object',
        required: ['tool'],
        properties: {
          columnKind: { enum: ['utf16CodeUnits', 'unicodeCodePoints'] },
          tool: {
            required: ['driver'],
            properties: {
              driver: {
                required: ['name'],
                properties: {
                  rules: { type: 'array', uniqueItems: true, items: { required: ['id'] } },
                },
              },
            },
          },
          results: {
            type: 'array',
            items: {
              type: 'object',
              required: ['message'],
              additionalProperties: false,
              properties: {
                ruleId: { type: 'string' },
                ruleIndex: { type: 'integer', minimum: -1 },
                level: { enum: ['none', 'note', 'warning', 'error'] },
                message: { required: ['text'], properties: { text: { type: 'string' } } },
                locations: { $ref: '#/$defs/locations' },
                relatedLocations: { $ref: '#/$defs/locations' },
              },
            },
          },
        },
      },
    },
  },
  $defs: {
    locations: {
      type: 'array',
      uniqueItems: true,
      items: {
        type: 'object',
        additionalProperties: false,
        properties: {
          id: { type: 'integer', minimum: -1 },
          message: { required: ['text'] },
          physicalLocation: {
            required: ['artifactLocation', 'region'],
            properties: {
              artifactLocation: { required: ['uri'], properties: { uri: { type: 'string' } } },
              region: {
                additionalProperties: false,
                properties: {
                  startLine: { type: 'integer', minimum: 1 },
                  startColumn: { type: 'integer', minimum: 1 },
                  endLine: { type: 'integer', minimum: 1 },
                  endColumn: { type: 'integer', minimum: 1 },
                },
              },
            },
          },
        },
      },
    },
  },
};

describe('check', () => {
  test('warnings are printed and stop nothing; advice is given when it is asked for', () =>
    inFolder(async (folder) => {
      const schema = ferryText.replace(
        'functions:',
        '  Pier: { enum: [north, south] }\n\nfunctions:',
      );
      writeFileSync(join(folder, file), schema);
      const plain = await leeshore(folder, 'check', file);
      expect(plain.code).toBe(0);
      expect(plain.out).toContain("warning [unused]\n  Nothing uses the type 'Pier'.");
      expect(plain.out).toContain(`1 warning in ${file}`);
      expect(plain.out).not.toContain('advice');
      const advised = await leeshore(folder, 'check', file, '--advice');
      expect(advised.code).toBe(0);
      expect(advised.out).toContain("No expression reads the derived value 'mood'.");
      expect(advised.out).toMatch(/1 warning, \d+ pieces of advice in/);
    }));

  test('--sarif is a log by the published shape, with both places of a clash', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText.replace('      full: {', '      usedM: {'));
      const { code, out } = await leeshore(folder, 'check', file, '--sarif');
      expect(code).toBe(1);
      const log = JSON.parse(out) as { runs: { results: object[] }[] };
      const ajv = new Ajv2020({ strict: false, formats: { uri: true } });
      expect([ajv.validate(sarif, log), ajv.errorsText()]).toEqual([true, 'No errors']);
      expect(log.runs[0]?.results).toContainEqual(
        expect.objectContaining({
          ruleId: 'name-taken',
          level: 'error',
          relatedLocations: [expect.objectContaining({ id: 0, message: { text: 'first here' } })],
        }),
      );
    }));

  test('files take others in, each once; what is missing or defined twice is shown with its places', () =>
    inFolder(async (folder) => {
      mkdirSync(join(folder, 'parts'));
      const pier = (more: string) =>
        `leeshore: 1\n${more}stores:\n  pier:\n    state: { open: { type: boolean, default: true } }\n    actions: { close: [{ toggle: open }] }\n`;
      writeFileSync(join(folder, 'parts/pier.stores.yaml'), pier('use: [../main.stores.yaml]\n'));
      const main =
        'leeshore: 1\nuse: [./parts/pier.stores.yaml]\nstores:\n  deck:\n    state: { n: { type: number, default: 0 } }\n    reacts:\n      - { to: pier.close, steps: [{ set: { n: "n + 1" } }] }\n';
      writeFileSync(join(folder, 'main.stores.yaml'), main);
      const fine = await leeshore(folder, 'check', 'main.stores.yaml');
      expect([fine.code, fine.err]).toEqual([0, '']);
      expect(fine.out).toContain('2 stores');
      expect((await leeshore(folder, 'compare', '*.stores.yaml', '--steps', '100')).code).toBe(0);
      writeFileSync(join(folder, 'other.stores.yaml'), pier(''));
      const clash = await leeshore(folder, 'check', '*.stores.yaml');
      expect(clash.code).toBe(1);
      expect(clash.out).toContain('other.stores.yaml:3:3: error [name-taken]');
      expect(clash.out).toContain('first defined here: parts/pier.stores.yaml:4:3');
      writeFileSync(join(folder, 'main.stores.yaml'), main.replace('pier.stores', 'peer.stores'));
      const missing = await leeshore(folder, 'check', 'main.stores.yaml');
      expect(missing.out).toContain('main.stores.yaml:2:7: error [no-such-file]');
      const none = await leeshore(folder, 'check', 'no-*.yaml');
      expect([none.code, none.err]).toEqual([
        2,
        expect.stringContaining('No file matches no-*.yaml.'),
      ]);
    }));
});

describe('forms of output', () => {
  test.each([
    ['check', '--json', '--sarif'],
    ['show', '--json', '--dot'],
    ['show', '--dot', '--mermaid'],
  ])('%s %s %s is refused: one of them would be silently left out', (command, one, other) =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText);
      const { code, out, err } = await leeshore(folder, command, file, one, other);
      expect(code).toBe(2);
      if (one === '--json') expect(JSON.parse(out)).toMatchObject({ kind: 'unusable' });
      else expect(out).toBe('');
      expect(err).toContain(`${one} and ${other} do not go together.`);
    }),
  );
});

describe('explain', () => {
  test('says the rule and why, with a wrong and a right example', () =>
    inFolder(async (folder) => {
      const { code, out } = await leeshore(folder, 'explain', 'text-arithmetic');
      expect(code).toBe(0);
      for (const part of ['text-arithmetic  error', 'Why', 'Wrong', 'Right', 'accepts: text'])
        expect(out).toContain(part);
    }));

  test('lists all codes, and says which is meant', () =>
    inFolder(async (folder) => {
      expect((await leeshore(folder, 'explain')).out).toContain('maybe-missing');
      for (const text of ['missing', 'maybe-mising']) {
        const { code, err } = await leeshore(folder, 'explain', text);
        expect(code).toBe(2);
        expect(err).toContain('Did you mean maybe-missing?');
      }
    }));
});

describe('format', () => {
  const untidy = `leeshore: 1
# The deck
stores:
    deck:
        state: {n: {type: number, default: 0}} # one field
        derived: { twice: 'n * 2', long: "n > 100 ? 'more than a hundred metres' : n > 50 ? 'more than fifty metres' : 'not much of it'" }
        actions:
            add:
              payload: number
              steps:
              -   set: {n: n + payload}
`;
  const tidy = `leeshore: 1
# The deck
stores:
  deck:
    state: { n: { type: number, default: 0 } } # one field
    derived:
      {
        twice: "n * 2",
        long: "n > 100 ? 'more than a hundred metres' : n > 50 ? 'more than fifty metres' : 'not much of it'"
      }
    actions:
      add:
        payload: number
        steps:
          - set: { n: "n + payload" }
`;

  test('writes one tidy form, comments kept, and leaves it alone from then on', () =>
    inFolder(async (folder) => {
      const path = join(folder, file);
      writeFileSync(path, untidy);
      const checked = await leeshore(folder, 'format', '--check', file);
      expect([checked.code, checked.out]).toEqual([1, `${file}  not tidy\n`]);
      expect(readFileSync(path, 'utf8')).toBe(untidy);
      expect((await leeshore(folder, 'format', file)).code).toBe(0);
      expect(readFileSync(path, 'utf8')).toBe(tidy);
      expect((await leeshore(folder, 'format', '--check', file)).code).toBe(0);
      writeFileSync(path, ferryText);
      expect((await leeshore(folder, 'format', '--check', file)).out).toBe('1 file is tidy\n');
    }));

  test('a file that is no YAML is left as it is', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), 'leeshore: 1\nstores: { deck: {\n');
      const { code, err } = await leeshore(folder, 'format', file);
      expect([code, err]).toEqual([1, expect.stringContaining('not-yaml')]);
      expect(readFileSync(join(folder, file), 'utf8')).toBe('leeshore: 1\nstores: { deck: {\n');
    }));
});

describe('new', () => {
  test('writes a schema that is fine and behaves the same in every style; nothing is written over', () =>
    inFolder(async (folder) => {
      expect((await leeshore(folder, 'new', 'x')).code).toBe(0);
      expect((await leeshore(folder, 'check', 'x/berth.stores.yaml')).out).toContain('fine');
      expect((await leeshore(folder, 'format', '--check', 'x/berth.stores.yaml')).code).toBe(0);
      const compared = await leeshore(folder, 'compare', 'x/berth.stores.yaml', '--steps', '600');
      expect(compared.out).toContain('no difference between 5 participants');
      const text = readFileSync(join(folder, 'x/berth.stores.yaml'), 'utf8');
      expect(text).toMatch(/^# yaml-language-server: \$schema=\.\/leeshore-1\.schema\.json\n/);
      const again = await leeshore(folder, 'new', 'x');
      expect([again.code, again.err]).toEqual([2, expect.stringContaining('is there already')]);
    }));
});

describe('show', () => {
  test('shows inferred types and who reads and stores what, in four forms', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText);
      const text = await leeshore(folder, 'show', file);
      expect(text.code).toBe(0);
      expect(text.out).toMatch(/boarding +true or false\n +reads +hold, full, wind.tooStrong/);
      const json = JSON.parse((await leeshore(folder, 'show', file, '--json')).out) as {
        stores: { name: string; derived: { name: string; reads: string[] }[] }[];
      };
      expect(json.stores[0]?.derived.find(({ name }) => name === 'freeM')).toEqual({
        name: 'freeM',
        given: [],
        type: 'a number',
        reads: ['deck.capacityM', 'deck.usedM'],
      });
      const some = await leeshore(folder, 'show', file, '--store', 'wind');
      expect([some.out.includes('gusts'), some.out.includes('entries')]).toEqual([true, false]);
      const none = await leeshore(folder, 'show', file, '--store', 'pier');
      expect([none.code, none.err]).toEqual([2, expect.stringContaining('The stores are deck,')]);
      const dot = (await leeshore(folder, 'show', file, '--dot')).out;
      expect(dot).toContain('"deck.capacityM" -> "deck.freeM" [style=solid];');
      const mermaid = (await leeshore(folder, 'show', file, '--mermaid')).out;
      expect(mermaid).toMatch(/^flowchart LR\n {2}subgraph s0\["deck"\]/);
    }));

  test('a schema with problems is not shown', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText.replace('freeM: "capacityM', 'freeM: "capM'));
      const { code, out, err } = await leeshore(folder, 'show', file);
      expect([code, out]).toEqual([1, '']);
      expect(err).toContain('unknown-name');
    }));
});
