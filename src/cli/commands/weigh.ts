import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Argv } from 'yargs';
import { ownVersion, readRuntime } from '../../library/package-files.js';
import { checkedSchema } from '../checked-schema.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import { progressOf } from '../progress.js';
import { withSchemaFiles } from '../schema-files.js';
import { frameworkList, styleList } from '../styles.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'weigh [files..]';
export const describe = 'Say how large the generated stores are, style by style';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .example('$0 weigh ferry.stores.yaml --against old/terminal.ts', 'beside the old store')
    .example('$0 weigh ferry.stores.yaml --style atom --max-size 9kB', 'for CI');
}

export type WeighArguments = ArgumentsOf<'weigh'> & { readonly files: readonly string[] };

export async function run(io: Io, args: WeighArguments): Promise<number> {
  const { checks, guard, layout, against, json } = args;
  const limit = args.maxSize === undefined ? undefined : bytesIn(args.maxSize);
  const styles = await styleList(args.style);
  const readers = args.readers === undefined ? [] : await frameworkList(args.readers);
  if (against !== undefined && !existsSync(resolve(io.cwd, against)))
    throw new Unusable(`There is no file ${against}.`, `Paths are relative to ${io.cwd}.`);
  const checked = await checkedSchema(io, args.files);
  if ('exitCode' in checked) return checked.exitCode;
  const { WeighError, weighingToJson, weighStores, weighText } = await import('../../core.js');
  const progress = await progressOf(io, styles.length, 'weighing');
  const weighing = await weighStores(checked.application, {
    styles,
    against,
    folder: io.cwd,
    version: ownVersion(),
    schema: checked.file.path,
    readRuntime,
    isRuntimeFormatted: true,
    output: { checks, guard, layout, readers },
    begin: (style, i) => {
      progress.at(i, style);
    },
  })
    .catch((error: unknown) => {
      if (!(error instanceof WeighError)) throw error;
      throw new Unusable(
        `${against ?? ''} cannot be bundled: ${error.message}.`,
        'Correct it, or name another module.',
      );
    })
    .finally(() => {
      progress.stop();
    });
  if (json) io.stdout(`${JSON.stringify(weighingToJson(weighing), null, 2)}\n`);
  else io.print(`${weighText(weighing, paintFor(io), limit)}\n`);
  const isTooHeavy = limit !== undefined && weighing.styles.some(({ gzipped }) => gzipped > limit);
  return isTooHeavy ? exitCodes.findings : exitCodes.fine;
}

const units: Readonly<Record<string, number>> = { '': 1, b: 1, kb: 1000, kib: 1024, mb: 1_000_000 };

/** A number of bytes: `9kB`, `9.5 kB`, `9000`. Throws {@link Unusable}. */
function bytesIn(text: string): number {
  const [, number, unit = ''] = /^\s*(\d+(?:\.\d+)?)\s*([a-z]*)\s*$/i.exec(text) ?? [];
  const factor = units[unit.toLowerCase()];
  if (number === undefined || factor === undefined)
    throw new Unusable(
      `--max-size takes a size, and '${text}' is none.`,
      'For example --max-size 9kB.',
    );
  return Number(number) * factor;
}
