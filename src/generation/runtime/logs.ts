// Sinks: what keeps the lines of a log.
import type { LogHead, LogLine, LogSink } from './log.js';
import type { Change } from './patch.js';

export type LogEntry = LogHead | LogLine;

/** The lines of a log as text: JSON Lines. */
export const textOfLog = (entries: readonly LogEntry[]): string =>
  entries.map((entry) => `${JSON.stringify(entry)}\n`).join('');

/** A log in memory. */
export interface MemoryLog extends LogSink {
  /** The head and the newest lines. The head holds the state that they begin from. */
  readonly entries: () => readonly LogEntry[];
  /** The same as text, to be written to a file whose name ends in `.log.jsonl`. */
  readonly text: () => string;
}

/**
 * Keeps the newest lines in memory, `limit` of them, or up to a tenth more; all if not given. When old lines go, what is
 * left begins at a line that holds the whole state.
 */
export function memoryLog({
  limit = Infinity,
  ...sink
}: LogOptions & { limit?: number } = {}): MemoryLog {
  const every = sink.every ?? Math.max(1, Math.min(1000, Math.floor(limit / 10)));
  let head: LogHead | undefined;
  let lines: LogLine[] = [];
  /** What gives the changes of the newest lines, by their place. */
  let later = new Map<LogLine, () => readonly Change[]>();
  const takeChanges = (): void => {
    for (const [line, changes] of later) Object.assign(line, { changes: changes() });
    later = new Map();
  };
  const entries = (): LogEntry[] => {
    takeChanges();
    return head === undefined ? lines : [head, ...lines];
  };
  return {
    ...sink,
    every,
    takesChangesLater: true,
    write(entry, changes) {
      if ('leeshoreLog' in entry) {
        head = entry;
        lines = [];
        later.clear();
        return;
      }
      lines.push(entry);
      if (changes !== undefined) later.set(entry, changes);
      // The states between which changes are found are kept as long as that is open.
      if (later.size > mostLater) takeChanges();
      if (lines.length < limit + every) return;
      const first = lines.findIndex(({ state }, i) => state !== undefined && i >= every - 1);
      const { state } = lines[first] as LogLine;
      if (head !== undefined && state !== undefined) head = { ...head, state };
      for (const line of lines.slice(0, first + 1)) later.delete(line);
      lines = lines.slice(first + 1);
    },
    entries,
    text: () => textOfLog(entries()),
  };
}

/** The number of lines that may be without their changes. */
const mostLater = 2000;

/** What a sink may be told besides. */
export type LogOptions = Omit<LogSink, 'write' | 'takesChangesLater'>;

/** What browsers, or Node, have; whatever types of theirs the compiler knows. */
interface Platform {
  readonly console: { log(...of: readonly unknown[]): void };
  readonly process?: { getBuiltinModule?(name: string): unknown };
  readonly document?: { createElement(name: string): Anchor };
  readonly Blob: new (parts: readonly string[], options: { readonly type: string }) => object;
  readonly URL: { createObjectURL(blob: object): string; revokeObjectURL(url: string): void };
  readonly BroadcastChannel?: new (name: string) => Channel;
}

interface Anchor {
  href: string;
  download: string;
  click(): void;
}

interface FileSystem {
  appendFileSync(path: string, text: string): void;
}

const platform = globalThis as unknown as Platform;

/** Writes each line to the console: what was done, and with it the line itself, to be opened. */
export const consoleLog = (options: LogOptions = {}): LogSink => ({
  ...options,
  write(entry) {
    if ('leeshoreLog' in entry) platform.console.log('log begins', entry);
    else platform.console.log(`${entry.turn} ${entry.kind} ${entry.do}: ${entry.outcome}`, entry);
  },
});

/** Offers the lines of a memory log as a download, in a browser. */
export function downloadLog(log: MemoryLog, name = 'session.log.jsonl'): void {
  const link = platform.document?.createElement('a');
  if (link === undefined) throw new Error('There is no document to download from.');
  const url = platform.URL.createObjectURL(
    new platform.Blob([log.text()], { type: 'application/jsonl' }),
  );
  link.href = url;
  link.download = name;
  link.click();
  platform.URL.revokeObjectURL(url);
}

/**
 * Appends each line to a file as it comes, in Node (20.16 or newer). Another session in the same file begins with a head of
 * its own. The folder must exist.
 */
export function fileLog(path: string, options: LogOptions = {}): LogSink {
  const files = platform.process?.getBuiltinModule?.('node:fs') as FileSystem | undefined;
  if (files === undefined) throw new Error('Logs are written to files by Node 20.16 or newer.');
  return {
    ...options,
    write(entry) {
      files.appendFileSync(path, textOfLog([entry]));
    },
  };
}

/** A channel between pages: a `BroadcastChannel`, or a `MessagePort`. */
export interface Channel {
  /** Is set to what takes messages; channels differ in what they say of its type. */
  onmessage: unknown;
  postMessage(message: unknown): void;
  /** In Node, a channel keeps the process alive without this. */
  unref?(): unknown;
}

/** The channel that the timeline page listens to, unless it is told of another. */
export const liveChannel = 'leeshore-timeline';

/**
 * Sends each line to a timeline page that is open on the same origin, or that has the other end of `channel`. A page
 * that comes later asks for the lines so far; `limit` of them are kept, 10,000 if not given.
 */
export function liveLog({
  channel,
  limit = 10_000,
  ...options
}: LogOptions & { readonly channel?: Channel; readonly limit?: number } = {}): LogSink {
  const { BroadcastChannel } = platform;
  if (channel === undefined && BroadcastChannel === undefined)
    throw new Error('There is no BroadcastChannel here: give a channel.');
  const port =
    channel ?? new (BroadcastChannel as NonNullable<typeof BroadcastChannel>)(liveChannel);
  const kept = memoryLog({ ...options, limit });
  port.onmessage = ({ data }: { readonly data: unknown }) => {
    if ((data as { readonly asks?: unknown } | null)?.asks === 'backlog')
      port.postMessage({ backlog: kept.entries() });
  };
  port.unref?.();
  return {
    ...kept,
    takesChangesLater: false,
    write(entry) {
      kept.write(entry);
      port.postMessage({ entry });
      // Other stores may send on the same channel from now on.
      if ('kind' in entry && entry.kind === 'close') port.onmessage = null;
    },
  };
}

/** Hands each line to several sinks. Whole states come as often as the first wants them. */
export const allLogs = (...sinks: readonly [LogSink, ...LogSink[]]): LogSink => ({
  ...sinks[0],
  takesChangesLater: false,
  write(entry) {
    for (const sink of sinks) sink.write(entry);
  },
});
