import type { Framework } from '../base/styles.js';

/** When payloads and stored values are judged. */
export const checkChoices = ['always', 'never'] as const;

/** When snapshots are frozen, for who makes the stores without saying so. */
export const guardChoices = ['development', 'always', 'never'] as const;

/** What stores begin with: their defaults, or a state that is given to `createStores`. */
export const beginChoices = ['defaults', 'state'] as const;

/** Whether each store and each part of the run time has a file, or all are in one. */
export const layouts = ['files', 'one-file'] as const;

/** What the output is written in: TypeScript, or JavaScript with declarations beside it. */
export const languages = ['ts', 'js'] as const;

/** What the output is to be like, apart from its style. */
export interface EmitOptions {
  /** `never` leaves out judging payloads and stored values: for callers whose types are enough. */
  readonly checks: (typeof checkChoices)[number];
  readonly guard: (typeof guardChoices)[number];
  readonly begin: (typeof beginChoices)[number];
  readonly layout: (typeof layouts)[number];
  readonly language: (typeof languages)[number];
  /** The frameworks whose components read the stores; a file for each. */
  readonly readers: readonly Framework[];
  /** True if `createStores` takes a sink that is given a line for each turn. */
  readonly log: boolean;
}

export const usualOptions: EmitOptions = {
  checks: 'always',
  guard: 'development',
  begin: 'defaults',
  layout: 'files',
  language: 'ts',
  readers: [],
  log: false,
};
