import { frameworks, styles } from '../../base/styles.js';
import type { Arguments, Options } from './option.js';

const usualStyles = styles.join(',');

const style = {
  kind: 'names',
  describe: `${styles.join(', ')}; several with commas`,
  default: usualStyles,
  of: styles,
} as const;
const styleOrNone = (describe: string) => ({ ...style, describe, of: undefined }) as const;
const readers = {
  kind: 'names',
  describe: `also readers for the components of ${frameworks.join(', ')}; several with commas`,
  of: frameworks,
  was: 'for',
} as const;
const checks = {
  kind: 'choice',
  describe: "when payloads and stored values are judged; 'never' is for callers with types",
  of: ['always', 'never'],
  default: 'always',
} as const;
const guard = {
  kind: 'choice',
  describe: 'when snapshots are frozen',
  of: ['development', 'always', 'never'],
  default: 'development',
} as const;
const layout = {
  kind: 'choice',
  describe: 'a file for each store and each part of the run time, or one file',
  of: ['files', 'one-file'],
  default: 'files',
} as const;
const json = { kind: 'flag', describe: 'print one JSON value', group: 'output' } as const;
const junit = {
  kind: 'path',
  describe: 'also write the result as JUnit XML to this file',
  group: 'output',
} as const;
const differences = (what: string) =>
  ({
    kind: 'whole',
    describe: `how many ${what} of different causes to look for`,
    example: 5,
  }) as const;
const callSeconds = {
  kind: 'seconds',
  describe: 'how many seconds one call of a participant file may take',
  group: 'how long',
  default: 2,
  example: 5,
  was: 'limit',
} as const;

/** The options of each command. The parser, the help, the project file and the types come from here. */
export const options = {
  check: {
    advice: { kind: 'flag', describe: 'also say what could be simpler' },
    'max-warnings': {
      kind: 'whole',
      describe: 'exit code 1 if there are more warnings than this',
      least: 0,
      example: 0,
    },
    json,
    sarif: {
      kind: 'flag',
      describe: 'print the problems as SARIF 2.1.0, for editors and CI',
      group: 'output',
    },
    watch: { kind: 'flag', describe: 'check again on every save', group: 'output' },
  },
  generate: {
    style,
    out: {
      kind: 'path',
      describe: 'folder; each style gets a folder in it',
      default: 'stores',
    },
    readers,
    only: {
      kind: 'names',
      describe: 'only these stores, and those that they need; several with commas',
    },
    log: { kind: 'flag', describe: 'createStores takes a sink that is given a line for each turn' },
    guard,
    begin: {
      kind: 'choice',
      describe: 'what stores begin with: their defaults, or a state that createStores is given',
      of: ['defaults', 'state'],
      default: 'defaults',
    },
    checks,
    layout,
    language: {
      kind: 'choice',
      describe: 'TypeScript, or JavaScript with declarations beside it',
      of: ['ts', 'js'],
      default: 'ts',
    },
    'dry-run': {
      kind: 'flag',
      describe: 'write nothing; list what would change',
      group: 'output',
    },
    diff: {
      kind: 'flag',
      describe: 'write nothing; show what would change, line by line',
      group: 'output',
    },
    verify: {
      kind: 'flag',
      describe: 'write nothing; exit code 1 if a folder is out of date',
      group: 'output',
    },
    force: {
      kind: 'flag',
      describe: 'overwrite files that were changed by hand, and keep copies of them',
      group: 'output',
    },
    watch: {
      kind: 'flag',
      describe: 'watch the schema and regenerate on every save',
      group: 'output',
    },
    json,
  },
  compare: {
    with: {
      kind: 'path',
      describe: 'also compare the stores of this participant file, such as the old ones',
    },
    style: styleOrNone("which generated stores to compare; 'none' compares those of --with alone"),
    generated: { kind: 'path', describe: 'compare the stores in this folder as they stand there' },
    ignore: {
      kind: 'names',
      describe:
        'what is not compared: outcome, state, derived, notices, tasks, problems, storage, identity, snapshots',
    },
    script: { kind: 'path', describe: 'replay this script file in place of searching' },
    corpus: {
      kind: 'path',
      describe: 'a folder of scripts to begin with; those that reach something new are added',
    },
    faults: {
      kind: 'text',
      describe: "plant so many faults in generated stores, or 'all', and see how many are found",
    },
    steps: {
      kind: 'whole',
      describe:
        'how many actions to try; 40,000 if not given, 80,000 where one or two are compared with the reference, 20,000 where there are tasks',
      group: 'how long',
      example: 100_000,
    },
    seconds: {
      kind: 'seconds',
      describe: 'how many seconds the search may take; as long as its steps do if not given',
      group: 'how long',
      example: 30,
      was: 'for',
    },
    'call-seconds': callSeconds,
    seed: {
      kind: 'whole',
      describe: 'a whole number; the same seed tries the same',
      group: 'how long',
      default: 1,
      least: null,
      example: 7,
    },
    search: {
      kind: 'choice',
      describe: 'how to search: everything in a small scope, at random, or both',
      of: ['both', 'small', 'random'],
      group: 'how long',
      default: 'both',
    },
    depth: {
      kind: 'whole',
      describe: 'the longest sequence that is tried in a small scope',
      group: 'how long',
      example: 3,
    },
    differences: {
      ...differences('differences'),
      default: 1,
      group: 'how long',
    },
    jobs: {
      kind: 'whole',
      describe: 'how many workers share the work; the result is the same',
      group: 'how long',
      default: 1,
      most: 64,
      example: 2,
    },
    shard: {
      kind: 'text',
      describe: 'do the second of eight shares only: 2/8; merge puts them together',
      group: 'how long',
    },
    watch: {
      kind: 'flag',
      describe: 'compare again whenever a file is saved that belongs to what is compared',
      group: 'output',
    },
    'require-coverage': {
      kind: 'percent',
      describe: 'exit code 1 if less than so many percent of what can happen is reached',
      group: 'output',
      example: 90,
    },
    save: { kind: 'path', describe: 'where to save the script of a difference', group: 'output' },
    junit,
    json,
  },
  merge: { json },
  replay: {
    mapping: {
      kind: 'path',
      describe: "a participant file whose 'log' says what the names in the log are in the schema",
    },
    style: styleOrNone(
      "which generated stores replay it; 'none' leaves the reference and those of --with",
    ),
    with: {
      kind: 'path',
      describe: 'also replay it with the stores of this participant file, such as the old ones',
    },
    from: { kind: 'whole', describe: 'the first turn to replay', example: 100 },
    to: { kind: 'whole', describe: 'the last turn to replay', example: 200 },
    differences: { ...differences('mismatches'), default: 3 },
    'call-seconds': callSeconds,
    junit,
    json,
  },
  timeline: {
    store: {
      kind: 'names',
      describe: 'only these stores, and what changed them; several with commas',
    },
    action: {
      kind: 'names',
      describe: 'only these actions and tasks, as deck.admit; several with commas',
    },
    field: {
      kind: 'text',
      describe: 'only what changed this field, as deck.hold or deck.vehicles.3.plate',
    },
    failed: { kind: 'flag', describe: 'only what was refused, broke or failed', was: 'problems' },
    at: {
      kind: 'whole',
      describe: 'show this turn in full: payload, changes, state, what is different at the end',
      example: 57,
    },
    html: {
      kind: 'path',
      describe: 'write a page to this file, to walk through what happened',
      group: 'output',
    },
    from: {
      kind: 'whole',
      describe: 'with --html: the first turn on the page',
      group: 'output',
      example: 100,
    },
    to: {
      kind: 'whole',
      describe: 'with --html: the last turn on the page',
      group: 'output',
      example: 200,
    },
    live: {
      kind: 'flag',
      describe:
        'with --html: the page listens to the application that has opened it or is beside it',
      group: 'output',
    },
    schema: {
      kind: 'path',
      describe: 'for a script of compare: the schema whose stores do it, side by side on the page',
      group: 'output',
    },
    style: {
      ...styleOrNone(
        "with --schema: which generated stores; 'none' leaves the reference and those of --with",
      ),
      group: 'output',
    },
    generated: {
      kind: 'path',
      describe: 'with --schema: the generated stores in this folder as they stand there',
      group: 'output',
    },
    with: {
      kind: 'path',
      describe: 'with --schema: also the stores of this participant file',
      group: 'output',
    },
    json,
  },
  survey: {
    old: {
      kind: 'names',
      describe: 'the modules of the old store; several with commas',
      arePaths: true,
      required: true,
    },
    new: {
      kind: 'path',
      describe:
        'the folder of the generated stores: also count what has moved, and find slips there',
    },
    with: { kind: 'path', describe: "participant file whose 'names' say what to write instead" },
    left: {
      kind: 'whole',
      describe: 'exit code 1 if more than this is left, unresolved or not read',
      least: 0,
      group: 'output',
      example: 0,
    },
    brief: {
      kind: 'flag',
      describe: 'print no places, only what can be deleted or is wrong',
      group: 'output',
    },
    json,
    sarif: {
      kind: 'flag',
      describe: 'print the places as SARIF 2.1.0, for editors and CI',
      group: 'output',
    },
  },
  weigh: {
    style,
    against: {
      kind: 'path',
      describe: "the old store's module: weighed with all that it imports",
    },
    readers,
    checks,
    guard,
    layout,
    'max-size': {
      kind: 'text',
      describe: 'exit code 1 if a style is larger, gzipped: 9kB, 9000',
      group: 'output',
      was: 'limit',
    },
    json,
  },
  show: {
    store: { kind: 'names', describe: 'only these stores; several with commas' },
    json,
    dot: { kind: 'flag', describe: 'print a graph for Graphviz', group: 'output' },
    mermaid: { kind: 'flag', describe: 'print a Mermaid flowchart', group: 'output' },
  },
  explain: {},
  format: {
    check: { kind: 'flag', describe: 'write nothing; exit code 1 if a file is not tidy' },
  },
  new: {
    participant: {
      kind: 'path',
      describe:
        'write this participant file, in which the old stores are to be called; in one that exists, add what is missing',
    },
    types: {
      kind: 'path',
      describe:
        'with --participant: a module to import the types from, such as a generated types.js',
    },
  },
  demo: {
    port: {
      kind: 'flag',
      describe: 'walk through a port: an old page is moved to generated stores, piece by piece',
    },
    keep: { kind: 'flag', describe: 'keep the folder that the walk works in' },
  },
  schema: {
    types: { kind: 'path', describe: 'a schema file: print its types as JSON Schema 2020-12' },
    language: {
      kind: 'choice',
      describe: 'with --types: JSON Schema, or TypeScript',
      of: ['json', 'ts'],
      default: 'json',
    },
    project: {
      kind: 'flag',
      describe: 'print the JSON Schema of the project file, leeshore.config.yaml',
    },
  },
} as const satisfies Readonly<Record<string, Options>>;

export type CommandName = keyof typeof options;

/** The options by any name. */
export const allOptions: Readonly<Record<string, Options>> = options;

/** The commands whose options a project file may say: what they do is done again and again. */
export const inProject: readonly CommandName[] = [
  'check',
  'show',
  'format',
  'generate',
  'compare',
  'merge',
  'replay',
  'timeline',
  'survey',
  'weigh',
];

/** What a command is given, without its files. */
export type ArgumentsOf<Name extends CommandName> = Arguments<(typeof options)[Name]>;
