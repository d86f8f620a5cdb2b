import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import ts from 'typescript';
import { participantFor } from '../../src/pipeline.js';
import { ferryText, modelOf, root } from '../helpers.js';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'leeshore-skeleton-'));
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

const fixture = (name: string) => readFileSync(new URL(`test/fixtures/${name}`, root), 'utf8');

test('skeletons of participant files, and the example, pass the compiler', async () => {
  const schemas = {
    ferry: ferryText,
    'every-type': fixture('every-type.stores.yaml'),
    'every-step': fixture('every-step.stores.yaml'),
    asked: fixture('asked.stores.yaml'),
    'awkward-across': fixture('awkward-across.stores.yaml'),
  };
  const files = [
    fileURLToPath(new URL('examples/skerry/old/terminal.participant.ts', root)),
    ...(await Promise.all(
      Object.entries(schemas).map(async ([name, text]) => {
        const path = join(folder, `${name}.participant.ts`);
        writeFileSync(path, await participantFor(await modelOf(text), `${name}.stores.yaml`));
        return path;
      }),
    )),
  ];
  const program = ts.createProgram(files, {
    strict: true,
    noEmit: true,
    types: [],
    target: ts.ScriptTarget.ES2022,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    paths: { leeshore: [fileURLToPath(new URL('src/model/brought.ts', root))] },
  });
  const complaints = ts
    .getPreEmitDiagnostics(program)
    .map(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, ' '));
  expect(complaints).toEqual([]);
}, 60_000);

test('a skeleton has every name of the schema, with what is said of it', async () => {
  const text = await participantFor(await modelOf(ferryText), 'ferry.stores.yaml');
  for (const line of [
    '// leeshore compare ferry.stores.yaml --with THIS-FILE',
    'admit: (payload: DeckAdmitPayload) => missing("deck.admit", payload)',
    'stretch: (payload: number | string) => missing("deck.stretch", payload)',
    'depart: () => missing("deck.depart")',
    'capacityM: (): number => missing("deck.capacityM")',
    'berth: (): number => missing("berth")',
    'usedM: (): number => missing("deck.usedM")',
    'Refused, by returning false or { refused }: "Boarding is on hold."',
  ])
    expect(text.replace(/\s+/g, ' ')).toContain(line);
});
