import { copyFileSync, cpSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { run as runCheck } from '../commands/check.js';
import { run as runGenerate } from '../commands/generate.js';
import { compareAndPrint } from '../compare/compare-and-print.js';
import { packageRoot } from '../../library/package-files.js';
import { exitCodes, paintFor, type Io } from '../io.js';
import { usualCheck, usualCompare, usualGenerate, walk, type Stage } from './walk.js';

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
    'return run === undefined || calls !== live.calls ? this.late() : work(run);',
    'return work(run);',
  ],
] as const;

const file = 'ferry.stores.yaml';
const harbour = 'harbour.stores.yaml';
const style = 'reducer,atom,proxy,observable';
const compare = { ...usualCompare, files: [file], style };

const stages: readonly Stage[] = [
  {
    what: 'One schema describes the stores of a ferry terminal. Is it sound?',
    command: `leeshore check ${file}`,
    wanted: exitCodes.fine,
    run: (io) => runCheck(io, { ...usualCheck, files: [file] }),
  },
  {
    what: 'From it, the same stores in four styles, as TypeScript that needs no package.',
    command: `leeshore generate ${file} --out stores`,
    wanted: exitCodes.fine,
    run: (io) => runGenerate(io, { ...usualGenerate, files: [file], style, out: 'stores' }),
  },
  {
    what: 'Do they behave the same? The same scripts drive all four and the meaning of the schema.',
    command: `leeshore compare ${file} --generated stores --steps ${usualCompare.steps}`,
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
      const made = { ...usualGenerate, files: [harbour], style: 'atom', out: 'late' };
      await runGenerate({ ...io, print: () => undefined, note: () => undefined }, made);
      plantLate(io);
      const options = { ...compare, files: [harbour], search: 'small' } as const;
      return compareAndPrint(io, { ...options, generated: 'late', style: 'atom' });
    },
  },
];

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

/** Walks through the whole job on the example, in a folder that is empty. */
export function walkOfJob(io: Io, isInterrupted: () => boolean): Promise<number> {
  for (const name of [file, harbour])
    copyFileSync(join(packageRoot(), 'examples/skerry', name), join(io.cwd, name));
  const { cyan } = paintFor(io);
  const next = `Describe a store of your own in a *.stores.yaml file, then: ${cyan('leeshore check FILE')}
What happened at the terminal is in examples/skerry/logs of the package, in a log of the generated stores and in one
of the old terminal: ${cyan('leeshore timeline morning.log.jsonl')}`;
  return walk(io, stages, next, isInterrupted);
}
