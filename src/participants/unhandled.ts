import { AsyncLocalStorage } from 'node:async_hooks';
import { thrownText } from '../base/thrown-text.js';
import type { Leak } from '../model/participant.js';
import type { SentRun } from './sent-runs.js';

/** The real clock: code of the user's may be given another. */
const now = performance.now.bind(performance);

/** Which action of which run set something off. */
interface Cause {
  readonly run: SentRun;
  /** How many actions the run had been sent by then. */
  readonly sent: number;
  readonly since: number;
}

/**
 * What the code of a participant left unhandled in this thread: rejected promises, and exceptions of timers and
 * microtasks. Each belongs to the action that set it off, however late it comes.
 */
class Unhandled {
  readonly #causes = new AsyncLocalStorage<Cause>();
  readonly #leaks: Leak[] = [];
  #last: Cause = { run: [], sent: 0, since: 0 };
  #isListening = false;

  /** Calls code of the participant, as part of the last action that the run was sent. */
  during<T>(run: SentRun, call: () => T): T {
    this.#listen();
    this.#last = { run, sent: run.length, since: now() };
    return this.#causes.run(this.#last, call);
  }

  /** Notes what code of the participant has thrown where nobody catches it. */
  note(thrown: unknown): void {
    this.#note(thrown, this.#causes.getStore());
  }

  /** What has come since last time. */
  take(): readonly Leak[] {
    return this.#leaks.splice(0);
  }

  #listen(): void {
    if (this.#isListening) return;
    this.#isListening = true;
    process.on('unhandledRejection', (reason) => {
      this.#note(reason, this.#causes.getStore());
    });
    process.on('uncaughtException', (error) => {
      this.#note(error, this.#causes.getStore());
    });
    // The engine does not say whose microtask has thrown.
    const enqueue = globalThis.queueMicrotask;
    globalThis.queueMicrotask = (task) => {
      const cause = this.#causes.getStore();
      enqueue(() => {
        try {
          task();
        } catch (error) {
          this.#note(error, cause);
        }
      });
    };
  }

  #note(thrown: unknown, { run, sent, since }: Cause = this.#last): void {
    this.#leaks.push({
      text: thrownText(thrown),
      steps: run.slice(0, sent),
      afterMs: now() - since,
    });
  }
}

/** One for each thread: so are the events that it listens to. */
export const unhandled = new Unhandled();
