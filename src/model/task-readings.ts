/** The readings of a task: true while it runs, the payloads of runs, and those of starts that are set aside. */
export const readings = ['running', 'runs', 'waiting'] as const;
export type TaskReading = (typeof readings)[number];
