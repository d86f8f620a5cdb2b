import { existsSync, statSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import { readPagePart, readRuntime } from '../library/package-files.js';
import { checkedSchema } from './checked-schema.js';
import { participantFile } from './compare/participant-file.js';
import { scriptFor } from './compare/script-files.js';
import { readText } from './files.js';
import { generatedFolders } from './folders/generated-folders.js';
import type { LogHead, LoggedState, LogLine, LogPart, NumberedEntry } from '../core.js';
import { exitCodes, Unusable, type Io } from './io.js';
import { logFile, readingLog } from './log-file.js';
import { replaceFile } from './replace-file.js';
import { stylesOrNone } from './styles.js';
import type { ArgumentsOf } from './options/table.js';

/** The number of transactions that a page has at most: browsers hold no more. */
const mostLines = 200_000;

/** About how many characters of a log stand in one block of a page: it reads them one after the other. */
const blockSize = 1 << 20;

/** What a page is made of. */
export type PageRequest = Pick<
  ArgumentsOf<'timeline'>,
  'live' | 'schema' | 'style' | 'generated' | 'with' | 'from' | 'to'
> & { readonly log?: string | undefined };

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
    (log === undefined ? [] : await blocksOf(io, log, request));
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
  const external = request.with === undefined ? [] : [await participantFile(io, request.with)];
  return playScript({ application, folders, external }, script).catch((error: unknown) => {
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

/** The lines of a log in blocks, those of some turns if that is wanted; what cannot be read ends it here, with its place. */
async function blocksOf(
  io: Io,
  log: string,
  { from = -Infinity, to = Infinity }: PageRequest,
): Promise<readonly string[]> {
  const core = await import('../core.js');
  const pages = new Blocks(core.pageBlock);
  // Only a page that begins in the middle needs to know the state there.
  const grouping = from === -Infinity ? undefined : new core.Grouping();
  let [turns, last, isBegun] = [0, 0, from === -Infinity];
  let head: LogHead = { leeshoreLog: 1 };
  const addLine = (line: LogLine, before?: LoggedState) => {
    turns += 1;
    const turn = line.turn ?? turns;
    if (turn < from || turn > to || pages.lines >= mostLines) return;
    if (!isBegun) pages.add({ ...head, ...(before !== undefined && { state: before }) });
    isBegun = true;
    last = turn;
    pages.addLine(line);
  };
  const addPart = (part: LogPart) => {
    if (part.kind === 'session') head = part.head;
    else for (const { line } of part.group.lines) addLine(line, part.group.before);
  };
  const addEntry = (entry: NumberedEntry) => {
    if (grouping !== undefined) grouping.add(entry).forEach(addPart);
    else if (core.isHead(entry.entry)) pages.add(entry.entry);
    else addLine(entry.entry);
  };
  await readingLog(io, logFile(io, log), 'reading', async (open, { onRead }) => {
    const onTorn = (line: number) => {
      io.stderr(`Line ${line} of ${log} is cut off in the middle; it is not on the page.\n`);
    };
    for await (const entries of core.readLog(open(), { onRead, onTorn })) entries.forEach(addEntry);
    grouping?.end().forEach(addPart);
  });
  if (pages.lines === mostLines && turns > mostLines)
    io.stderr(
      `The page ends at turn ${last}, after ${core.counted(mostLines, 'transaction')}: the log has ${core.counted(turns, 'transaction')}. Ask for others with --from and --to.\n`,
    );
  return pages.all;
}

/** Lines of a page, in blocks that are read one after the other. */
class Blocks {
  readonly #block: (lines: string) => string;
  readonly #done: string[] = [];
  #open: string[] = [];
  #size = 0;
  lines = 0;

  constructor(block: (lines: string) => string) {
    this.#block = block;
  }

  addLine(line: object): void {
    this.lines += 1;
    this.add(line);
  }

  add(entry: object): void {
    const text = JSON.stringify(entry);
    this.#open.push(text);
    this.#size += text.length;
    if (this.#size < blockSize) return;
    this.#done.push(this.#block(this.#open.join('\n')));
    [this.#open, this.#size] = [[], 0];
  }

  get all(): readonly string[] {
    const { length } = this.#open;
    return length === 0 ? this.#done : [...this.#done, this.#block(this.#open.join('\n'))];
  }
}
