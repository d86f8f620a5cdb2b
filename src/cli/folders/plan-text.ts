import { join } from 'node:path';
import type { Paint } from '../../core.js';
import type { FileChange, FolderPlan } from './plan-folder.js';

const signs = { new: '+', changed: '~', removed: '-' } as const;

/** What was done, or would be: a line for each folder. */
export function summaryOf({ folder, changes, unchanged }: FolderPlan, paint: Paint): string {
  const count = (...kinds: readonly FileChange['kind'][]) =>
    changes.filter(({ kind }) => kinds.includes(kind)).length;
  const [written, removed] = [count('new', 'changed'), count('removed')];
  const parts = [
    ...(written > 0 ? [`${written} written`] : []),
    ...(unchanged > 0 ? [`${unchanged} unchanged`] : []),
    ...(removed > 0 ? [`${removed} removed`] : []),
  ];
  return `${paint.bold(folder.padEnd(24))} ${parts.join(', ')}`;
}

/** What would be done, a line for each file that changes. */
export function listOf({ folder, changes, unchanged, inTheWay }: FolderPlan, paint: Paint): string {
  const paints = { new: paint.green, changed: paint.yellow, removed: paint.red };
  const lines = changes.map(({ path, kind }) => {
    const why = inTheWay.find((file) => file.path === path)?.why;
    const note = why === undefined ? '' : paint.red(`  ${why}: only with --force`);
    return `  ${paints[kind](`${signs[kind]} ${path}`)}${note}`;
  });
  const isNew = unchanged === 0 && changes.every(({ kind }) => kind === 'new');
  const rest = isNew ? 'nothing there yet' : `${unchanged} unchanged`;
  return [`${paint.bold(folder)}  ${paint.dim(rest)}`, ...lines].join('\n');
}

/** What would be done, line for line of each file that changes. */
export async function diffOf({ folder, changes }: FolderPlan, paint: Paint): Promise<string> {
  const { createTwoFilesPatch } = await import('diff');
  const patches = changes.map(({ path, kind, before, after }) => {
    const name = join(folder, path);
    const [from, to] = [
      kind === 'new' ? '/dev/null' : name,
      kind === 'removed' ? '/dev/null' : name,
    ];
    return createTwoFilesPatch(from, to, before, after, '', '', { context: 3 })
      .replace(/^(Index:.*\n)?=+\n/, '')
      .replace(/^(---|\+\+\+) (.*)\t$/gm, '$1 $2')
      .trimEnd();
  });
  return patches
    .flatMap((patch) => patch.split('\n'))
    .map((line) => painted(line, paint))
    .join('\n');
}

function painted(line: string, paint: Paint): string {
  if (line.startsWith('---') || line.startsWith('+++')) return paint.bold(line);
  if (line.startsWith('@@')) return paint.cyan(line);
  if (line.startsWith('+')) return paint.green(line);
  return line.startsWith('-') ? paint.red(line) : line;
}
