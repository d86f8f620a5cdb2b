import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { packageRoot } from '../../library/package-files.js';

/**
 * Does what may leave folders out of their places for a moment, while a process of its own stands by to put them back
 * should this one be killed.
 */
export async function guarded<T>(folders: readonly string[], work: () => T): Promise<T> {
  if (folders.length === 0) return work();
  const guardian = spawn(
    process.execPath,
    [join(packageRoot(), 'dist/guardian.js'), ...folders],
    // It belongs to no terminal: what interrupts this process does not end it.
    { detached: true, stdio: ['pipe', 'ignore', 'ignore'] },
  );
  const input = guardian.stdin;
  // It is no loss if it cannot be started: the next run would put the folders back.
  guardian.on('error', () => undefined);
  input.on('error', () => undefined);
  guardian.unref();
  try {
    return work();
  } finally {
    await new Promise<void>((resolve) => input.end('done', resolve));
  }
}
