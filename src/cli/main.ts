import yargs, { type Argv } from 'yargs';
import * as check from './commands/check.js';
import * as compare from './commands/compare.js';
import * as demo from './commands/demo.js';
import * as explain from './commands/explain.js';
import * as format from './commands/format.js';
import * as generate from './commands/generate.js';
import * as merge from './commands/merge.js';
import * as newSchema from './commands/new.js';
import * as schema from './commands/schema.js';
import * as show from './commands/show.js';
import { configName, noConfig, readConfig } from './config.js';
import type { Config } from './config-in.js';
import { ownVersion } from './files.js';
import { exitCodes, paintFor, Unusable, type Io } from './io.js';

/** Runs the program with its arguments; gives its exit code. Never throws. */
export async function main(argv: readonly string[], io: Io): Promise<number> {
  try {
    return await dispatch(argv, io);
  } catch (error) {
    const paint = paintFor(io, io.isErrorTerminal);
    if (error instanceof Unusable) {
      io.stderr(
        `${paint.red('leeshore')}: ${error.message}\n${error.hint === undefined ? '' : `  ${paint.cyan('hint')}: ${error.hint}\n`}`,
      );
      return exitCodes.unusable;
    }
    const detail = error instanceof Error ? (error.stack ?? error.message) : String(error);
    io.stderr(
      `${paint.red('leeshore')}: a fault in Leeshore itself, not in your files.\n${io.env.LEESHORE_TRACE ? `${detail}\n` : `  ${detail.split('\n')[0] ?? ''}\n  Set LEESHORE_TRACE=1 to see where it happened.\n`}`,
    );
    return exitCodes.fault;
  }
}

/** A command: how it is called, what it takes, and what it does. */
interface Command {
  readonly command: string;
  readonly describe: string;
  readonly builder: (yargs: Argv) => Argv;
  readonly run: (io: Io, args: never) => Promise<number> | number;
}

const commands: readonly Command[] = [
  check,
  generate,
  compare,
  merge,
  show,
  explain,
  format,
  newSchema,
  demo,
  schema,
];

async function dispatch(argv: readonly string[], io: Io): Promise<number> {
  let exitCode: number = exitCodes.fine;
  const config = usesConfig(argv) ? await readConfig(io) : noConfig;
  const parser = yargs()
    .scriptName('leeshore')
    .locale('en')
    .usage(
      '$0 <command>\n\nDescribe stores once, generate them in four styles, check that they behave the same.',
    );
  for (const { command, describe, builder, run } of commands) {
    const options = config.options[command.split(' ')[0] ?? ''] ?? {};
    parser.command(
      command,
      describe,
      (own) => builder(own).config(options),
      async (args) => {
        requireOnce(args);
        exitCode = await run(io, withFiles(args, config) as never);
      },
    );
  }
  parser
    .example('$0 demo', 'see the whole job on an example')
    .demandCommand(
      1,
      1,
      'Say what to do: new, check, explain, show, format, generate, compare, merge, schema or demo.',
      'One command at a time.',
    )
    .recommendCommands()
    .strict()
    .version(ownVersion())
    .alias('help', 'h')
    .wrap(100)
    .exitProcess(false)
    .fail((message, error) => {
      // What yargs itself complains of is the user's to mend; anything else came from a command.
      if (error instanceof Error && error.name !== 'YError') throw error;
      throw new Unusable(
        error instanceof Error ? `${error.message}.` : message,
        'leeshore --help, or leeshore COMMAND --help',
      );
    });
  await parser.parseAsync([...argv], {}, (_error, _args, output) => {
    if (output) io.stdout(`${output}\n`);
  });
  return exitCode;
}

/** Whether a command is asked for that takes schema files: it heeds the project file. Help needs none. */
function usesConfig(argv: readonly string[]): boolean {
  const named = argv.find((argument) => !argument.startsWith('-'));
  const takesFiles = commands.some(({ command }) => command === `${named ?? ''} [files..]`);
  return takesFiles && !argv.includes('--help') && !argv.includes('-h');
}

/** The arguments that take several. */
const lists = new Set(['_', 'files', 'where', 'reports']);

/** Refuses an option that is given twice: which one was meant? */
function requireOnce(args: object): void {
  const twice = Object.entries(args).find(
    ([name, value]) => Array.isArray(value) && !lists.has(name),
  );
  if (twice !== undefined)
    throw new Unusable(
      `--${twice[0]} is given more than once.`,
      'Give it once; lists are separated by commas.',
    );
}

/** The arguments of a command; if it takes schema files and is given none, those of the project file. */
function withFiles(args: object, { files }: Config): object {
  if (!('files' in args) || !Array.isArray(args.files) || args.files.length > 0) return args;
  if (files.length > 0) return { ...args, files };
  throw new Unusable(
    'Which schema files?',
    `Name them, or list them under 'files' in ${configName}.`,
  );
}
