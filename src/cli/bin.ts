import { readFileSync } from 'node:fs';
import { main } from './main.js';

/** The program: the streams and the clock of this process. */
export async function start(): Promise<void> {
  process.exitCode = await main(process.argv.slice(2), {
    stdout: (text) => void process.stdout.write(text),
    stderr: (text) => void process.stderr.write(text),
    stdin: () => readFileSync(process.stdin.fd),
    isTerminal: process.stdout.isTTY === true,
    isErrorTerminal: process.stderr.isTTY === true,
    terminalColumns: process.stdout.columns,
    env: process.env,
    cwd: process.cwd(),
    clock: () => performance.now(),
    onInterrupt(interrupted) {
      process.once('SIGINT', interrupted);
      return () => void process.removeListener('SIGINT', interrupted);
    },
  });
}
