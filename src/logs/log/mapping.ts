import { isObject, type Json } from '../../base/json.js';
import type {
  ExternalLog,
  ExternalLoggedAction,
  ExternalLoggedName,
} from '../../model/external.js';
import { isAnswer, type LoggedState, type LogLine } from './log-lines.js';

/** Turns what stands in a log into something else. */
export interface LineMapping {
  /** `undefined` for a line that is left out. */
  line(line: LogLine): LogLine | undefined;
  state(logged: LoggedState): LoggedState;
}

/** A mapping that threw, or gave what cannot be used. */
export class MappingError extends Error {}

type During = (call: () => unknown) => unknown;

type Reader = (old: unknown) => unknown;

/** Turns names and shapes of an old application's log into those of the schema. */
export class LogMapping implements LineMapping {
  readonly #log: ExternalLog;
  readonly #during: During;

  /** `during` calls code of the user's. */
  constructor(log: ExternalLog, during: During = (call) => call()) {
    this.#log = log;
    this.#during = during;
  }

  /** A line in the schema's names; `undefined` if it is of something that the schema does not have. */
  line(line: LogLine): LogLine | undefined {
    if (isAnswer(line)) return this.#answer(line);
    const of = this.#nameOf(line);
    if (of === null || of === undefined) return undefined;
    if (typeof of === 'string') return { ...line, do: of };
    const { is, payload, cancels = false } = of;
    return this.#withPayload(
      { ...line, do: is, ...(cancels && { kind: 'cancel' }) },
      line.do,
      payload as Reader | undefined,
    );
  }

  #withPayload(line: LogLine, name: string, payload: Reader | undefined): LogLine {
    // What a timer does later was given nothing.
    if (payload === undefined || line.by === 'timer') return line;
    const made = this.#asked(`actions.${name}.payload`, () => payload(line.payload));
    const { payload: _, ...rest } = line;
    return made === undefined ? rest : { ...line, payload: made as Json };
  }

  /** What was answered: by its operation, or by the name under which it was started. */
  #answer(line: LogLine): LogLine | undefined {
    const { do: name, operation = name, kind, payload } = line;
    const { answers = {}, actions } = this.#log;
    const of = Object.hasOwn(answers, operation) ? answers[operation] : {};
    const known = Object.hasOwn(actions, name) ? actions[name] : name;
    if (of === null || of === undefined || known === null) return undefined;
    const started = typeof known === 'object' ? known.is : known;
    const own = { ...line, do: typeof started === 'string' ? started : name };
    const part = kind === 'fail' || kind === 'retry' ? 'error' : 'result';
    const make = of[part];
    if (make === undefined) return own;
    const made = this.#asked(`answers.${operation}.${part}`, () => (make as Reader)(payload));
    const { payload: _, ...rest } = own;
    return made === undefined ? rest : { ...rest, payload: made as Json };
  }

  #nameOf(line: LogLine): ExternalLoggedName | undefined {
    const { actions } = this.#log;
    if (!Object.hasOwn(actions, line.do)) return line.do;
    const of = actions[line.do];
    if (typeof of !== 'function') return of;
    const given = this.#called(`actions.${line.do}`, () => (of as Reader)(line.payload));
    if (typeof given === 'string' || given === null) return given;
    if (isObject(given) && typeof given.is === 'string')
      return given as unknown as ExternalLoggedAction;
    throw new MappingError(
      `log.actions.${line.do} gives no name: an action or a task, { is, payload } or null is wanted`,
    );
  }

  /** What code of the user's gives, as JSON data: properties that are undefined are absent. */
  #asked(what: string, ask: () => unknown): unknown {
    return this.#called(what, () => {
      const given = ask();
      return given === undefined ? undefined : (JSON.parse(JSON.stringify(given)) as unknown);
    });
  }

  #called(what: string, call: () => unknown): unknown {
    try {
      return this.#during(call);
    } catch (error) {
      throw new MappingError(
        `log.${what} throws ${error instanceof Error ? error.message : String(error)}`,
      );
    }
  }

  /** The state of the schema's stores, of those fields that the mapping names. */
  state(old: LoggedState): LoggedState {
    const stores = Object.entries(this.#log.state).map(([store, of]): [string, unknown] => {
      if (typeof of === 'function')
        return [store, this.#asked(`state.${store}`, () => (of as Reader)(old))];
      const fields = Object.entries(of).map(([field, read]): [string, unknown] => [
        field,
        this.#asked(`state.${store}.${field}`, () => (read as Reader)(old)),
      ]);
      return [store, Object.fromEntries(fields)];
    });
    return Object.fromEntries(stores);
  }
}
