import { existsSync, statSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import { readPagePart } from '../library/package-files.js';
import { readText } from './files.js';
import { exitCodes, Unusable, type Io } from './io.js';
import { logFile, readingLog } from './log-file.js';
import { replaceFile } from './replace-file.js';

/** About how many characters of a log stand in one block of a page: it reads them one after the other. */
const blockSize = 1 << 20;

/** What a page is made of. */
interface PageRequest {
  readonly log?: string | undefined;
  readonly live: boolean;
}

/** Writes the page of a log, or an empty one that listens to an application. */
export async function writePage(io: Io, path: string, { log, live }: PageRequest): Promise<number> {
  if (log === undefined && !live)
    throw new Unusable('No log given.', 'Name one, or make a page that listens: --live.');
  const core = await import('../core.js');
  requirePageAt(io, path, core.pageMark);
  const parts = {
    script: readPagePart('main.js'),
    style: readPagePart('page.css'),
    body: readPagePart('page.html'),
  };
  const title = log === undefined ? 'What happens' : basename(log);
  const blocks = log === undefined ? [] : await blocksOf(io, log);
  const texts = [core.pageHead(parts, { title, live }), ...blocks, core.pageTail];
  replaceFile(io, path, texts.join(''), wayOut);
  io.print(`${path}\n`);
  return exitCodes.fine;
}

const wayOut = 'Name another file with --html.';

/** Refuses to write over a file that is no page of ours. Throws {@link Unusable}. */
function requirePageAt(io: Io, path: string, mark: string): void {
  const full = resolve(io.cwd, path);
  if (!existsSync(full)) return;
  if (statSync(full).isDirectory()) throw new Unusable(`${path} is a folder.`, wayOut);
  if (!readText(io, path).includes(mark))
    throw new Unusable(`${path} is there already, and no page of leeshore.`, wayOut);
}

/** The lines of a log in blocks; those that cannot be read end it here, with their place. */
async function blocksOf(io: Io, log: string): Promise<readonly string[]> {
  const core = await import('../core.js');
  return readingLog(io, logFile(io, log), 'reading', async (chunks, { onRead }) => {
    const blocks: string[] = [];
    let lines: string[] = [];
    let size = 0;
    for await (const entries of core.readLog(chunks, { onRead }))
      for (const { entry } of entries) {
        const line = JSON.stringify(entry);
        lines.push(line);
        size += line.length;
        if (size < blockSize) continue;
        blocks.push(core.pageBlock(lines.join('\n')));
        [lines, size] = [[], 0];
      }
    if (lines.length > 0) blocks.push(core.pageBlock(lines.join('\n')));
    return blocks;
  });
}
