import { existsSync, renameSync, rmSync } from 'node:fs';
import { placeBeside, standingAt } from './folder-places.js';

/** Tidies up after a run that was killed: puts back what stands elsewhere, and throws away what is half made. */
export function recoverFolder(folder: string): void {
  const [next, last] = [placeBeside(folder, 'next'), placeBeside(folder, 'last')];
  if (standingAt(folder) === last) renameSync(last, folder);
  if (existsSync(last)) rmSync(last, { recursive: true });
  if (existsSync(next)) rmSync(next, { recursive: true });
}
