import { planFolders, type PlanOptions } from './folders/plan-folders.js';
import { writeFolders } from './folders/write-folders.js';
import { exitCodes, paintFor, Unusable, type Io } from './io.js';
import { SavedFiles } from './saved-files.js';

/** Generates, and again whenever a schema file is saved, until it is interrupted. */
export async function watchAndGenerate(
  io: Io,
  args: PlanOptions & { readonly force: boolean },
): Promise<number> {
  const paint = paintFor(io);
  let isFollowing = false;
  let under = Promise.resolve();
  /** Ends the watching with what cannot be mended by saving again. */
  let fail: (error: unknown) => void = () => undefined;
  const files = new SavedFiles(
    io.cwd,
    (name) => {
      under = under
        .then(() => again(name))
        .catch((error: unknown) => {
          fail(error);
        });
    },
    (error) => {
      fail(error);
    },
  );
  const again = async (saved?: string) => {
    const start = io.clock();
    const saying = saved === undefined ? '' : `${saved} saved: `;
    try {
      const planned = await planFolders(io, args);
      if (planned.read.length > 0) {
        files.follow(planned.read);
        isFollowing = true;
      }
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
  if (!isFollowing) return exitCodes.findings;
  io.note(paint.dim('watching the schema; stop with Ctrl-C\n'));
  try {
    await new Promise<void>((stop, reject) => {
      fail = reject;
      io.onInterrupt(stop);
    });
  } finally {
    files.close();
  }
  await under;
  return exitCodes.interrupted;
}

function changedText(count: number): string {
  if (count === 0) return 'nothing changed';
  return `${count} ${count === 1 ? 'file' : 'files'} changed`;
}
