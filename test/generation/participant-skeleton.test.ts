import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import {
  participantFor,
  participantUpdate,
  typesModule,
} from '../../src/jobs/write-participant.js';
import { complaints } from '../compiler.js';
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
    loading: fixture('loading.stores.yaml'),
    'awkward-across': fixture('awkward-across.stores.yaml'),
  };
  const files = [
    fileURLToPath(new URL('examples/skerry/old/terminal.participant.ts', root)),
    ...(await Promise.all(
      Object.entries(schemas).map(async ([name, text]) => {
        const path = join(folder, `${name}.participant.ts`);
        const application = await modelOf(text);
        const schema = `${name}.stores.yaml`;
        const types = `./${name}.types.js`;
        writeFileSync(path, await participantFor(application, { schema, types }));
        const module = await typesModule(application, { version: '0.0.0', schema });
        writeFileSync(join(folder, `${name}.types.ts`), module);
        return path;
      }),
    )),
  ];
  const paths = { leeshore: [fileURLToPath(new URL('src/model/external.ts', root))] };
  expect(complaints(files, { paths, verbatimModuleSyntax: false })).toEqual([]);
});

test('a skeleton has every name of the schema, with what is said of it', async () => {
  const text = await participantFor(await modelOf(ferryText), {
    schema: 'ferry.stores.yaml',
    types: './ferry.types.js',
  });
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

describe('a participant file that is there', () => {
  const old = `import { Terminal } from './terminal';

export default {
  name: 'old',
  create() {
    const old = new Terminal();
    // What is here stays as it is.
    return {
      actions: {
        deck: { board: (id: string) => old.driveOn(id), paint: () => old.paint() },
        wind: old.windActions,
      },
      state: {
        berth: () => old.berth,
        deck: {
          hold: () => old.onHold,
        },
      },
    };
  },
};
`;

  test('gets what it lacks, keeps the rest, and is told what the schema lacks', async () => {
    const application = await modelOf(ferryText);
    const given = { path: 'old.ts', text: old, types: './ferry.types.js' };
    const updated = await participantUpdate(application, given);
    expect(updated?.gone).toEqual(['actions.deck.paint']);
    expect(updated?.added).toEqual(
      expect.arrayContaining([
        'actions.deck.admit',
        'state.deck.byLane',
        'state.desk.officer',
        'derived.deck.usedM',
      ]),
    );
    expect(
      updated?.added.some((name) => /^actions\.wind|^state\.berth|deck\.board$/.test(name)),
    ).toBe(false);
    const text = updated?.text ?? '';
    for (const line of old.split('\n').filter((line) => !/^\s*[}\])]/.test(line) && line !== ''))
      expect(text).toContain(line.replace(/ },$/, ''));
    expect(text).toContain('admit: (payload: import("./ferry.types.js").DeckAdmitPayload) =>');
    expect(text).toContain('function missing(');
    const again = await participantUpdate(application, { ...given, text });
    expect(again).toEqual({ text, added: [], gone: ['actions.deck.paint'] });
  });

  test('gets no types if it is JavaScript', async () => {
    const text = old.replace('(id: string)', '(id)');
    const updated = await participantUpdate(await modelOf(ferryText), {
      path: 'old.js',
      text,
      types: './ferry.types.js',
    });
    expect(updated?.text).toContain('admit: (payload) => missing("deck.admit", payload)');
    expect(updated?.text).not.toContain('import(');
  });

  test('is left alone if its tables are made elsewhere', async () => {
    const text = 'export default { name: "old", create: () => tables() };';
    const given = { path: 'old.ts', text, types: './ferry.types.js' };
    expect(await participantUpdate(await modelOf(ferryText), given)).toBeUndefined();
  });
});
