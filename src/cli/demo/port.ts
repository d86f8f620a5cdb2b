import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { run as runCheck } from '../commands/check.js';
import { run as runGenerate } from '../commands/generate.js';
import { run as runSurvey } from '../commands/survey.js';
import { compareAndPrint } from '../compare/compare-and-print.js';
import { packageRoot } from '../../library/package-files.js';
import { exitCodes, paintFor, type Io } from '../io.js';
import { usualCheck, usualCompare, usualGenerate, walk, type Stage } from './walk.js';

const file = 'ferry.stores.yaml';
const participant = 'old/terminal.participant.ts';
const old = 'old/terminal.ts';
const surveying = `leeshore survey page --old ${old} --new page/stores --with ${participant}`;
const generating = `leeshore generate ${file} --style proxy --out page/stores`;

/** The three mistakes of the old store, with what mends them. */
const mistakes = [
  ['this.capacity = value as number;', 'this.capacity = Number(value);'],
  [
    'this.officerSince = null;\n    this.#emit',
    'this.officerSince = null;\n    this.changesOfWatch = 0;\n    this.#emit',
  ],
  ['this.lastGusts.pop();', 'this.lastGusts.shift();'],
] as const;

const compare = (io: Io) =>
  compareAndPrint(io, { ...usualCompare, files: [file], style: 'proxy', with: participant });

const generate = (io: Io, verify = false) =>
  runGenerate(io, { ...usualGenerate, files: [file], style: 'proxy', out: 'page/stores', verify });

const survey = (io: Io, left?: number) =>
  runSurvey(io, {
    sources: ['page'],
    old,
    new: 'page/stores',
    with: participant,
    left,
    brief: false,
    json: false,
    sarif: false,
  });

/** Puts the modules of the next step in the place of those before. */
const move = (io: Io, step: number): void => {
  cpSync(join(packageRoot(), `examples/skerry/port/moved-${step}`), join(io.cwd, 'page'), {
    recursive: true,
  });
};

const stages: readonly Stage[] = [
  {
    what: 'An old page keeps its state in old/terminal.ts. Does that do what the schema says?',
    command: `leeshore compare ${file} --with ${participant} --style proxy`,
    wanted: exitCodes.findings,
    run: compare,
  },
  {
    what: 'It has three mistakes of that kind. They are mended in old/terminal.ts; once more:',
    command: `leeshore compare ${file} --with ${participant} --style proxy --steps ${usualCompare.steps}`,
    wanted: exitCodes.fine,
    run(io) {
      mend(io);
      return compare(io);
    },
  },
  {
    what: 'The new stores are generated beside the page. Nothing uses them yet.',
    command: generating,
    wanted: exitCodes.fine,
    run: (io) => generate(io),
  },
  {
    what: 'Which places use the old store, and what is to stand there instead?',
    command: surveying,
    wanted: exitCodes.fine,
    run: (io) => survey(io),
  },
  {
    what: 'The first component is moved: page/queue.ts. What is left?',
    command: surveying,
    wanted: exitCodes.fine,
    run(io) {
      move(io, 1);
      return survey(io);
    },
  },
  {
    what: 'The next ones follow: page/wind.ts and page/watch.ts.',
    command: surveying,
    wanted: exitCodes.fine,
    run(io) {
      move(io, 2);
      return survey(io);
    },
  },
  {
    what: 'The last place makes the old store. It goes, and nothing is left: a CI server can check that.',
    command: `${surveying} --left 0`,
    wanted: exitCodes.fine,
    run(io) {
      move(io, 3);
      return survey(io, 0);
    },
  },
  {
    what: 'The old store and its participant file are deleted. From now on CI checks the schema, and that the stores fit it.',
    command: `leeshore check ${file} --max-warnings 0 && ${generating} --verify`,
    wanted: exitCodes.fine,
    async run(io) {
      rmSync(join(io.cwd, 'old'), { recursive: true });
      const checked = await runCheck(io, { ...usualCheck, files: [file], maxWarnings: 0 });
      return checked === exitCodes.fine ? generate(io, true) : checked;
    },
  },
];

/** Moves a small page from its old store to generated ones, in a folder that is empty. */
export function walkOfPort(io: Io, isInterrupted: () => boolean): Promise<number> {
  const from = join(packageRoot(), 'examples/skerry');
  for (const [name, path] of [
    [file, file],
    ['old', 'old'],
    ['port/page', 'page'],
  ] as const)
    cpSync(join(from, name), join(io.cwd, path), { recursive: true });
  const next = `Outline a participant file for an old store of yours: ${paintFor(io).cyan('leeshore new FILE --participant OLD.participant.ts')}`;
  return walk(io, stages, next, isInterrupted);
}

function mend(io: Io): void {
  const path = join(io.cwd, old);
  let text = readFileSync(path, 'utf8');
  for (const [from, to] of mistakes) {
    if (text.split(from).length !== 2) throw new Error(`the demo finds no '${from}' in ${old}`);
    text = text.replace(from, to);
  }
  writeFileSync(path, text);
}
