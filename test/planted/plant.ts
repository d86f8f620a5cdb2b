import { mkdtempSync, readFileSync, rmSync, writeFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Style } from '../../src/base/styles.js';
import { usualSteps } from '../../src/comparing/plan.js';
import { bundledParticipant } from '../../src/library/bundled-participant.js';
import type { Application } from '../../src/model/application.js';
import { checkSchemas } from '../../src/jobs/check.js';
import { compareStores } from '../../src/jobs/compare.js';
import { generatedInMemory } from '../../src/jobs/generate.js';
import type { GeneratedFolder } from '../../src/participants/generated-participant.js';
import type { ExternalFile } from '../../src/workers/searching-of.js';

const root = pathToFileURL(`${process.cwd()}/`);

/** A mistake that somebody made by hand in the generated stores of a style, or in a store of an old kind. */
export interface Planted {
  readonly name: string;
  readonly about: string;
  readonly schema: 'ferry' | 'harbour' | 'undo' | 'kept' | 'floor' | 'claims' | 'parcels';
  readonly in: Style | 'old' | 'old-office';
  /** The file below that of the style, or of the old store; {@link theSchema} if it says there what the mistake means. */
  readonly file: string;
  /** What stands there once, and what the mistake puts in its place. */
  readonly find: string;
  readonly put: string;
}

/** In place of a file: the stores are generated from the schema with the mistake in it. */
const theSchema = 'the schema';

/** Mistakes that are told by what the schema would say if they were meant. */
export const slipsIn = (
  schema: Planted['schema'],
  slips: readonly Omit<Planted, 'schema' | 'file'>[],
): readonly Planted[] => slips.map((slip) => ({ ...slip, schema, file: theSchema }));

const schemas = {
  ferry: 'examples/skerry/ferry.stores.yaml',
  harbour: 'examples/skerry/harbour.stores.yaml',
  undo: 'test/fixtures/undo.stores.yaml',
  kept: 'test/fixtures/kept.stores.yaml',
  floor: 'test/planted/domains/floor.stores.yaml',
  claims: 'test/planted/domains/claims.stores.yaml',
  parcels: 'test/planted/domains/parcels.stores.yaml',
} as const;

const read = (path: string) => readFileSync(new URL(path, root), 'utf8');

const models = new Map<string, Promise<Application>>();

/** The application of a schema that faults are planted in. */
export function applicationOf(schema: Planted['schema']): Promise<Application> {
  const known = models.get(schema) ?? modelAt(schemas[schema]);
  models.set(schema, known);
  return known;
}

async function modelAt(path: string, text = read(path)): Promise<Application> {
  const { application } = await checkSchemas([{ path, text }], {
    resolve: (_from, named) => `examples/skerry/${named}`,
    identity: (one) => one,
    read,
  });
  if (application === undefined) throw new Error(`${path} is not sound`);
  return application;
}

/** The old stores as they are once their own mistakes are mended. */
const mended: Readonly<Record<string, readonly (readonly [find: string, put: string])[]>> = {
  'old/terminal.ts': [
    ['this.capacity = value as number;', 'this.capacity = Number(value);'],
    ['this.lastGusts.pop()', 'this.lastGusts.shift()'],
    [
      "this.officerSince = null;\n    this.#emit('watch');",
      "this.officerSince = null;\n    this.changesOfWatch = 0;\n    this.#emit('watch');",
    ],
  ],
  'old/office.ts': [
    ['  shown = nothing();\n', '  shown = nothing();\n  asked = 0;\n'],
    [
      '    this.shown.problem = null;\n',
      '    this.shown.problem = null;\n    const own = ++this.asked;\n    const isWanted = () => own === this.asked;\n',
    ],
    ['(day)}`);\n', '(day)}`, isWanted);\n      if (!isWanted()) return;\n'],
    [
      '    } catch (error) {\n      this.shown.problem = error instanceof Error ? error.message : String(error);',
      '    } catch (error) {\n      if (!isWanted()) return;\n      this.shown.problem = error instanceof Error ? error.message : String(error);\n      this.shown.busy = false;',
    ],
    ['askTwice(url: string)', 'askTwice(url: string, isWanted: () => boolean)'],
    ['    return ask(url);\n', '    if (!isWanted()) throw error;\n    return ask(url);\n'],
    [
      '  leave(): void {\n    this.shown = nothing();',
      '  leave(): void {\n    this.asked += 1;\n    this.shown = nothing();',
    ],
  ],
};

function exchanged(text: string, find: string, put: string, where: string): string {
  const parts = text.split(find);
  if (parts.length !== 2)
    throw new Error(`${where}: '${find}' stands there ${parts.length - 1} times`);
  return parts.join(put);
}

/** The text of an old store without mistakes, or with one. */
function oldText(path: string, fault?: Planted): string {
  let text = read(`examples/skerry/${path}`);
  for (const [find, put] of mended[path] ?? []) text = exchanged(text, find, put, path);
  return fault?.file === path ? exchanged(text, fault.find, fault.put, fault.name) : text;
}

const participants = {
  old: ['old/terminal.participant.ts', 'old/terminal.ts'],
  'old-office': ['old/office.participant.ts', 'old/office.ts'],
} as const;

/** An old store that is mended, with a fault or without, as a participant file. */
export async function oldStore(kind: 'old' | 'old-office', fault?: Planted): Promise<ExternalFile> {
  const folder = mkdtempSync(join(tmpdir(), 'leeshore-planted-'));
  try {
    mkdirSync(join(folder, 'old'));
    const [participant, store] = participants[kind];
    writeFileSync(join(folder, participant), read(`examples/skerry/${participant}`));
    writeFileSync(join(folder, store), oldText(store, fault));
    return await bundledParticipant(participant, folder);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** The application that a mistake would be right for. */
function asMeant({ schema, name, find, put }: Planted): Promise<Application> {
  const path = schemas[schema];
  return modelAt(path, exchanged(read(path), find, put, name));
}

const readRuntime = (path: string) => read(`src/generation/${path}`);

async function storesOf(application: Application, style: Style): Promise<GeneratedFolder> {
  const [folder] = await generatedInMemory(application, [style], readRuntime);
  if (folder === undefined) throw new Error(`no stores of ${style}`);
  return folder;
}

/** The generated stores of a style without a fault. */
export const unplanted = async (schema: Planted['schema'], style: Style) =>
  storesOf(await applicationOf(schema), style);

/** The generated stores of a style with a fault in them. */
export async function planted(fault: Planted): Promise<GeneratedFolder> {
  if (fault.file === theSchema) return storesOf(await asMeant(fault), fault.in as Style);
  const folder = await unplanted(fault.schema, fault.in as Style);
  const files = folder.files.map(({ path, text, ...rest }) => ({
    ...rest,
    path,
    text: path === fault.file ? exchanged(text, fault.find, fault.put, fault.name) : text,
  }));
  if (!folder.files.some(({ path }) => path === fault.file))
    throw new Error(`${fault.name}: there is no ${fault.file}`);
  return { ...folder, files };
}

const kinds = { old: 'ferry', 'old-office': 'harbour' } as const;

/** Compares one of the old stores of the examples, mended, with its schema: nothing is to be found. */
export async function compareMended(kind: keyof typeof kinds, seed: number, steps: number) {
  const application = await applicationOf(kinds[kind]);
  return compareStores(application, [], {
    seed,
    steps: steps === 0 ? usualSteps(application, 1) : steps,
    external: [await oldStore(kind)],
    clock: () => 0,
    until: Infinity,
  });
}

/** Looks for a fault as `compare` does, by steps alone; with as many as usual if 0 are given. */
export async function lookFor(fault: Planted, seed: number, steps: number) {
  const isOld = fault.in === 'old' || fault.in === 'old-office';
  const application = await applicationOf(fault.schema);
  const folders = isOld ? [] : [await planted(fault)];
  const external = isOld ? [await oldStore(fault.in, fault)] : [];
  return compareStores(application, folders, {
    seed,
    steps: steps === 0 ? usualSteps(application, 1) : steps,
    external,
    clock: () => 0,
    until: Infinity,
  });
}
