import type { Argv } from 'yargs';
import { compareAndPrint } from '../compare/compare-and-print.js';
import { findAndPrint } from '../compare/find-faults.js';
import type { CompareArguments } from '../compare/arguments.js';
import type { Io } from '../io.js';
import { withSchemaFiles } from '../schema-files.js';

export const command = 'compare [files..]';
export const describe = 'Check that the stores of a schema behave the same, in every style';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .example('$0 compare ferry.stores.yaml', 'the reference and the four generated stores')
    .example(
      '$0 compare ferry.stores.yaml --generated src/stores',
      'the stores that generate wrote there',
    )
    .example(
      '$0 compare ferry.stores.yaml --with old.participant.ts',
      'the stores of the application that is ported, too',
    )
    .example(
      '$0 compare ferry.stores.yaml --require-coverage 90 --junit compare.xml',
      'for a CI server',
    );
}

export async function run(io: Io, args: CompareArguments): Promise<number> {
  const { faults, watch } = args;
  if (watch === true) {
    const { watchAndCompare } = await import('../compare/watch-and-compare.js');
    return watchAndCompare(io, args);
  }
  return faults === undefined ? compareAndPrint(io, args) : findAndPrint(io, { ...args, faults });
}
