import { watch, type FSWatcher } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { planFolders, type PlanOptions } from './folders/plan-folders.js';
import { writeFolders } from './folders/write-folders.js';
import { exitCodes, paintFor, Unusable, type Io } from './io.js';

/** How long, in milliseconds, a file has to be left alone: editors save in several steps. */
const settling = 60;

/** Generates, and again whenever a schema file is saved, until it is interrupted. */
export async function watchAndGenerate(
  io: Io,
  args: PlanOptions & { readonly force: boolean },
): Promise<number> {
  const paint = paintFor(io);
  const watched = new Map<string, FSWatcher>();
  let names = new Set<string>();
  let timer: NodeJS.Timeout | undefined;
  let under = Promise.resolve();
  /** Ends the watching with what cannot be mended by saving again. */
  let fail: (error: unknown) => void = () => undefined;

  const follow = (read: readonly string[]) => {
    names = new Set(read.map((path) => resolve(io.cwd, path)));
    for (const folder of new Set([...names].map(dirname))) {
      if (watched.has(folder)) continue;
      const watcher = watch(folder, (_event, name) => {
        if (name === null || !names.has(resolve(folder, name))) return;
        clearTimeout(timer);
        timer = setTimeout(() => {
          under = under
            .then(() => again(basename(name)))
            .catch((error: unknown) => {
              fail(error);
            });
        }, settling);
      });
      watcher.on('error', (error) => {
        fail(error);
      });
      watched.set(folder, watcher);
    }
  };
  const again = async (saved?: string) => {
    const start = io.clock();
    const saying = saved === undefined ? '' : `${saved} saved: `;
    try {
      const planned = await planFolders(io, args);
      if (planned.read.length > 0) follow(planned.read);
      if ('exitCode' in planned) return;
      await writeFolders(planned.plans, args.force);
      const count = planned.plans.reduce((sum, { changes }) => sum + changes.length, 0);
      const took = ((io.clock() - start) / 1000).toFixed(1);
      io.note(`${paint.green(saying + changedText(count))} ${paint.dim(`(${took} s)`)}\n`);
    } catch (error) {
      if (!(error instanceof Unusable) || saved === undefined) throw error;
      io.stderr(`${paint.red('leeshore')}: ${error.message}\n`);
    }
  };

  await again();
  if (watched.size === 0) return exitCodes.findings;
  io.note(paint.dim('watching the schema; stop with Ctrl-C\n'));
  try {
    await new Promise<void>((stop, reject) => {
      fail = reject;
      io.onInterrupt(stop);
    });
  } finally {
    clearTimeout(timer);
    for (const watcher of watched.values()) watcher.close();
  }
  await under;
  return exitCodes.interrupted;
}

function changedText(count: number): string {
  if (count === 0) return 'nothing changed';
  return `${count} ${count === 1 ? 'file' : 'files'} changed`;
}
