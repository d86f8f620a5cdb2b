// Begins the log of the stores of an application.
import { handOver, type Engine } from './engine.js';
import { Log, type LoggedSchema, type LoggingOptions, type LogKind, type LogMask } from './log.js';

/** The log of an application: there once it has begun, if there is where to write it. */
export class Logging {
  log: Log | undefined;

  /** Begins with the state that `read` gives, once all stores are made. `mask` takes the secrets out of its lines. */
  begin(
    engine: Engine,
    options: LoggingOptions,
    schema: LoggedSchema,
    read: () => object,
    mask?: LogMask,
  ): void {
    if (options.log === undefined) return;
    const { turns, watchers } = engine;
    const onProblem = (error: unknown): void => {
      turns.report({ kind: 'watcher', at: 'log', error });
    };
    const log = new Log(options.log, schema, { read, onProblem }, mask);
    const { does } = turns;
    turns.does = (name, payload) => {
      does?.(name, payload);
      const at = name.lastIndexOf('.');
      log.did = { type: name.slice(0, at), kind: name.slice(at + 1) as LogKind };
    };
    turns.log = this.log = log;
    watchers.notified = (name) => {
      log.notified(name);
    };
    handOver(engine, {
      begin: () => {
        log.again();
      },
      close: () => {
        log.close();
      },
    });
  }
}
