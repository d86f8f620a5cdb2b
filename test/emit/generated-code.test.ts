import type { RuntimeCopy } from '../../src/emit/shared/runtime-files.js';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import * as prettier from 'prettier';
import ts from 'typescript';
import type { Style } from '../../src/emit/style-names.js';
import type { Application } from '../../src/model/application.js';
import { generatedInMemory, generateStyle, ownershipOf, styleOf } from '../../src/pipeline.js';
import { allStyles, ferryText, modelOf, root } from '../helpers.js';
import { complaints } from '../strict-compiler.js';

const fixture = (name: string) =>
  readFileSync(new URL(`test/fixtures/${name}.stores.yaml`, root), 'utf8');

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'leeshore-emit-'));
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

/** The nodes that a careful engineer would not write: `any`, `!`, comments that switch checks off. */
function cheats(path: string, text: string): string[] {
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    if (node.kind === ts.SyntaxKind.AnyKeyword || ts.isNonNullExpression(node))
      found.push(`${path}: ${node.getText()}`);
    ts.forEachChild(node, visit);
  };
  visit(source);
  if (/@ts-|eslint-|prettier-ignore/.test(text))
    found.push(`${path}: a comment that switches a check off`);
  return found;
}

/** The run time as the build has formatted it, as the program itself uses it. */
const builtRuntime = (path: string, copy: RuntimeCopy) => {
  const folder = copy === 'plain' ? 'dist/runtime' : `dist/runtime-with-${copy}`;
  return readFileSync(new URL(`${folder}/${path}`, root), 'utf8');
};

/** One task, with a setting of it: each needs other parts of the run time. */
const withTask = (setting: string) => `
leeshore: 1
types: { Crossing: { fields: { id: string, to: string } } }
services:
  office: { operations: { crossingsOn: { payload: string, result: { list: Crossing } }, hear: { payload: string, results: string } } }
stores:
  timetable:
    state:
      crossings: { list: Crossing }
      busy: { type: boolean, default: false }
      problem: { maybe: string }
      day: { maybe: string, setter: look }
    tasks:
      load:
        payload: string
        operation: office.crossingsOn
        start: [{ set: { busy: true, problem: null } }]
        finish: [{ set: { busy: false, crossings: result } }]
        fail: [{ set: { busy: false, problem: error.message } }]
        cancel: [{ set: { busy: false } }]
        ${setting}
`;

/** What can be undone, where nothing takes its time. */
const lanes = `
leeshore: 1
stores:
  lanes:
    state: { cars: { type: integer, default: 0 }, open: { type: boolean, default: true } }
    derived: { hint: "canUndo ? 'undo' : 'nothing'" }
    history: { of: [cars], limit: 3 }
    actions:
      put: { payload: integer, steps: [{ set: { cars: payload } }] }
      again: [{ run: redo }]
      clear: [{ reset: all }, { reset: history }]
  gate:
    value: { type: boolean, default: false }
    history: {}
    actions: { turn: [{ set: { value: "!value" } }] }
`;

/** A store that comes later, and nothing else. */
const later = `
leeshore: 1
stores:
  deck:
    state: { usedM: { type: number, default: 0 } }
    derived: { fee: "usedM * (tariff?.perM ?? 0)" }
    actions: { load: { payload: number, steps: [{ set: { usedM: payload } }] } }
  tariff:
    lazy: true
    state: { perM: { type: number, default: 2 } }
    derived: { double: "perM * 2 + deck.fee" }
    actions: { raise: [{ set: { perM: "double" } }] }
    reacts: [{ to: deck.load, steps: [{ set: { perM: "perM + 1" } }] }]
`;

const settings = [
  'timeLimit: 500',
  'retry: { times: 2 }',
  'every: 50',
  'wait: 20',
  'wait: "payload.length * 10"',
  'auto: { follows: day }',
  'overlap: queue',
  'per: payload',
];

async function emittedFiles(application: Application, style: Style) {
  const [folder] = await generatedInMemory(application, [style], builtRuntime);
  return folder?.files ?? [];
}

describe('the stores of every style', () => {
  const written: string[] = [];
  /** Texts that have been seen: most files of the run time are the same everywhere. */
  const seen = new Set<string>();

  test.each([
    ['ferry', ferryText],
    ['every step', fixture('every-step')],
    ['across stores', fixture('across')],
    ['every type', fixture('every-type')],
    ['derived values with parameters', fixture('asked')],
    ['awkward names across stores', fixture('awkward-across')],
    ['computed keys', fixture('computed-keys')],
    ['optional parts', fixture('optional-parts')],
    ['little', fixture('little')],
    ['tasks', fixture('loading')],
    ['what can be undone, with tasks', fixture('undo')],
    ['what is saved', fixture('kept')],
    ['a store that comes later', fixture('later')],
    ['a store that comes later, alone', later],
    ['what can be undone', lanes],
    ['a history', lanes.replace(/ +again: .*\n/, '').replace(', { reset: history }', '')],
    ['a task', withTask('')],
    ...settings.map((setting) => [
      `a task with ${setting.replace(/\W+/g, ' ')}`,
      withTask(setting),
    ]),
    [
      'a delay',
      withTask('')
        .replace('operation: office.crossingsOn', 'wait: 20')
        .replace(', crossings: result', ''),
    ],
    [
      'a stream',
      withTask('').replace('office.crossingsOn', 'office.hear').replace(', crossings: result', ''),
    ],
  ])('are tidy TypeScript without imports from elsewhere: %s', async (name, schema) => {
    const application = await modelOf(schema);
    for (const style of allStyles) {
      // Formatting takes most of the time, and changes nothing that the compiler sees: one schema goes through it.
      const isFormatted = name === 'ferry';
      const files = isFormatted
        ? await generateStyle(application, style, {
            version: '0.0.0',
            schema: `${name}.stores.yaml`,
            readRuntime: builtRuntime,
            isRuntimeFormatted: true,
          })
        : await emittedFiles(application, style);
      const out = join(folder, name, style);
      for (const { path, text } of files) {
        mkdirSync(dirname(join(out, path)), { recursive: true });
        writeFileSync(join(out, path), text);
        written.push(join(out, path));
        if (isFormatted) expect([ownershipOf(text), styleOf(text)]).toEqual(['generated', style]);
        const body = isFormatted ? text.slice(text.indexOf('\n')) : text;
        if (seen.has(body)) continue;
        seen.add(body);
        expect(cheats(path, text)).toEqual([]);
        // Formatting goes on until nothing changes: one schema shows that it does.
        if (isFormatted) expect(await prettier.check(text, { filepath: path })).toBe(true);
        expect(
          [...text.matchAll(/from "([^"]+)"/g)]
            .map((match) => match[1])
            .filter((from) => from === undefined || !/^\.\.?\//.test(from)),
        ).toEqual([]);
        if (isFormatted) expect(ownershipOf(`${text}\n`)).toBe('changed by hand');
      }
    }
  });

  test('pass the strictest compiler, without types of a browser or a server', () => {
    // One program for all: reading the compiler's own libraries takes longer than all else.
    expect(written.length).toBeGreaterThan(500);
    expect(complaints(written, 'es2023')).toEqual([]);
  });

  test('need no more than ES2022 where the schema does not', () => {
    const plain = written.filter((path) =>
      /[/\\](across stores|optional parts|little|tasks)[/\\]/.test(path),
    );
    expect(plain.length).toBeGreaterThan(100);
    expect(complaints(plain, 'es2022')).toEqual([]);
  });
});

test('the same schema gives the same bytes', async () => {
  const bytes = async () =>
    generateStyle(await modelOf(ferryText), 'atom', {
      version: '0.0.0',
      schema: 'f',
      readRuntime: builtRuntime,
      isRuntimeFormatted: true,
    });
  expect(await bytes()).toEqual(await bytes());
});

test('each style is recognisable from its code', async () => {
  const application = await modelOf(ferryText);
  const textOf = async (style: (typeof allStyles)[number]) => {
    const files = await generateStyle(application, style, {
      version: '0.0.0',
      schema: 'f',
      readRuntime: builtRuntime,
      isRuntimeFormatted: true,
    });
    return files.find(({ path }) => path === 'stores/deck.ts')?.text ?? '';
  };
  expect(await textOf('reducer')).toContain('return { ...deck, hold: payload };');
  expect(await textOf('atom')).toContain(
    'const hold = graph.atom<string | null>("deck.hold", null);',
  );
  expect(await textOf('atom')).toContain('hold.set(payload);');
  expect(await textOf('proxy')).toContain('deck.hold = payload;');
  expect(await textOf('observable')).toContain(
    'streams.combine(\n    () => [capacityM, usedM] as const,',
  );
  expect(await textOf('observable')).toContain(
    'holdFor.map((payload) => (deck) => ({ ...deck, hold: payload })),',
  );
});
