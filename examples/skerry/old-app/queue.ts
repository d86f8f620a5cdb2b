// The list of waiting cars.

import { ferry, type Car } from './index';

export function waitingCars(): Car[] {
  return ferry.cars.filter((car) => car.state === 'waiting');
}

export function label({ plate, metres, lane }: Car): string {
  return `${plate} · ${metres} m · ${lane}`;
}

export function longest(): Car | undefined {
  return [...ferry.cars].sort((a, b) => b.metres - a.metres)[0];
}

export function sendAway(number: string): void {
  if (!ferry.sendAway(number)) alert('This car is aboard already.');
}
