import type { LoggedState, LogLine } from '../log/log-lines.js';
import type { Moment, TimelineRow } from '../log/timeline.js';

/** A timeline as one JSON value, as `schema/timeline-1.schema.json` says. */
export interface TimelineJson {
  readonly leeshoreTimeline: 1;
  readonly log: string;
  readonly sessions: number;
  /** The number of transactions in all. */
  readonly count: number;
  readonly rows: readonly TimelineRowJson[];
  /** The one that is seen in full; null if none is asked for. */
  readonly moment: {
    readonly turn: number;
    readonly before: LoggedState | null;
    readonly after: LoggedState | null;
    readonly end: LoggedState | null;
    readonly caused: readonly number[];
  } | null;
}

export type TimelineRowJson = LogLine & {
  readonly turn: number;
  /** The line in the file, from 1. */
  readonly line: number;
  readonly depth: number;
};

const rowToJson = ({ line, turn, number, depth }: TimelineRow): TimelineRowJson => ({
  ...line,
  turn,
  line: number,
  depth,
});

/** Writes a timeline as JSON while it is read: a log may be longer than what memory holds. */
export class TimelineJsonWriter {
  readonly #write: (text: string) => void;
  readonly #log: string;
  #rows = 0;

  constructor(write: (text: string) => void, log: string) {
    this.#write = write;
    this.#log = log;
  }

  row(row: TimelineRow): void {
    this.#write(`${this.#rows === 0 ? this.#head() : ','}\n    ${JSON.stringify(rowToJson(row))}`);
    this.#rows += 1;
  }

  end(sessions: number, count: number, moment: Moment | undefined): void {
    const rest = JSON.stringify({ sessions, count, moment: momentToJson(moment) }, null, 2);
    const rows = this.#rows === 0 ? `${this.#head()}]` : '\n  ]';
    this.#write(`${rows},${rest.slice(1)}\n`);
  }

  #head(): string {
    return `{\n  "leeshoreTimeline": 1,\n  "log": ${JSON.stringify(this.#log)},\n  "rows": [`;
  }
}

const momentToJson = (moment: Moment | undefined): TimelineJson['moment'] =>
  moment === undefined
    ? null
    : {
        turn: moment.row.turn,
        before: moment.before ?? null,
        after: moment.after ?? null,
        end: moment.end ?? null,
        caused: moment.caused.map(({ turn }) => turn),
      };
