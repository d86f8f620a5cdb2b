/** The classes of what is observed of a participant. */
export const observables = [
  'outcome',
  'state',
  'derived',
  'notices',
  'tasks',
  'problems',
  'storage',
  'identity',
  'snapshots',
] as const;
export type ObservedClass = (typeof observables)[number];
