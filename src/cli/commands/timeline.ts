import type { Argv } from 'yargs';
import type { Moment, Timeline, TimelineFilter, TimelineRow } from '../../core.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import { logFile, readingLog, type LogFile } from '../log-file.js';
import { writePage } from '../timeline-page.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'timeline [log]';
export const describe = 'Show what happened, transaction by transaction, from a log';

export function builder(yargs: Argv) {
  return yargs
    .positional('log', {
      describe: 'a log: JSON Lines; with --schema a script that compare saved',
      type: 'string',
    })
    .example('$0 timeline morning.log.jsonl --failed', 'what went wrong')
    .example('$0 timeline morning.log.jsonl --field deck.hold', 'who changed a field, and when')
    .example('$0 timeline morning.log.jsonl --at 57', 'one transaction in full')
    .example('$0 timeline morning.log.jsonl --html morning.html', 'a page to walk through')
    .example('$0 timeline --live --html timeline.html', 'a page that listens to an application');
}

export type TimelineArguments = ArgumentsOf<'timeline'> & { readonly log?: string | undefined };

export async function run(io: Io, args: TimelineArguments): Promise<number> {
  requireSense(args);
  if (args.html !== undefined) return writePage(io, args.html, args);
  if (args.log === undefined)
    throw new Unusable(
      'No log given.',
      'Name one, for example: leeshore timeline morning.log.jsonl',
    );
  if (args.log.endsWith('.json'))
    throw new Unusable(
      `${args.log} is a script, not a log.`,
      'A script is shown as a page: --html FILE --schema FILE.',
    );
  return show(io, args, logFile(io, args.log));
}

/** Refuses options that would do nothing. Throws {@link Unusable}. */
function requireSense(args: TimelineArguments): void {
  const { html, log, live } = args;
  if (live && html === undefined)
    throw new Unusable('--live is for a page.', 'For example --live --html timeline.html.');
  if (html !== undefined)
    refuse(
      args,
      ['store', 'action', 'field', 'failed', 'at', 'json'],
      'is not for a page',
      'The page itself can filter: leave it out, or leave out --html.',
    );
  if (html === undefined || log === undefined || log.endsWith('.json'))
    refuse(args, ['from', 'to'], 'is for the page of a log', 'For example --html page.html.');
  if (html === undefined || log?.endsWith('.json') !== true)
    refuse(
      args,
      ['schema', 'generated', 'with'],
      'is for the page of a script',
      'For example: leeshore timeline found.json --schema ferry.stores.yaml --html found.html',
    );
}

function refuse(
  args: TimelineArguments,
  names: readonly (keyof TimelineArguments)[],
  why: string,
  wayOut: string,
): void {
  for (const name of names)
    if (args[name] !== undefined && args[name] !== false)
      throw new Unusable(`--${name} ${why}.`, wayOut);
}

const listIn = (text: string | undefined): readonly string[] | undefined =>
  text?.split(',').map((name) => name.trim());

/** What is wanted of the log. */
const filterIn = ({ store, action, field, failed }: TimelineArguments): TimelineFilter => ({
  stores: listIn(store),
  actions: listIn(action),
  field,
  failed,
});

/** Prints what it comes to and the rows, or one transaction in full. The log is read twice for that: it may be long. */
async function show(io: Io, args: TimelineArguments, log: LogFile): Promise<number> {
  const core = await import('../../core.js');
  const paint = paintFor(io);
  const filter = filterIn(args);
  const counted = new core.Timeline(filter, { at: args.at });
  const { moment, torn } = await readAll(io, log, counted);
  requireKnown(filter, counted, log);
  requireMoment(args, log, counted.count, moment);
  if (args.json) {
    const writer = new core.TimelineJsonWriter(io.stdout, log.name);
    const written = new core.Timeline(filter, {
      onRow: (row) => {
        writer.row(row);
      },
    });
    await readAll(io, log, written);
    writer.end(counted.sessions, counted.count, moment);
  } else if (counted.count === 0) io.print('nothing to show: the log has no transactions\n');
  else if (moment !== undefined) io.print(`${core.momentText(moment, paint)}\n`);
  else {
    io.print(`${paint.bold(core.timelineAnswer(counted))}\n`);
    if (counted.shown > 0) io.print(`\n${core.timelineHead(paint)}\n`);
    const onRow = (row: TimelineRow) => {
      io.print(`${core.timelineRow(row, paint)}\n`);
    };
    await readAll(io, log, new core.Timeline(filter, { onRow }));
  }
  if (torn !== undefined)
    io.stderr(`${paint.yellow(`Line ${torn} is cut off in the middle; it is not shown.`)}\n`);
  return counted.count === 0 ? exitCodes.findings : exitCodes.fine;
}

/** Reads a log to its end, or until the user has enough: the transaction that was to be seen in full, and a line that is cut off. */
async function readAll(io: Io, log: LogFile, timeline: Timeline) {
  const { readLog } = await import('../../core.js');
  let torn: number | undefined;
  const moment = await readingLog(io, log, 'reading', async (open, { onRead, isStopped }) => {
    const reading = { onRead, onTorn: (line: number) => void (torn = line) };
    for await (const entries of readLog(open(), reading)) {
      timeline.add(entries);
      if (isStopped()) break;
    }
    return timeline.end();
  });
  return { moment, torn };
}

/** Refuses stores and actions that the log does not have. Throws {@link Unusable}. */
function requireKnown(
  { stores = [], actions = [] }: TimelineFilter,
  timeline: Timeline,
  { name }: LogFile,
): void {
  for (const [what, wanted, known] of [
    ['store', stores, timeline.stores],
    ['action or task', actions, timeline.actions],
  ] as const) {
    const odd = wanted.find((one) => !known.has(one));
    if (odd !== undefined && timeline.count > 0)
      throw new Unusable(
        `${name} has no ${what} '${odd}'.`,
        `It has: ${[...known].slice(0, mostNamed).join(', ')}${known.size > mostNamed ? ', ...' : ''}.`,
      );
  }
}

/** The number of names that are told. */
const mostNamed = 20;

function requireMoment(
  { at }: TimelineArguments,
  { name }: LogFile,
  count: number,
  moment: Moment | undefined,
): void {
  if (at === undefined || moment !== undefined) return;
  throw new Unusable(
    `${name} has no turn ${at}.`,
    `It has ${count} ${count === 1 ? 'transaction' : 'transactions'}.`,
  );
}
