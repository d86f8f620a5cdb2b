import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { root } from '../helpers.js';

const program = fileURLToPath(new URL('bin/leeshore.js', root));

export interface Ran {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

/** Runs the built program in a folder, without a terminal. */
export function leeshore(cwd: string, ...args: readonly string[]): Promise<Ran> {
  return run(cwd, args, () => undefined);
}

/** Runs it with more in its surroundings: a text on standard input, more in its environment. */
export function leeshoreWith(
  cwd: string,
  { input, env }: { readonly input?: string; readonly env?: Readonly<Record<string, string>> },
  ...args: readonly string[]
): Promise<Ran> {
  return run(cwd, args, () => undefined, { input, env });
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
    { env: { TMPDIR: cwd } },
  );
}

/** Is told how to interrupt what was started, and how to hear of its end. */
type Started = (kill: () => void, ended: (then: () => void) => void) => void;

function run(
  cwd: string,
  args: readonly string[],
  started: Started,
  {
    input,
    env = {},
  }: { input?: string | undefined; env?: Readonly<Record<string, string>> | undefined } = {},
): Promise<Ran> {
  const surroundings = { PATH: process.env.PATH, ...env };
  return spawned(cwd, [program, ...args], surroundings, input, started);
}

function spawned(
  cwd: string,
  args: readonly string[],
  env: NodeJS.ProcessEnv,
  input?: string,
  started: Started = () => undefined,
): Promise<Ran> {
  const child = spawn(process.execPath, args, { cwd, env });
  child.stdin.end(input);
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
