import type { Io } from './io.js';

/** Progress is shown only if something takes longer than this, in milliseconds. */
const patience = 2000;

export interface Progress {
  /** Says how far it is. */
  readonly at: (done: number, note: string) => void;
  readonly stop: () => void;
}

/** A bar on standard error, on a terminal only, for what takes longer than two seconds. A terminal without
 * a cursor that moves gets none. */
export async function progressOf(io: Io, total: number, what: string): Promise<Progress> {
  if (!io.isErrorTerminal || io.env['TERM'] === 'dumb')
    return { at: () => undefined, stop: () => undefined };
  const { SingleBar } = (await import('cli-progress')).default;
  const bar = new SingleBar({
    barsize: 16,
    format: `${what} [{bar}] {percentage}%  {value}/{total}  {note}`,
    barCompleteChar: '=',
    barIncompleteChar: '-',
    hideCursor: true,
    clearOnComplete: true,
    stream: process.stderr,
  });
  const start = io.clock();
  let shown = false;
  return {
    at(done, note) {
      if (!shown && io.clock() - start < patience) return;
      if (!shown) bar.start(total, done, { note });
      else bar.update(done, { note });
      shown = true;
    },
    stop: () => {
      if (shown) bar.stop();
    },
  };
}
