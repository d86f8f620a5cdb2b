import { join } from 'node:path';
import { checkedSchema } from '../checked-schema.js';
import { ownVersion, readRuntime } from '../../library/package-files.js';
import { Unusable, type Io } from '../io.js';
import { progressOf } from '../progress.js';
import { frameworkList, styleList } from '../styles.js';
import { planFolder, type FolderPlan } from './plan-folder.js';
import type { ArgumentsOf } from '../options/table.js';

/** What is to be generated, and where. */
export type PlanOptions = Pick<
  ArgumentsOf<'generate'>,
  | 'style'
  | 'out'
  | 'readers'
  | 'log'
  | 'only'
  | 'guard'
  | 'begin'
  | 'checks'
  | 'layout'
  | 'language'
> & { readonly files: readonly string[] };

/** Generates in memory, and says what would become of each folder; or prints the problems of the schema, and gives the exit code. */
export async function planFolders(
  io: Io,
  args: PlanOptions,
): Promise<
  | { readonly plans: readonly FolderPlan[]; readonly read: readonly string[] }
  | { readonly exitCode: number; readonly read: readonly string[] }
> {
  const { generateStyle, onlyStores, ownershipOf } = await import('../../core.js');
  const styles = await styleList(args.style);
  const readers = args.readers === undefined ? [] : await frameworkList(args.readers);
  const read: string[] = [];
  const checked = await checkedSchema(io, args.files, (path) => read.push(path));
  if ('exitCode' in checked) return { exitCode: checked.exitCode, read };
  const { application, file } = checked;
  const stores = args.only?.split(',').map((name) => name.trim());
  const wanted =
    stores === undefined ? application : onlyStores(application, known(stores, application.stores));
  const options = {
    version: ownVersion(),
    schema: file.path,
    readRuntime,
    isRuntimeFormatted: true,
    output: {
      guard: args.guard,
      begin: args.begin,
      checks: args.checks,
      layout: args.layout,
      language: args.language,
      readers,
      log: args.log,
    },
  };
  const progress = await progressOf(io, styles.length, 'generating');
  const plans: FolderPlan[] = [];
  for (const [i, style] of styles.entries()) {
    progress.at(i, style);
    const folder = join(args.out, style);
    const files = await generateStyle(wanted, style, options);
    plans.push(planFolder(io, { folder, files }, ownershipOf));
  }
  progress.stop();
  return { plans, read };
}

function known(names: readonly string[], stores: readonly { readonly name: string }[]) {
  const odd = names.find((name) => !stores.some((store) => store.name === name));
  if (odd === undefined) return names;
  throw new Unusable(
    `There is no store '${odd}'.`,
    `There are: ${stores.map(({ name }) => name).join(', ')}.`,
  );
}
