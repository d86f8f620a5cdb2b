import { counted, type Script } from '../../core.js';
import { exitCodes, paintFor, requireOneOf, Unusable, type Io } from '../io.js';
import { SavedFiles } from '../saved-files.js';
import type { CompareArguments } from './arguments.js';
import { compareAndPrint } from './compare-and-print.js';

/** Scripts that showed a difference are done first the next time: at most so many. */
const mostScripts = 20;

/** What has come meanwhile. */
interface Now {
  /** The files that were saved. */
  saved: string[];
  isInterrupted: boolean;
  /** What ends the watching. */
  failure?: { readonly error: unknown };
}

/**
 * Compares, and again whenever a file is saved that belongs to what is compared, until it is interrupted. What showed a
 * difference before is done first.
 */
export async function watchAndCompare(io: Io, args: CompareArguments): Promise<number> {
  for (const odd of ['json', 'faults', 'script', 'shard', 'junit'] as const)
    requireOneOf({ watch: true, [odd]: args[odd] !== undefined && args[odd] !== false });
  const paint = paintFor(io);
  const read = new Set<string>([...args.files, ...(args.with === undefined ? [] : [args.with])]);
  const scripts: Script[] = [];
  const now: Now = { saved: [], isInterrupted: false };
  /** Ends the waiting for a file to be saved. */
  let goOn: () => void = () => undefined;
  const files = new SavedFiles(
    io.cwd,
    (name) => {
      now.saved.push(name);
      goOn();
    },
    (error) => {
      now.failure = { error };
      goOn();
    },
  );
  const stopListening = io.onInterrupt(() => {
    now.isInterrupted = true;
    goOn();
  });
  const isOver = () => now.isInterrupted || now.failure !== undefined;
  const onRead = (path: string) => {
    read.add(path);
    files.follow([...read]);
  };
  const compareOnce = async (isFirst: boolean) => {
    now.saved = [];
    files.follow([...read]);
    try {
      await compareAndPrint(io, args, {
        scripts,
        isOutdated: () => now.saved.length > 0,
        onRead,
        onFound: (found) => {
          scripts.unshift(...found);
          scripts.length = Math.min(scripts.length, mostScripts);
        },
      });
    } catch (error) {
      // What cannot be read now may be mended; what never could is no reason to wait.
      if (!(error instanceof Unusable) || isFirst) throw error;
      io.stderr(`${paint.red('leeshore')}: ${error.message}\n`);
    }
  };
  try {
    for (let isFirst = true; !isOver(); isFirst = false) {
      await compareOnce(isFirst);
      if (now.saved.length === 0 && !isOver()) {
        io.note(paint.dim(`\nwatching ${counted(read.size, 'file')}; stop with Ctrl-C\n`));
        await new Promise<void>((resolve) => (goOn = resolve));
      }
      const [saved] = now.saved;
      if (saved !== undefined) io.note(`\n${paint.bold(`${saved} saved`)}: comparing again\n\n`);
    }
  } finally {
    files.close();
    stopListening();
  }
  if (now.failure !== undefined) throw now.failure.error;
  return exitCodes.interrupted;
}
