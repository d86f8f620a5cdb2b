import type { Argv } from 'yargs';
import { planFolders, type PlanOptions } from '../folders/plan-folders.js';
import { diffOf, listOf, summaryOf } from '../folders/plan-text.js';
import type { FolderPlan } from '../folders/plan-folder.js';
import { requireFree, writeFolders } from '../folders/write-folders.js';
import { exitCodes, paintFor, requireOneOf, type Io } from '../io.js';
import { withSchemaFiles } from '../schema-files.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'generate [files..]';
export const describe =
  'Write the stores of a schema as TypeScript or JavaScript, in one or more styles';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .example(
      '$0 generate ferry.stores.yaml --style atom --out src/stores',
      'writes src/stores/atom',
    )
    .example('$0 generate ferry.stores.yaml --style proxy --readers vue', 'with readers for Vue')
    .example('$0 generate ferry.stores.yaml --diff', 'what would change');
}

export type GenerateArguments = PlanOptions & ArgumentsOf<'generate'>;

export async function run(io: Io, args: GenerateArguments): Promise<number> {
  const { dryRun, diff, verify, force, watch, json } = args;
  requireOneOf({ 'dry-run': dryRun, diff, verify, watch });
  requireOneOf({ json, diff, watch });
  requireOneOf({ verify, force });
  if (watch) {
    const { watchAndGenerate } = await import('../watch.js');
    return watchAndGenerate(io, args);
  }
  const planned = await planFolders(io, args);
  if ('exitCode' in planned) return planned.exitCode;
  const { plans } = planned;
  if (json) return asJson(io, args, plans);
  if (verify) return verified(io, plans);
  if (dryRun || diff) return shown(io, plans, diff, force);
  const kept = await writeFolders(plans, force);
  const paint = paintFor(io);
  const copies = kept.map((path) => `${paint.yellow('kept')}  ${path}`);
  io.note(`${plans.map((plan) => summaryOf(plan, paint)).join('\n')}\n`);
  if (copies.length > 0) io.print(`${copies.join('\n')}\n`);
  return exitCodes.fine;
}

/** Prints what was done, or would be, as `schema/generation-1.schema.json` says. */
async function asJson(
  io: Io,
  { dryRun, verify, force }: GenerateArguments,
  plans: readonly FolderPlan[],
): Promise<number> {
  const isWritten = !dryRun && !verify;
  if (!force && !verify) requireFree(plans);
  const kept = isWritten ? await writeFolders(plans, force) : [];
  const folders = plans.map(({ folder, changes, unchanged }) => ({
    folder,
    unchanged,
    changes: changes.map(({ path, kind }) => ({ path, kind })),
  }));
  const isChanged = folders.some(({ changes }) => changes.length > 0);
  const json = { leeshoreGeneration: 1, isWritten, isUpToDate: !isChanged, folders, kept };
  io.stdout(`${JSON.stringify(json, null, 2)}\n`);
  return verify && isChanged ? exitCodes.findings : exitCodes.fine;
}

async function shown(
  io: Io,
  plans: readonly FolderPlan[],
  diff: boolean,
  force: boolean,
): Promise<number> {
  const paint = paintFor(io);
  const changed = plans.filter(({ changes }) => changes.length > 0);
  const texts = diff
    ? await Promise.all(changed.map((plan) => diffOf(plan, paint)))
    : plans.map((plan) => listOf(plan, paint));
  const text = texts.join('\n');
  io.print(text === '' ? 'Nothing would change.\n' : `${text}\n`);
  if (!force) requireFree(plans);
  return exitCodes.fine;
}

function verified(io: Io, plans: readonly FolderPlan[]): number {
  const paint = paintFor(io);
  const odd = plans.filter(({ changes }) => changes.length > 0);
  if (odd.length === 0) {
    const names = plans.map(({ folder }) => folder).join(', ');
    io.note(`${paint.green('up to date')}  ${names}\n`);
    return exitCodes.fine;
  }
  io.print(
    `${odd.map((plan) => listOf(plan, paint)).join('\n')}\n\n${paint.red('out of date')}: run leeshore generate.\n`,
  );
  return exitCodes.findings;
}
