// Draws the page again when something has changed.

import { terminal } from './session';
import { describeCar } from './describe.js';
import { app } from './stores';

type Shown = 'windSpeed' | 'berth';

export function start(draw: () => void): () => void {
  const stops = [terminal.on('cars', draw), terminal.on('wind', draw)];
  const stopNew = app.whenChanged(() => app.stores.deck.freeM, draw);
  return () => {
    for (const stop of stops) stop();
    stopNew();
  };
}

/** One number of the terminal, by its name in the page. */
export function shown(name: Shown): string {
  return String(terminal[name]);
}

export const texts = () => terminal.cars.map((car) => describeCar(car));
