// Boarding: one car, a whole lane, and the end of it.

import terminal from './session';

const { driveOnAll, ...rest } = terminal;
const old = terminal;

export function board(number: string, plate?: string): boolean {
  if (plate !== undefined) old.setPlate(number, plate);
  return old.driveOn(number);
}

export const boardLane = (lane: 'port' | 'centre' | 'starboard') => driveOnAll.call(terminal, lane);

export function stopBoarding(why: string): void {
  const { onHold } = terminal;
  if (onHold === null) terminal['hold'](why);
}

export function state(): string {
  return old.canBoard() ? 'boarding' : `no boarding, ${rest.onHold ?? 'wait'}`;
}

/** The office corrects the deck by hand. */
export function correct(): void {
  terminal.capacity -= 12;
  terminal.cars.length = 0;
  terminal.lanes.metres.clear();
}
