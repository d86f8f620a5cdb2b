/** The part of the ferry deck that the hand-written stores of the benchmark have. */
export interface Vehicle {
  readonly id: string;
  readonly plate: string;
  readonly lengthM: number;
  readonly lane: 'port' | 'centre' | 'starboard';
  readonly boarded: boolean;
}

export interface Deck {
  readonly vehicles: readonly Vehicle[];
  readonly capacityM: number;
  readonly byLane: Readonly<Record<string, number>>;
}

export type Admitted = Pick<Vehicle, 'plate' | 'lengthM' | 'lane'>;

export const start: Deck = { vehicles: [], capacityM: 240, byLane: {} };

/** What is wrong with a payload, as an expert would check it by hand; `undefined` if nothing is. */
export function isAdmitted(payload: Admitted): boolean {
  return (
    typeof payload.plate === 'string' &&
    payload.plate.length >= 1 &&
    payload.plate.length <= 10 &&
    payload.lengthM > 0 &&
    payload.lengthM <= 30 &&
    (payload.lane === 'port' || payload.lane === 'centre' || payload.lane === 'starboard')
  );
}

/** What every hand-written store offers to the benchmark. */
export interface ByHand {
  admit(payload: Admitted): boolean;
  setCapacity(metres: number): boolean;
  freeM(): number;
  watchFree(changed: (metres: number) => void): void;
}
