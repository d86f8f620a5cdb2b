import yargs from 'yargs';
import * as check from './commands/check.js';
import * as compare from './commands/compare.js';
import * as demo from './commands/demo.js';
import * as explain from './commands/explain.js';
import * as format from './commands/format.js';
import * as generate from './commands/generate.js';
import * as newSchema from './commands/new.js';
import * as schema from './commands/schema.js';
import * as show from './commands/show.js';
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

async function dispatch(argv: readonly string[], io: Io): Promise<number> {
  let exitCode: number = exitCodes.fine;
  const set = (code: number) => void (exitCode = code);
  const parser = yargs()
    .scriptName('leeshore')
    .locale('en')
    .usage(
      '$0 <command>\n\nDescribe stores once, generate them in four styles, check that they behave the same.',
    )
    .command(check.command, check.describe, check.builder, async (args) =>
      set(await check.run(io, args as unknown as check.CheckArguments)),
    )
    .command(generate.command, generate.describe, generate.builder, async (args) =>
      set(await generate.run(io, args as unknown as generate.GenerateArguments)),
    )
    .command(compare.command, compare.describe, compare.builder, async (args) =>
      set(await compare.run(io, args as unknown as Parameters<typeof compare.run>[1])),
    )
    .command(show.command, show.describe, show.builder, async (args) =>
      set(await show.run(io, args as unknown as show.ShowArguments)),
    )
    .command(explain.command, explain.describe, explain.builder, async (args) =>
      set(await explain.run(io, args as unknown as explain.ExplainArguments)),
    )
    .command(format.command, format.describe, format.builder, async (args) =>
      set(await format.run(io, args as unknown as format.FormatArguments)),
    )
    .command(newSchema.command, newSchema.describe, newSchema.builder, (args) => {
      set(newSchema.run(io, args));
    })
    .command(demo.command, demo.describe, demo.builder, async (args) =>
      set(await demo.run(io, args as unknown as demo.DemoArguments)),
    )
    .command(schema.command, schema.describe, schema.builder, async (args) =>
      set(await schema.run(io, args as unknown as schema.SchemaArguments)),
    )
    .example('$0 demo', 'see the whole job on an example')
    .demandCommand(
      1,
      1,
      'Say what to do: new, check, explain, show, format, generate, compare, schema or demo.',
      'One command at a time.',
    )
    .recommendCommands()
    .strict()
    .version(ownVersion())
    .alias('help', 'h')
    .wrap(100)
    .exitProcess(false)
    .fail((message, error) => {
      if (error instanceof Error) throw error;
      throw new Unusable(message, 'leeshore --help, or leeshore COMMAND --help');
    });
  await parser.parseAsync([...argv], {}, (_error, _args, output) => {
    if (output) io.stdout(`${output}\n`);
  });
  return exitCode;
}
