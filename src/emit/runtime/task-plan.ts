// What the schema says of a task, besides what it does.

/** A function of what a run was started with; how it reads the stores is up to the style. */
export type Ask = (...given: never[]) => unknown;

/** A task: what it calls, when, and what else goes on meanwhile. */
export interface TaskPlan {
  /** `office.sailingsOn`; none for a delay. */
  readonly operation?: string;
  /** What it is called with; the payload if not given. */
  readonly with?: Ask;
  /** Milliseconds before the call. */
  readonly wait?: number;
  readonly overlap?: 'latest' | 'first' | 'queue' | 'parallel';
  /** Runs whose values differ do not meet. */
  readonly per?: Ask;
  /** Milliseconds after which a call has failed. */
  readonly timeLimit?: number | Ask;
  readonly retry?: { readonly times: number; readonly wait?: number | Ask; readonly when?: Ask };
  /** Milliseconds from the end of a round to the next. */
  readonly every?: number | Ask;
  readonly auto?:
    'once' | { readonly follows: Ask; readonly first?: boolean } | { readonly while: Ask };
}
