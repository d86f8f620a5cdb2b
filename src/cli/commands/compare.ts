import type { Argv } from 'yargs';
import { compareAndPrint } from '../compare/compare-and-print.js';
import { findAndPrint } from '../compare/find-faults.js';
import type { CompareArguments } from '../compare/arguments.js';
import type { Io } from '../io.js';
import { withSchemaFiles } from '../schema-files.js';

export const command = 'compare [files..]';
export const describe = 'Check that the stores of a schema behave the same, in every style';

const options = {
  style: {
    describe: "which generated stores to compare; 'none' compares those of --with alone",
    type: 'string',
    requiresArg: true,
    default: 'reducer,atom,proxy,observable',
  },
  generated: {
    describe: 'compare the stores in this folder as they stand there',
    type: 'string',
    requiresArg: true,
  },
  steps: {
    describe:
      'how many actions to try; 40,000 if not given, 80,000 where one or two are compared with the reference, 20,000 where there are tasks',
    type: 'number',
    requiresArg: true,
  },
  for: {
    describe: 'stop after this many seconds',
    type: 'number',
    requiresArg: true,
    default: 60,
  },
  seed: {
    describe: 'a whole number; the same seed tries the same',
    type: 'number',
    requiresArg: true,
    default: 1,
  },
  search: {
    describe: 'how to search: everything in a small scope, at random, or both',
    choices: ['both', 'small', 'random'],
    requiresArg: true,
    default: 'both',
  },
  depth: {
    describe: 'the longest sequence that is tried in a small scope',
    type: 'number',
    requiresArg: true,
  },
  jobs: {
    describe: 'how many workers share the work; the result is the same',
    type: 'number',
    requiresArg: true,
    default: 1,
  },
  shard: {
    describe: 'do the second of eight shares only: 2/8; merge puts them together',
    type: 'string',
    requiresArg: true,
  },
  corpus: {
    describe: 'a folder of scripts to begin with; those that reach something new are added',
    type: 'string',
    requiresArg: true,
  },
  with: {
    describe: 'also compare the stores of this participant file, such as the old ones',
    type: 'string',
    requiresArg: true,
  },
  faults: {
    describe: "plant so many faults in generated stores, or 'all', and see how many are found",
    type: 'string',
    requiresArg: true,
  },
  differences: {
    describe: 'how many differences of different causes to tell, each shrunk',
    type: 'number',
    requiresArg: true,
    default: 1,
  },
  limit: {
    describe: 'how many seconds one call of a participant file may take',
    type: 'number',
    requiresArg: true,
    default: 2,
  },
  ignore: {
    describe:
      'what is not compared: outcome, state, derived, notices, tasks, problems, storage, identity, snapshots',
    type: 'string',
    requiresArg: true,
  },
  'require-coverage': {
    describe: 'exit code 1 if less than so many percent of what can happen is reached',
    type: 'number',
    requiresArg: true,
  },
  script: {
    describe: 'replay this script file in place of searching',
    type: 'string',
    requiresArg: true,
  },
  save: {
    describe: 'where to save the script of a difference',
    type: 'string',
    requiresArg: true,
  },
  junit: {
    describe: 'also write the result as JUnit XML to this file',
    type: 'string',
    requiresArg: true,
  },
  watch: {
    describe: 'compare again whenever a file is saved that belongs to what is compared',
    type: 'boolean',
    default: false,
  },
  json: { describe: 'print one JSON value', type: 'boolean', default: false },
} as const;

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .options(options)
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
