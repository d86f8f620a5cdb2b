import { planFolders, type PlanOptions } from './folders/plan-folders.js';
import { writeFolders } from './folders/write-folders.js';
import { exitCodes, paintFor, Unusable, type Io } from './io.js';
import { SavedFiles } from './saved-files.js';

/** What was done, and the files that it was made from; none if nothing could be read. */
interface Done {
  readonly read: readonly string[];
}

/** Does something, and again whenever a file is saved that it was made from, until it is interrupted. */
async function watching(
  io: Io,
  does: (saying: string, start: number) => Promise<Done>,
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
    try {
      const { read } = await does(saved === undefined ? '' : `${saved} saved: `, io.clock());
      if (read.length === 0) return;
      files.follow(read);
      isFollowing = true;
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

/** Generates, and again whenever a schema file is saved, until it is interrupted. */
export function watchAndGenerate(
  io: Io,
  args: PlanOptions & { readonly force: boolean },
): Promise<number> {
  const paint = paintFor(io);
  return watching(io, async (saying, start) => {
    const planned = await planFolders(io, args);
    if ('exitCode' in planned) return planned;
    await writeFolders(planned.plans, args.force);
    const count = planned.plans.reduce((sum, { changes }) => sum + changes.length, 0);
    const took = ((io.clock() - start) / 1000).toFixed(1);
    io.note(`${paint.green(saying + changedText(count))} ${paint.dim(`(${took} s)`)}\n`);
    return planned;
  });
}

/** Checks, and again whenever a schema file is saved, until it is interrupted. `check` gives the files that it has read. */
export const watchAndCheck = (io: Io, check: () => Promise<readonly string[]>): Promise<number> =>
  watching(io, async (saying) => {
    if (saying !== '') io.note(`\n${paintFor(io).bold(saying.replace(/: $/, ''))}\n`);
    return { read: await check() };
  });

function changedText(count: number): string {
  if (count === 0) return 'nothing changed';
  return `${count} ${count === 1 ? 'file' : 'files'} changed`;
}
