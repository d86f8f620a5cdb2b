import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundledParticipant } from '../../src/library/bundled-participant.js';
import { usualSteps } from '../../src/comparing/plan.js';
import type { Application } from '../../src/model/application.js';
import { checkSchemas } from '../../src/jobs/check.js';
import { compareStores } from '../../src/jobs/compare.js';

/** Old stores by different habits: each has a folder with its schema, its participant file and its variants. */
const folder = join(process.cwd(), 'test/old-stores');

/** An old store with a mistake in it that somebody may well make. */
export interface Variant {
  readonly name: string;
  readonly mistake: string;
  /** Where it is; the file called like the store if not given. */
  readonly file?: string;
  /** What stands there once, and what the mistake puts in its place. */
  readonly replace: readonly (readonly [find: string, put: string])[];
}

export interface OldStore {
  readonly name: string;
  readonly variants: readonly Variant[];
}

/** All of them, by name. */
export async function oldStores(): Promise<readonly OldStore[]> {
  const names = readdirSync(folder, { withFileTypes: true }).filter((one) => one.isDirectory());
  return Promise.all(
    names.map(async ({ name }) => {
      const at = join(folder, name, 'variants.mjs');
      const { default: variants } = (await import(pathToFileURL(at).href)) as {
        readonly default: readonly Variant[];
      };
      return { name, variants };
    }),
  );
}

/** Every other variant is held out while the search is changed. */
export const heldOutOf = ({ variants }: OldStore): readonly Variant[] =>
  variants.filter((_, i) => i % 2 === 1);

/** What the schema of an old store describes. */
export async function applicationOfOld(name: string): Promise<Application> {
  const path = `${name}.stores.yaml`;
  const text = readFileSync(join(folder, name, path), 'utf8');
  const { application, problems } = await checkSchemas([{ path, text }], {
    resolve: (_from, named) => named,
    identity: (one) => one,
    read: () => undefined,
  });
  if (application === undefined)
    throw new Error(`${path} is not sound: ${problems.map(({ message }) => message).join(' ')}`);
  return application;
}

/** A copy of an old store as it is right, or with a mistake: its folder, and its participant file there. The caller removes it. */
export function copyOfOld(name: string, variant?: Variant) {
  const temporary = join(process.cwd(), '.cache/planted');
  mkdirSync(temporary, { recursive: true });
  const copy = mkdtempSync(join(temporary, `${name}-`));
  cpSync(join(folder, name), copy, { recursive: true });
  const files = readdirSync(copy);
  const participant = files.find((one) => one.startsWith(`${name}.participant.`));
  if (participant === undefined) throw new Error(`${name} has no participant file`);
  if (variant !== undefined) {
    const isStore = new RegExp(`^${name}(\\.fixed)?\\.[cm]?[jt]sx?$`);
    const file = variant.file ?? files.filter((one) => isStore.test(one)).sort()[0];
    if (file === undefined) throw new Error(`${variant.name} has no file`);
    const text = variant.replace.reduce(
      (all, [find, put]) => exchanged(all, find, put, variant.name),
      readFileSync(join(copy, file), 'utf8'),
    );
    writeFileSync(join(copy, file), text);
  }
  return { copy, participant };
}

/** An old store as it is right, or with a mistake, as a participant. */
async function externalOld(name: string, variant?: Variant) {
  const { copy, participant } = copyOfOld(name, variant);
  try {
    return await bundledParticipant(participant, copy);
  } finally {
    rmSync(copy, { recursive: true });
  }
}

function exchanged(text: string, find: string, put: string, where: string): string {
  if (!text.includes(find)) throw new Error(`${where}: '${find}' does not stand there`);
  return text.split(find).join(put);
}

/** Compares an old store with its schema, by steps alone; as many as usual if 0 are given. */
export async function compareOld(
  name: string,
  variant: Variant | undefined,
  seed: number,
  steps: number,
) {
  const application = await applicationOfOld(name);
  return compareStores(application, [], {
    seed,
    steps: steps === 0 ? usualSteps(application, 1) : steps,
    external: [await externalOld(name, variant)],
    clock: () => 0,
    until: Infinity,
  });
}
