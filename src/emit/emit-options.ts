/** When payloads and stored values are judged. */
export const checkChoices = ['always', 'never'] as const;

/** When snapshots are frozen, for who makes the stores without saying so. */
export const guardChoices = ['development', 'always', 'never'] as const;

/** What the output is to be like, apart from its style. */
export interface EmitOptions {
  /** `never` leaves out judging payloads and stored values: for callers whose types are enough. */
  readonly checks: (typeof checkChoices)[number];
  readonly guard: (typeof guardChoices)[number];
}

export const usualOptions: EmitOptions = { checks: 'always', guard: 'development' };
