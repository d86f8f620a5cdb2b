import { Unusable } from '../io.js';
import type { FolderPlan } from './plan-folder.js';
import { replaceFolders } from './replace-folders.js';

/** Makes the planned changes; gives the names of the copies of what was overwritten by force. Throws {@link Unusable}. */
export function writeFolders(plans: readonly FolderPlan[], force: boolean): Promise<string[]> {
  if (!force) requireFree(plans);
  return replaceFolders(plans);
}

/** At most this many files are named. */
const mostNamed = 5;

/** Refuses to overwrite what Leeshore did not write so. Throws {@link Unusable}. */
export function requireFree(plans: readonly FolderPlan[]): void {
  const inTheWay = plans.flatMap((plan) =>
    plan.inTheWay.map(({ path, why }) => `${plan.folder}/${path} (${why})`),
  );
  const more = inTheWay.length > mostNamed ? ` and ${inTheWay.length - mostNamed} more` : '';
  const named = `${inTheWay.slice(0, mostNamed).join(', ')}${more}`;
  if (inTheWay.length > 0)
    throw new Unusable(
      `Nothing was written: ${named} would be overwritten.`,
      'Move it away, generate elsewhere with --out, or overwrite it with --force, which keeps a copy.',
    );
}
