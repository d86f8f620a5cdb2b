import type { Argv } from 'yargs';
import { planFolders, type PlanOptions } from '../folders/plan-folders.js';
import { diffOf, listOf, summaryOf } from '../folders/plan-text.js';
import type { FolderPlan } from '../folders/plan-folder.js';
import { requireFree, writeFolders } from '../folders/write-folders.js';
import { exitCodes, paintFor, requireOneOf, type Io } from '../io.js';
import { withSchemaFiles } from '../schema-files.js';

export const command = 'generate [files..]';
export const describe =
  'Write the stores of a schema as TypeScript or JavaScript, in one or more styles';

const options = {
  style: {
    describe: 'reducer, atom, proxy, observable; several with commas',
    type: 'string',
    requiresArg: true,
    default: 'reducer,atom,proxy,observable',
  },
  out: {
    describe: 'folder; each style gets a folder in it',
    type: 'string',
    requiresArg: true,
    default: 'stores',
  },
  for: {
    describe: 'also readers for the components of react, vue, angular; several with commas',
    type: 'string',
    requiresArg: true,
  },
  log: {
    describe: 'createStores takes a sink that is given a line for each turn',
    type: 'boolean',
    default: false,
  },
  only: {
    describe: 'only these stores, and those that they need; several with commas',
    type: 'string',
    requiresArg: true,
  },
  guard: {
    describe: 'when snapshots are frozen',
    choices: ['development', 'always', 'never'],
    requiresArg: true,
    default: 'development',
  },
  begin: {
    describe: 'what stores begin with: their defaults, or a state that createStores is given',
    choices: ['defaults', 'state'],
    requiresArg: true,
    default: 'defaults',
  },
  checks: {
    describe: "when payloads and stored values are judged; 'never' is for callers with types",
    choices: ['always', 'never'],
    requiresArg: true,
    default: 'always',
  },
  layout: {
    describe: 'a file for each store and each part of the run time, or one file',
    choices: ['files', 'one-file'],
    requiresArg: true,
    default: 'files',
  },
  language: {
    describe: 'TypeScript, or JavaScript with declarations beside it',
    choices: ['ts', 'js'],
    requiresArg: true,
    default: 'ts',
  },
  'dry-run': {
    describe: 'write nothing; list what would change',
    type: 'boolean',
    default: false,
  },
  diff: {
    describe: 'write nothing; show what would change, line by line',
    type: 'boolean',
    default: false,
  },
  verify: {
    describe: 'write nothing; exit code 1 if a folder is out of date',
    type: 'boolean',
    default: false,
  },
  force: {
    describe: 'overwrite files that were changed by hand, and keep copies of them',
    type: 'boolean',
    default: false,
  },
  watch: {
    describe: 'watch the schema and regenerate on every save',
    type: 'boolean',
    default: false,
  },
} as const;

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .options(options)
    .example(
      '$0 generate ferry.stores.yaml --style atom --out src/stores',
      'writes src/stores/atom',
    )
    .example('$0 generate ferry.stores.yaml --style proxy --for vue', 'with readers for Vue')
    .example('$0 generate ferry.stores.yaml --diff', 'what would change');
}

export interface GenerateArguments extends PlanOptions {
  readonly dryRun: boolean;
  readonly diff: boolean;
  readonly verify: boolean;
  readonly force: boolean;
  readonly watch: boolean;
}

export async function run(io: Io, args: GenerateArguments): Promise<number> {
  const { dryRun, diff, verify, force, watch } = args;
  requireOneOf({ 'dry-run': dryRun, diff, verify, watch });
  requireOneOf({ verify, force });
  if (watch) {
    const { watchAndGenerate } = await import('../watch.js');
    return watchAndGenerate(io, args);
  }
  const planned = await planFolders(io, args);
  if ('exitCode' in planned) return planned.exitCode;
  const { plans } = planned;
  if (verify) return verified(io, plans);
  if (dryRun || diff) return shown(io, plans, diff, force);
  const kept = await writeFolders(plans, force);
  const paint = paintFor(io);
  const copies = kept.map((path) => `${paint.yellow('kept')}  ${path}`);
  io.note(`${plans.map((plan) => summaryOf(plan, paint)).join('\n')}\n`);
  if (copies.length > 0) io.print(`${copies.join('\n')}\n`);
  return exitCodes.fine;
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
