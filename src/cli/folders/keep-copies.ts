import { copyFileSync, existsSync } from 'node:fs';
import { join } from 'node:path';
import type { FolderPlan } from './plan-folder.js';

/** Copies the files that would be overwritten though Leeshore did not write them so; gives the names of the copies. */
export function keepCopies({ folder, full, inTheWay }: FolderPlan): string[] {
  return inTheWay.map(({ path }) => {
    const copy = freeName(full, `${path}.kept`);
    copyFileSync(join(full, path), join(full, copy));
    return join(folder, copy);
  });
}

function freeName(folder: string, wanted: string): string {
  let name = wanted;
  for (let i = 2; existsSync(join(folder, name)); i++) name = `${wanted}-${i}`;
  return name;
}
