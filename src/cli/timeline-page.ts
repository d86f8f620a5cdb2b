import { existsSync, statSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import { readPagePart, readRuntime } from '../library/package-files.js';
import { checkedSchema } from './checked-schema.js';
import { participantFile } from './compare/participant-file.js';
import { scriptFor } from './compare/script-files.js';
import { readText } from './files.js';
import { generatedFolders } from './folders/generated-folders.js';
import { exitCodes, Unusable, type Io } from './io.js';
import { logFile, readingLog } from './log-file.js';
import { replaceFile } from './replace-file.js';
import { stylesOrNone } from './styles.js';

/** About how many characters of a log stand in one block of a page: it reads them one after the other. */
const blockSize = 1 << 20;

/** What a page is made of. */
export interface PageRequest {
  readonly log?: string | undefined;
  readonly live: boolean;
  readonly schema?: string | undefined;
  readonly style: string;
  readonly generated?: string | undefined;
  readonly with?: string | undefined;
}

/** Writes the page of a log, or an empty one that listens to an application. */
export async function writePage(io: Io, path: string, request: PageRequest): Promise<number> {
  const { log, live } = request;
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
  const played = log === undefined ? undefined : await playedIn(io, log, request);
  if (played !== undefined && 'exitCode' in played) return played.exitCode;
  const blocks =
    played?.logs.map(({ name, entries }) => core.pageBlock(textOf(entries), name)) ??
    (log === undefined ? [] : await blocksOf(io, log));
  const { differsAt } = played ?? {};
  const settings = { title, live, ...(differsAt !== undefined && { differsAt }) };
  const texts = [core.pageHead(parts, settings), ...blocks, core.pageTail];
  replaceFile(io, path, texts.join(''), wayOut);
  io.print(`${path}\n`);
  return exitCodes.fine;
}

const textOf = (entries: readonly object[]): string =>
  entries.map((entry) => JSON.stringify(entry)).join('\n');

/** What participants did, if the file is no log but a script of compare. */
async function playedIn(io: Io, log: string, request: PageRequest) {
  if (!log.endsWith('.json')) return undefined;
  if (request.schema === undefined)
    throw new Unusable(
      `${log} is a script, not a log.`,
      'Name the schema whose stores do it: --schema ferry.stores.yaml.',
    );
  const styles = await stylesOrNone(request.style);
  const checked = await checkedSchema(io, [request.schema]);
  if ('exitCode' in checked) return checked;
  const { application } = checked;
  const { generatedInMemory, LoadError, playScript } = await import('../core.js');
  const { script } = await scriptFor(io, log, application);
  const folders =
    request.generated === undefined
      ? await generatedInMemory(application, styles, readRuntime)
      : await generatedFolders(io, request.generated, styles);
  const brought = request.with === undefined ? [] : [await participantFile(io, request.with)];
  return playScript({ application, folders, brought }, script).catch((error: unknown) => {
    if (!(error instanceof LoadError)) throw error;
    throw new Unusable(`${error.message}.`, 'Correct it.');
  });
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
  return readingLog(io, logFile(io, log), 'reading', async (open, { onRead }) => {
    const blocks: string[] = [];
    let lines: string[] = [];
    let size = 0;
    const onTorn = (line: number) => {
      io.stderr(`Line ${line} of ${log} is cut off in the middle; it is not on the page.\n`);
    };
    for await (const entries of core.readLog(open(), { onRead, onTorn }))
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
