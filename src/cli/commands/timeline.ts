import type { Argv } from 'yargs';
import type { Moment, TimelineFilter } from '../../core.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import { logFile, readingLog, type LogFile } from '../log-file.js';
import { writePage, type PageRequest } from '../timeline-page.js';

export const command = 'timeline [log]';
export const describe = 'Show what happened, transaction by transaction, from a log';

const options = {
  store: {
    describe: 'only these stores, and what changed them; several with commas',
    type: 'string',
    requiresArg: true,
  },
  action: {
    describe: 'only these actions and tasks, as deck.admit; several with commas',
    type: 'string',
    requiresArg: true,
  },
  field: {
    describe: 'only what changed this field, as deck.hold or deck.vehicles.3.plate',
    type: 'string',
    requiresArg: true,
  },
  problems: {
    describe: 'only what was refused, broke or failed',
    type: 'boolean',
    default: false,
  },
  at: {
    describe: 'show this turn in full: payload, changes, state, what is different at the end',
    type: 'number',
    requiresArg: true,
  },
  from: {
    describe: 'with --html: the first turn on the page',
    type: 'number',
    requiresArg: true,
  },
  to: { describe: 'with --html: the last turn on the page', type: 'number', requiresArg: true },
  html: {
    describe: 'write a page to this file, to walk through what happened',
    type: 'string',
    requiresArg: true,
  },
  live: {
    describe: 'with --html: the page listens to the application that has opened it or is beside it',
    type: 'boolean',
    default: false,
  },
  schema: {
    describe: 'for a script of compare: the schema whose stores do it, side by side on the page',
    type: 'string',
    requiresArg: true,
  },
  style: {
    describe:
      "with --schema: which generated stores; 'none' leaves the reference and those of --with",
    type: 'string',
    requiresArg: true,
    default: 'reducer,atom,proxy,observable',
  },
  generated: {
    describe: 'with --schema: the generated stores in this folder as they stand there',
    type: 'string',
    requiresArg: true,
  },
  with: {
    describe: 'with --schema: also the stores of this participant file',
    type: 'string',
    requiresArg: true,
  },
  json: { describe: 'print one JSON value', type: 'boolean', default: false },
} as const;

export function builder(yargs: Argv) {
  return yargs
    .positional('log', {
      describe: 'a log: JSON Lines; with --schema a script that compare saved',
      type: 'string',
    })
    .options(options)
    .example('$0 timeline morning.log.jsonl --problems', 'what went wrong')
    .example('$0 timeline morning.log.jsonl --field deck.hold', 'who changed a field, and when')
    .example('$0 timeline morning.log.jsonl --at 57', 'one transaction in full')
    .example('$0 timeline morning.log.jsonl --html morning.html', 'a page to walk through')
    .example('$0 timeline --live --html timeline.html', 'a page that listens to an application');
}

export interface TimelineArguments extends PageRequest {
  readonly store?: string | undefined;
  readonly action?: string | undefined;
  readonly field?: string | undefined;
  readonly problems: boolean;
  readonly at?: number | undefined;
  readonly html?: string | undefined;
  readonly json: boolean;
}

export async function run(io: Io, args: TimelineArguments): Promise<number> {
  requireSense(args);
  if (args.html !== undefined) return writePage(io, args.html, args);
  if (args.log === undefined)
    throw new Unusable(
      'No log given.',
      'Name one, for example: leeshore timeline morning.log.jsonl',
    );
  if (args.at !== undefined && (!Number.isInteger(args.at) || args.at < 1))
    throw new Unusable('--at takes the number of a turn.', 'For example --at 57.');
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
      ['store', 'action', 'field', 'problems', 'at', 'json'],
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
const filterIn = ({ store, action, field, problems }: TimelineArguments): TimelineFilter => ({
  stores: listIn(store),
  actions: listIn(action),
  field,
  problems,
});

/** Prints the rows as they are read, or one transaction in full. */
async function show(io: Io, args: TimelineArguments, log: LogFile): Promise<number> {
  const core = await import('../../core.js');
  const paint = paintFor(io);
  const writer = new core.TimelineJsonWriter(io.stdout, log.name);
  const printsRows = !args.json && args.at === undefined;
  const timeline = new core.Timeline(filterIn(args), {
    at: args.at,
    onRow: (row) => {
      if (args.json) writer.row(row);
      else if (printsRows) {
        if (timeline.shown === 1) io.print(`${core.timelineHead(paint)}\n`);
        io.print(`${core.timelineRow(row, paint)}\n`);
      }
    },
  });
  let torn: number | undefined;
  const moment = await readingLog(io, log, 'reading', async (open, { onRead, isStopped }) => {
    const reading = { onRead, onTorn: (line: number) => void (torn = line) };
    for await (const entries of core.readLog(open(), reading)) {
      timeline.add(entries);
      if (isStopped()) break;
    }
    return timeline.end();
  });
  requireMoment(args, log, timeline.count, moment);
  if (args.json) {
    writer.end(timeline.sessions, timeline.count, moment);
  } else if (moment !== undefined) io.print(`${core.momentText(moment, paint)}\n`);
  else {
    const { shown, count } = timeline;
    const all = core.counted(count, 'transaction');
    const text = shown === count ? `${all}.` : `${shown} of ${all}.`;
    io.note(`\n${paint.dim(text)}\n`);
  }
  if (torn !== undefined)
    io.stderr(`${paint.yellow(`Line ${torn} is cut off in the middle; it is not shown.`)}\n`);
  return exitCodes.fine;
}

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
