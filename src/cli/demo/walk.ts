import { exitCodes, paintFor, type Io } from '../io.js';

/** A stage of a walk, with the exit code that it has to end with. */
export interface Stage {
  /** What it is about, in a line. */
  readonly what: string;
  /** The command that a user would give. */
  readonly command: string;
  readonly wanted: number;
  readonly run: (io: Io) => Promise<number>;
}

/** Goes through stages, one after the other, until one does not end as it should or the user has enough. */
export async function walk(
  io: Io,
  stages: readonly Stage[],
  next: string,
  isInterrupted: () => boolean,
): Promise<number> {
  const paint = paintFor(io);
  for (const [i, { what, command, wanted, run }] of stages.entries()) {
    const gap = i === 0 ? '' : '\n';
    io.print(`${gap}${paint.bold(`${i + 1}. ${what}`)}\n   ${paint.cyan(`$ ${command}`)}\n\n`);
    const exitCode = await run(io);
    if (isInterrupted()) return exitCodes.interrupted;
    if (exitCode !== wanted) {
      io.stderr(
        `leeshore: this step should have ended with exit code ${wanted}, and ended with ${exitCode}.\n`,
      );
      return exitCodes.fault;
    }
  }
  io.print(`\n${paint.bold('Your turn.')} ${next}\n`);
  return exitCodes.fine;
}

/** Checking as it is when nothing else is said, in two lines. */
export const usualCheck = {
  advice: false,
  json: false,
  sarif: false,
  watch: false,
  brief: true,
} as const;

/** Generating as it is when nothing else is said. */
export const usualGenerate = {
  log: false,
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
  json: false,
} as const;

/** Comparing as it is when nothing else is said, but for how much. */
export const usualCompare = {
  steps: 3000,
  // However slow the machine is, it shows the same.
  seconds: undefined,
  seed: 1,
  search: 'both',
  callSeconds: 60,
  differences: 1,
  jobs: 1,
  watch: false,
  json: false,
  brief: true,
} as const;
