import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { root } from '../helpers.js';

/** The program as it was built. */
const { main } = (await import(
  new URL('dist/main.js', root).href
)) as typeof import('../../src/cli/main.js');

const program = fileURLToPath(new URL('bin/leeshore.js', root));

export interface Ran {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

/** What a run finds around it, where it is not a folder without a terminal and without standard input. */
export interface Around {
  /** The text on standard input. */
  readonly input?: string;
  /** More in its environment. */
  readonly env?: Readonly<Record<string, string>>;
  /** On a terminal, of so many columns. */
  readonly columns?: number;
  /** A clock, in milliseconds; that of the machine if not given. */
  readonly clock?: () => number;
}

/** Runs the built program in a folder, in this process. */
export function leeshore(cwd: string, ...args: readonly string[]): Promise<Ran> {
  return leeshoreWith(cwd, {}, ...args);
}

/** Runs the built program in this process, with other surroundings. */
export async function leeshoreWith(
  cwd: string,
  { input = '', env = {}, columns, clock = () => performance.now() }: Around,
  ...args: readonly string[]
): Promise<Ran> {
  let [out, err] = ['', ''];
  const code = await main(args, {
    stdout: (text) => void (out += text),
    stderr: (text) => void (err += text),
    stdin: () => Buffer.from(input),
    isTerminal: columns !== undefined,
    isErrorTerminal: columns !== undefined,
    terminalColumns: columns,
    env: { PATH: process.env.PATH, ...env },
    cwd,
    clock,
    onInterrupt: () => () => undefined,
  });
  return { code, out, err };
}

/** Runs the built program as a process of its own: for what a call cannot show. */
export function leeshoreProcess(
  cwd: string,
  env: Readonly<Record<string, string>>,
  ...args: readonly string[]
): Promise<Ran> {
  return run(cwd, args, () => undefined, env);
}

/** Runs a script of the project, in its folder. */
export function scriptRun(script: string, ...args: readonly string[]): Promise<Ran> {
  return spawned(fileURLToPath(root), [script, ...args], { ...process.env });
}

/**
 * Runs it, and interrupts it as soon as `hasBegun` says so: how long a start takes depends on what
 * else the machine does.
 */
export function interrupted(
  cwd: string,
  hasBegun: () => boolean,
  ...args: readonly string[]
): Promise<Ran> {
  return run(
    cwd,
    args,
    (kill, ended) => {
      const poll = setInterval(() => {
        if (!hasBegun()) return;
        clearInterval(poll);
        kill();
      }, 20);
      ended(() => clearInterval(poll));
    },
    { TMPDIR: cwd },
  );
}

/** Is told how to interrupt what was started, and how to hear of its end. */
type Started = (kill: () => void, ended: (then: () => void) => void) => void;

function run(
  cwd: string,
  args: readonly string[],
  started: Started,
  env: Readonly<Record<string, string>> = {},
): Promise<Ran> {
  return spawned(cwd, [program, ...args], { PATH: process.env.PATH, ...env }, started);
}

function spawned(
  cwd: string,
  args: readonly string[],
  env: NodeJS.ProcessEnv,
  started: Started = () => undefined,
): Promise<Ran> {
  const child = spawn(process.execPath, args, { cwd, env });
  child.stdin.end();
  let [out, err] = ['', ''];
  child.stdout.on('data', (data: Buffer) => (out += data.toString()));
  child.stderr.on('data', (data: Buffer) => (err += data.toString()));
  started(
    () => void child.kill('SIGINT'),
    (then) => void child.on('close', then),
  );
  return new Promise((resolve) => child.on('close', (code) => resolve({ code, out, err })));
}

/** Runs a test in a temporary folder of its own. */
export async function inFolder(test: (folder: string) => Promise<void>): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'leeshore-cli-'));
  try {
    await test(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The texts of all files below a folder, by their paths. */
export function contentOf(folder: string): Record<string, string> {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name))
    .toSorted();
  return Object.fromEntries(
    files.map((path) => [relative(folder, path), readFileSync(path, 'utf8')]),
  );
}
