import type { Compared, SearchOptions, Executor } from '../comparing/index.js';

/** An executor that is ready to work, with what it compares. */
export interface ReadyExecutor {
  readonly executor: Executor;
  readonly compared: Compared;
  readonly close: () => Promise<void>;
}

/** What an executor needs to know of a search. */
export type ExecutorOptions = Pick<SearchOptions, 'clock' | 'until' | 'isStopped'> & {
  readonly jobs?: number;
  readonly patience?: number;
};
