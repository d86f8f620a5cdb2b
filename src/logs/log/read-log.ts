import { judgeEntry } from './judge-entry.js';
import type { LogHead, LogLine } from './log-lines.js';

/** An entry of a log, with the number of its line in the file, from 1. */
export interface NumberedEntry {
  readonly line: number;
  readonly entry: LogHead | LogLine;
}

/** A line of a log that cannot be read. */
export class LogError extends Error {
  constructor(
    readonly line: number,
    /** From 1. */
    readonly column: number,
    readonly detail: string,
  ) {
    super(detail);
  }
}

/** What was read of a log: told as it is read. */
export interface LogReading {
  /** The number of characters that were read. */
  onRead?: (characters: number) => void;
  /** The last line was cut off in the middle: the program that wrote it ended there. */
  onTorn?: (line: number) => void;
}

/**
 * Reads a log, chunk by chunk. An empty line is passed over, and so is a last line without an end that is no whole JSON
 * text. Throws {@link LogError}.
 */
export async function* readLog(
  chunks: AsyncIterable<string> | Iterable<string>,
  { onRead, onTorn }: LogReading = {},
): AsyncGenerator<readonly NumberedEntry[]> {
  let rest = '';
  let line = 0;
  for await (const chunk of chunks) {
    onRead?.(chunk.length);
    const texts = (rest === '' ? chunk : rest + chunk).split('\n');
    rest = texts.pop() ?? '';
    const entries: NumberedEntry[] = [];
    for (const text of texts) {
      line += 1;
      const entry = entryIn(line === 1 ? text.replace(/^\uFEFF/, '') : text, line);
      if (entry !== undefined) entries.push({ line, entry });
    }
    if (entries.length > 0) yield entries;
  }
  line += 1;
  if (line === 1) rest = rest.replace(/^\uFEFF/, '');
  let last: LogHead | LogLine | undefined;
  try {
    last = entryIn(rest, line);
  } catch (error) {
    if (!(error instanceof LogError) || !error.detail.startsWith(notJson)) throw error;
    onTorn?.(line);
  }
  if (last !== undefined) yield [{ line, entry: last }];
}

const notJson = 'it is not valid JSON';

function entryIn(text: string, line: number): LogHead | LogLine | undefined {
  if (text.trim() === '') return undefined;
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    const message = (error as Error).message;
    const [, place = '0'] = /position (\d+)/.exec(message) ?? [];
    const at = /position/.test(message) ? Number(place) : text.length;
    throw new LogError(line, at + 1, `${notJson}: ${message.replace(/ in JSON.*$/s, '')}`);
  }
  const entry = judgeEntry(value);
  if (typeof entry === 'string') throw new LogError(line, 1, entry);
  return entry;
}
