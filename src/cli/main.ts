import yargs, { type Argv } from 'yargs';
import * as check from './commands/check.js';
import * as compare from './commands/compare.js';
import * as demo from './commands/demo.js';
import * as explain from './commands/explain.js';
import * as format from './commands/format.js';
import * as generate from './commands/generate.js';
import * as merge from './commands/merge.js';
import * as newSchema from './commands/new.js';
import * as replay from './commands/replay.js';
import * as schema from './commands/schema.js';
import * as show from './commands/show.js';
import * as survey from './commands/survey.js';
import * as timeline from './commands/timeline.js';
import * as weigh from './commands/weigh.js';
import { configFor, configName } from './config.js';
import type { Config } from './config-in.js';
import { ownVersion } from '../library/package-files.js';
import { standardInput } from './files.js';
import { failed } from './failed.js';
import { ioFor, mannerIn } from './io-for.js';
import type { Options } from './options/option.js';
import { isList, renamed, requireNumbers, withOptions } from './options/parser.js';
import { inProject, options, type CommandName } from './options/table.js';
import { columnsOf, exitCodes, Unusable, type Io, type Surroundings } from './io.js';

/** Runs the program with its arguments; gives its exit code. Never throws. */
export async function main(argv: readonly string[], surroundings: Surroundings): Promise<number> {
  const io = ioFor(surroundings, mannerIn(argv));
  try {
    return await dispatch(argv, io);
  } catch (error) {
    return failed(io, error);
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
  replay,
  timeline,
  survey,
  weigh,
  show,
  explain,
  format,
  newSchema,
  demo,
  schema,
];

const names = [...commands.map(nameOf), 'completion', 'help'];

function nameOf({ command }: Command): string {
  return command.split(' ')[0] ?? '';
}

const optionsOf = (command: Command): Options => options[nameOf(command) as CommandName];

const whereDocs = 'The docs are in the package: README.md, and the pages in docs/.';

async function dispatch(given: readonly string[], io: Io): Promise<number> {
  const argv = asHelp(given);
  let exitCode: number = exitCodes.fine;
  const config = await configFor(io, argv, heedsConfig(argv));
  await requireCommand(argv);
  const parser = yargs()
    .scriptName('leeshore')
    .locale('en')
    .usage(
      '$0 <command>\n\nDescribe stores once, generate them in four styles, check that they behave the same.',
    );
  for (const one of commands) {
    const said = config.options[nameOf(one)] ?? {};
    const own = optionsOf(one);
    parser.command(
      one.command,
      one.describe,
      (yargsOfOne) => withOptions(one.builder(yargsOfOne), own).epilogue(whereDocs).config(said),
      async (args) => {
        const taken = withFiles(withoutRepeats(args, own), config);
        requireNumbers(own, taken);
        exitCode = await one.run(io, taken as never);
      },
    );
  }
  withSharedOptions(parser)
    .completion('completion', 'Print a completion script for bash or zsh')
    .example('$0 demo', 'see the whole job on an example')
    .demandCommand(
      1,
      1,
      `Missing command. Choose one of: ${names.join(', ')}.`,
      'One command at a time.',
    )
    .strict()
    .wrap(columnsOf(io))
    .exitProcess(false)
    .fail((message, error) => {
      // What yargs itself complains of is the user's to mend; anything else came from a command.
      if (error instanceof Error && error.name !== 'YError') throw error;
      throw new YargsComplaint(error instanceof Error ? `${error.message}.` : message);
    });
  try {
    // yargs takes a lone dash for no argument at all.
    const words = argv.map((one) => (one === '-' ? standardInput : one));
    await parser.parseAsync(words, {}, (_error, _args, output) => {
      if (output) io.stdout(`${output}\n`);
    });
  } catch (error) {
    if (!(error instanceof YargsComplaint)) throw error;
    throw await explained(error, argv);
  }
  return exitCode;
}

const sharedNames = ['config', 'quiet', 'color', 'help', 'version'];

/** Nothing at all asks for help, and so does `help`, of one command too. */
function asHelp(argv: readonly string[]): readonly string[] {
  if (argv.length === 0) return ['--help'];
  const [first, ...rest] = argv;
  return first === 'help' ? [...rest, '--help'] : argv;
}

/** The options of every command. */
function withSharedOptions(parser: Argv): Argv {
  return parser
    .option('config', {
      describe: `project file; otherwise ${configName} of this folder or of one above it`,
      type: 'string',
      requiresArg: true,
      global: true,
    })
    .option('quiet', {
      describe: 'print findings only',
      type: 'boolean',
      global: true,
    })
    .option('color', {
      describe: 'colour the output, or not: --no-color',
      type: 'boolean',
      global: true,
    })
    .version(ownVersion())
    .alias('version', 'v')
    .alias('help', 'h');
}

/** What yargs complains of. */
class YargsComplaint extends Error {}

const wayOut = 'leeshore --help, or leeshore COMMAND --help';

/** What the parser complains of, as it is said here. */
function inOurWords(message: string, command: Command | undefined): string {
  if (message.startsWith('Not enough non-option arguments'))
    return `Something is missing: leeshore ${command?.command ?? 'COMMAND'}.`;
  const [, bare] = /^Not enough arguments following: ([\w-]+)/.exec(message) ?? [];
  if (bare !== undefined) return `--${bare} needs a value.`;
  const [, missing] = /^Missing required arguments?: ([\w-]+)/.exec(message) ?? [];
  if (missing !== undefined) return `--${missing} is missing: leeshore ${command?.command ?? ''}.`;
  const [, name, value, choices] =
    /Argument: ([\w-]+), Given: "?([^"\n]*)"?, Choices: (.*)/.exec(message) ?? [];
  if (name !== undefined)
    return `--${name} takes ${(choices ?? '').replaceAll('"', '')}, and not '${value ?? ''}'.`;
  return message;
}

/** Says what was probably meant by an option that there is not. */
async function explained({ message }: YargsComplaint, argv: readonly string[]): Promise<Unusable> {
  const [, unknown] = /^Unknown arguments?: ([^,]+)/.exec(message) ?? [];
  const command = commands.find((one) => nameOf(one) === commandIn(argv));
  if (unknown === undefined || command === undefined)
    return new Unusable(inOurWords(message, command), wayOut);
  const written = argv.find(
    (one) => one.replace(/^-+|=.*$/g, '') === unknown && one.startsWith('-'),
  );
  if (written === undefined) return new Unusable(`Unexpected argument '${unknown}'.`, wayOut);
  const { nearest } = await import('../core.js');
  const own = optionsOf(command);
  const now = renamed(own, unknown);
  if (now !== undefined)
    return new Unusable(`There is no --${unknown} any more.`, `It is called --${now} now.`);
  const meant = nearest(unknown, [...Object.keys(own), ...sharedNames]);
  return new Unusable(
    `Unknown option '${written.replace(/=.*$/, '')}'.`,
    meant === undefined
      ? `leeshore ${nameOf(command)} --help lists the options.`
      : `Did you mean --${meant}?`,
  );
}

/** The command that the arguments name, if they name any. */
function commandIn(argv: readonly string[]): string | undefined {
  return argv.find((one, i) => !one.startsWith('-') && argv[i - 1] !== '--config');
}

/** Refuses a command that there is not, and says which was probably meant. Throws {@link Unusable}. */
async function requireCommand(argv: readonly string[]): Promise<void> {
  const named = commandIn(argv);
  if (named === undefined || names.includes(named) || argv.includes('--get-yargs-completions'))
    return;
  const { nearest } = await import('../core.js');
  const meant = nearest(named, names);
  throw new Unusable(
    `There is no command '${named}'.`,
    meant === undefined ? `The commands are: ${names.join(', ')}.` : `Did you mean '${meant}'?`,
  );
}

/** True if a command is asked for that heeds the project file. Help needs none. */
function heedsConfig(argv: readonly string[]): boolean {
  const named = commandIn(argv);
  const isOne = inProject.some((name) => name === named);
  return isOne && !argv.includes('--help') && !argv.includes('-h');
}

/** The arguments that take several. */
const lists = new Set(['_', 'files', 'where', 'reports', 'sources']);

/** The arguments with lists put together. Refuses any other option that is given twice: which one was meant? */
function withoutRepeats(args: object, own: Options): Readonly<Record<string, unknown>> {
  const entries = Object.entries(args).map(([name, value]): [string, unknown] => {
    if (!Array.isArray(value) || lists.has(name)) return [name, value];
    if (isList(own, name) && typeof value[0] === 'string') return [name, value.join(',')];
    throw new Unusable(`--${name} is given more than once.`, 'Give it once.');
  });
  return Object.fromEntries(entries);
}

/** The arguments of a command; if it takes schema files and is given none, those of the project file. */
function withFiles(
  args: Readonly<Record<string, unknown>>,
  { files }: Config,
): Readonly<Record<string, unknown>> {
  if (!('files' in args) || !Array.isArray(args.files) || args.files.length > 0) return args;
  if (files.length > 0) return { ...args, files };
  throw new Unusable(
    'No schema file given.',
    `Name one or more, or list them under 'files' in ${configName}.`,
  );
}
