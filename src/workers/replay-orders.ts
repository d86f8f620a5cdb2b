import type { Searching } from '../comparing/index.js';
import { LoadError, plainValue, type SharedWatchdog } from '../participants/index.js';
import {
  InconsistentLog,
  MappingError,
  playSideBySide,
  type Replay,
  type ReplayResult,
} from '../logs/index.js';
import type { Answer, LogProblem, ReplayOrder } from './messages.js';
import { replayOf } from './replay-request.js';

/** The orders of a worker that does a log again, or a script side by side. */
export class ReplayOrders {
  readonly #searching: Searching;
  readonly #watchdog: SharedWatchdog;
  #replay: Replay | undefined;

  constructor(searching: Searching, watchdog: SharedWatchdog) {
    this.#searching = searching;
    this.#watchdog = watchdog;
  }

  async do(order: ReplayOrder): Promise<Answer> {
    const { application, participants } = this.#searching;
    if (order.kind === 'play') {
      const played = await playSideBySide(application, participants, order.script);
      return { kind: 'played', played: JSON.parse(JSON.stringify(plainValue(played))) as never };
    }
    try {
      const result = await this.#replayed(order);
      return {
        kind: 'replayed',
        isOver: this.#replay?.isOver === true,
        ...(result && { result: sendable(result) }),
      };
    } catch (error) {
      if (error instanceof LoadError)
        return { kind: 'unusable', path: error.path, detail: error.detail };
      return { kind: 'replayed', isOver: true, problem: problemOf(error) };
    }
  }

  async #replayed(
    order: Exclude<ReplayOrder, { readonly kind: 'play' }>,
  ): Promise<ReplayResult | undefined> {
    const { application, participants } = this.#searching;
    if (order.kind === 'begin')
      this.#replay = await replayOf(
        application,
        participants,
        order.request,
        (line) => {
          this.#watchdog.line = line;
        },
        this.#watchdog,
      );
    else if (order.kind === 'feed') await this.#replay?.feed(order.entries);
    else return this.#replay?.end();
    return undefined;
  }
}

/** What is wrong with a log, as it can be sent. Throws anything else again. */
function problemOf(error: unknown): LogProblem {
  if (error instanceof InconsistentLog) return { number: error.number, message: error.message };
  if (error instanceof MappingError) return { message: error.message };
  throw error;
}

/** What a participant showed may be anything: what cannot be sent is named. */
function sendable(result: ReplayResult): ReplayResult {
  const participants = result.participants.map((one) => ({
    ...one,
    mismatches: one.mismatches.map((found) => ({
      ...found,
      first: {
        ...found.first,
        logged: plainValue(found.first.logged),
        shown: plainValue(found.first.shown),
      },
    })),
  }));
  return { ...result, participants };
}
