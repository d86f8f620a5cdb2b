import type { KeptScript } from '../searching.js';

/** What a script is to get to. */
export interface Goal {
  /** The action or the task that is to be done then; none if the steps that lead there are enough. */
  readonly name: string | undefined;
  /** What leads there, in levels: the actions and tasks that prepare it, then those that prepare these, and so on. */
  readonly levels: readonly (readonly string[])[];
  /** The script that came nearest to it; not known if not given. */
  readonly nearest?: KeptScript | undefined;
  /** Of a point that was reached: its place. */
  readonly point?: number;
}
