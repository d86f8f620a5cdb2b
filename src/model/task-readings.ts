/** What can be read of a task: whether a run goes on, the payloads of runs, and those of starts that are set aside. */
export const readings = ['running', 'runs', 'waiting'] as const;
export type TaskReading = (typeof readings)[number];
