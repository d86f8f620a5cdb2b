// The report at the end of a crossing.

import type { Car, Terminal } from '../old/terminal';

export type Lane = Car['lane'];

export interface Report {
  readonly cars: readonly Pick<Car, 'plate' | 'metres'>[];
  readonly hold: Terminal['onHold'];
}

export async function report(): Promise<Report> {
  const { terminal } = await import('./session');
  return { cars: terminal.cars, hold: terminal.onHold };
}

export const metres = (report: Report) => report.cars.reduce((sum, { metres: own }) => sum + own, 0);
