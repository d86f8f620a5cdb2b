import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Argv } from 'yargs';
import { walkOfJob } from '../demo/job.js';
import { walkOfPort } from '../demo/port.js';
import type { Io } from '../io.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'demo';
export const describe =
  'Walk through the whole job on an example: check, generate, compare, a caught difference';

export function builder(yargs: Argv) {
  return yargs
    .example('$0 demo', 'takes a few seconds and leaves nothing behind')
    .example('$0 demo --port', 'from the old store to the last place that used it');
}

export type DemoArguments = ArgumentsOf<'demo'>;

export async function run(io: Io, { port, keep }: DemoArguments): Promise<number> {
  let isInterrupted = false;
  const stopListening = io.onInterrupt(() => (isInterrupted = true));
  const folder = mkdtempSync(join(tmpdir(), 'leeshore-demo-'));
  const inside: Io = { ...io, cwd: folder };
  try {
    const result = port
      ? await walkOfPort(inside, () => isInterrupted)
      : await walkOfJob(inside, () => isInterrupted);
    io.print(
      keep
        ? `The files of this walk are in ${folder}\n`
        : `This walk's own files are gone again; 'leeshore demo${port ? ' --port' : ''} --keep' leaves them.\n`,
    );
    return result;
  } finally {
    stopListening();
    if (!keep) rmSync(folder, { recursive: true, force: true });
  }
}
