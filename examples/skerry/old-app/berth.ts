// The berth. Moved to the new stores.

import { terminal } from './session';
import { stores } from './stores';

const lastBerth = 0;

export const berthText = () => (stores.berth.value === 0 ? 'at sea' : `berth ${stores.berth.value}`);

export function moorAt(berth: number): void {
  stores.berth.moor(berth);
}

export const castOff = () => stores.berth.castOff();
