import { copyFileSync, cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Argv } from 'yargs';
import { compareAndPrint } from '../compare/compare-and-print.js';
import { packageRoot } from '../../library/package-files.js';
import { exitCodes, paintFor, type Io } from '../io.js';
import { run as runCheck } from './check.js';
import { run as runGenerate } from './generate.js';

export const command = 'demo';
export const describe =
  'Walk through the whole job on an example: check, generate, compare, a caught difference';

export function builder(yargs: Argv) {
  return yargs
    .option('keep', {
      describe: 'keep the folder that the walk works in',
      type: 'boolean',
      default: false,
    })
    .example('$0 demo', 'takes a few seconds and leaves nothing behind');
}

export interface DemoArguments {
  readonly keep: boolean;
}

/** The line that is taken out of a generated store: the end of a crossing forgets the lanes. */
const planted = {
  file: 'stores/deck.ts',
  action: '"deck.depart"',
  line: 'byLane.reset();',
};

/** What is changed in the run time of generated stores: a run that was displaced takes its answer all the same. */
const late = [
  ['call.ts', 'if (live.calls !== call) return false;', ''],
  [
    'tasks.ts',
    'const run = this.#live.has(live.number) ? this.#runOf(live) : undefined;',
    'const run = this.#runOf(live) ?? { number: live.number, payload: "today", given: {}, per: 0 };',
  ],
  [
    'tasks.ts',
    'if (run === undefined || calls !== live.calls) return false;',
    'if (calls < 0) return false;',
  ],
] as const;

/** Generating as it is when nothing else is said. */
const usual = {
  guard: 'development',
  begin: 'defaults',
  checks: 'always',
  layout: 'files',
  language: 'ts',
  dryRun: false,
  diff: false,
  verify: false,
  force: false,
  watch: false,
} as const;

/** How many steps the comparisons of the walk try. */
const steps = 3000;

export async function run(io: Io, { keep }: DemoArguments): Promise<number> {
  let isInterrupted = false;
  const stopListening = io.onInterrupt(() => (isInterrupted = true));
  const folder = mkdtempSync(join(tmpdir(), 'leeshore-demo-'));
  const inside: Io = { ...io, cwd: folder };
  try {
    for (const name of [file, harbour])
      copyFileSync(join(packageRoot(), 'examples/skerry', name), join(folder, name));
    const result = await walk(inside, () => isInterrupted);
    io.print(
      keep
        ? `The files of this walk are in ${folder}\n`
        : "This walk's own files are gone again; 'leeshore demo --keep' leaves them.\n",
    );
    return result;
  } finally {
    stopListening();
    if (!keep) rmSync(folder, { recursive: true, force: true });
  }
}

const file = 'ferry.stores.yaml';
const harbour = 'harbour.stores.yaml';
const style = 'reducer,atom,proxy,observable';
const compare = {
  files: [file],
  style,
  steps,
  for: 20,
  seed: 1,
  search: 'both',
  limit: 2,
  differences: 1,
  jobs: 1,
  json: false,
  brief: true,
} as const;

/** A stage of the walk, with the exit code that it has to end with. */
interface Stage {
  readonly what: string;
  readonly command: string;
  readonly wanted: number;
  readonly run: (io: Io) => Promise<number>;
}

const stages: readonly Stage[] = [
  {
    what: 'One schema describes the stores of a ferry terminal. Is it sound?',
    command: `leeshore check ${file}`,
    wanted: exitCodes.fine,
    run: (io) =>
      runCheck(io, { files: [file], json: false, sarif: false, advice: false, brief: true }),
  },
  {
    what: 'From it, the same stores in four styles, as TypeScript that needs no package.',
    command: `leeshore generate ${file} --out stores`,
    wanted: exitCodes.fine,
    run: (io) => runGenerate(io, { ...usual, files: [file], style, out: 'stores' }),
  },
  {
    what: 'Do they behave the same? The same scripts drive all four and the meaning of the schema.',
    command: `leeshore compare ${file} --generated stores --steps ${steps}`,
    wanted: exitCodes.fine,
    run: (io) => compareAndPrint(io, { ...compare, generated: 'stores' }),
  },
  {
    what: `Would it notice? In a copy of the atom store, one line of 'depart' is gone: ${planted.line}`,
    command: `leeshore compare ${file} --generated broken --style atom`,
    wanted: exitCodes.findings,
    run(io) {
      plant(io);
      return compareAndPrint(io, { ...compare, generated: 'broken', style: 'atom' });
    },
  },
  {
    what: 'And work that takes its time? Without a network: in another copy, the timetable takes late answers.',
    command: `leeshore compare ${harbour} --generated late --style atom --search small`,
    wanted: exitCodes.findings,
    async run(io) {
      const made = { ...usual, files: [harbour], style: 'atom', out: 'late' };
      await runGenerate({ ...io, print: () => undefined, note: () => undefined }, made);
      plantLate(io);
      const options = { ...compare, files: [harbour], search: 'small' } as const;
      return compareAndPrint(io, { ...options, generated: 'late', style: 'atom' });
    },
  },
];

/** The stages, one after the other, until one does not end as it should or the user has enough. */
async function walk(io: Io, isInterrupted: () => boolean): Promise<number> {
  for (const [i, { what, command, wanted, run: runStage }] of stages.entries()) {
    stage(io, i + 1, what, command);
    const exitCode = await runStage(io);
    if (isInterrupted()) return exitCodes.interrupted;
    if (exitCode !== wanted) return exitCodes.fault;
  }
  const paint = paintFor(io);
  io.print(
    `\n${paint.bold('Your turn.')} Describe a store of your own in a *.stores.yaml file, then: ${paint.cyan('leeshore check FILE')}\n`,
  );
  return exitCodes.fine;
}

function stage(io: Io, number: number, what: string, command: string): void {
  const paint = paintFor(io);
  const gap = number === 1 ? '' : '\n';
  io.print(`${gap}${paint.bold(`${number}. ${what}`)}\n   ${paint.cyan(`$ ${command}`)}\n\n`);
}

/** Changes the run time of generated stores so that they take late answers. */
function plantLate(io: Io): void {
  for (const [file, from, to] of late) {
    const path = join(io.cwd, 'late/atom/runtime', file);
    const text = readFileSync(path, 'utf8');
    const parts = text.replace(/\s+/g, ' ').split(from);
    if (parts.length !== 2) throw new Error(`the demo finds no '${from}' in ${path}`);
    const written = from.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/ /g, '\\s+');
    writeFileSync(
      path,
      text.replace(new RegExp(written), () => to),
    );
  }
}

/** Copies the atom stores and takes one line out of the copy. */
function plant(io: Io): void {
  cpSync(join(io.cwd, 'stores/atom'), join(io.cwd, 'broken/atom'), { recursive: true });
  const path = join(io.cwd, 'broken/atom', planted.file);
  const text = readFileSync(path, 'utf8');
  const from = text.indexOf(planted.action);
  const at = text.indexOf(planted.line, from);
  if (from < 0 || at < 0) throw new Error(`the demo finds no '${planted.line}' in ${planted.file}`);
  writeFileSync(path, text.slice(0, at) + text.slice(at + planted.line.length));
}
