import type { Json } from '../base/json.js';
import type { BroughtLog } from '../model/brought.js';
import type { LoggedState, LogLine } from './log-lines.js';

/** Turns what stands in a log into something else. */
export interface LineMapping {
  /** `undefined` for a line that is left out. */
  line(line: LogLine): LogLine | undefined;
  state(logged: LoggedState): LoggedState;
}

/** A mapping that threw, or gave what cannot be used. */
export class MappingError extends Error {}

type Reader = (old: unknown) => unknown;

/** Turns names and shapes of an old application's log into those of the schema. */
export class LogMapping implements LineMapping {
  readonly #log: BroughtLog;

  constructor(log: BroughtLog) {
    this.#log = log;
  }

  /** A line in the schema's names; `undefined` if it is of something that the schema does not have. */
  line(line: LogLine): LogLine | undefined {
    const of = Object.hasOwn(this.#log.actions, line.do) ? this.#log.actions[line.do] : line.do;
    if (of === null || of === undefined) return undefined;
    if (typeof of === 'string') return { ...line, do: of };
    const { is, payload } = of;
    if (payload === undefined) return { ...line, do: is };
    const made = asked(`actions.${line.do}.payload`, () => (payload as Reader)(line.payload));
    const { payload: _, ...rest } = line;
    return made === undefined ? { ...rest, do: is } : { ...line, do: is, payload: made as Json };
  }

  /** The state of the schema's stores, of those fields that the mapping names. */
  state(old: LoggedState): LoggedState {
    const stores = Object.entries(this.#log.state).map(([store, of]): [string, unknown] => {
      if (typeof of === 'function')
        return [store, asked(`state.${store}`, () => (of as Reader)(old))];
      const fields = Object.entries(of).map(([field, read]): [string, unknown] => [
        field,
        asked(`state.${store}.${field}`, () => (read as Reader)(old)),
      ]);
      return [store, Object.fromEntries(fields)];
    });
    return Object.fromEntries(stores);
  }
}

function asked(what: string, ask: () => unknown): unknown {
  try {
    const given = ask();
    // Properties that are undefined are absent.
    return given === undefined ? undefined : (JSON.parse(JSON.stringify(given)) as unknown);
  } catch (error) {
    throw new MappingError(
      `log.${what} throws ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}
