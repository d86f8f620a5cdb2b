import type { LoggedState, LogLine } from '../log/log-lines.js';
import type { Moment, TimelineRow } from '../log/timeline.js';

/** A timeline as one JSON value, as `schema/timeline-1.schema.json` says. */
export interface TimelineJson {
  readonly leeshoreTimeline: 1;
  readonly log: string;
  readonly sessions: number;
  /** How many transactions there are in all. */
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

export const rowToJson = ({ line, turn, number, depth }: TimelineRow): TimelineRowJson => ({
  ...line,
  turn,
  line: number,
  depth,
});

export function timelineToJson(
  log: string,
  sessions: number,
  count: number,
  rows: readonly TimelineRow[],
  moment: Moment | undefined,
): TimelineJson {
  return {
    leeshoreTimeline: 1,
    log,
    sessions,
    count,
    rows: rows.map(rowToJson),
    moment:
      moment === undefined
        ? null
        : {
            turn: moment.row.turn,
            before: moment.before ?? null,
            after: moment.after ?? null,
            end: moment.end ?? null,
            caused: moment.caused.map(({ turn }) => turn),
          },
  };
}
