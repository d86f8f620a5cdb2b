/** The car deck of the benchmark, as the hand-written stores keep it; the schema beside it says the same. */
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

/** Whether a payload is as it should be, as an expert would check it by hand. */
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

export const usedIn = (vehicles: readonly Vehicle[]): number =>
  vehicles.reduce((total, vehicle) => (vehicle.boarded ? total + vehicle.lengthM : total), 0);

/** What every store of the benchmark offers, whoever wrote it; an action tells whether it was done. */
export interface DeckStore {
  admit(payload: Admitted): boolean;
  /** On board, or back into its lane. */
  turn(id: string): boolean;
  leave(id: string): boolean;
  setCapacity(metres: number): boolean;
  vehicles(): readonly Vehicle[];
  freeM(): number;
  /** Calls back after each change; returns what stops it. */
  watchFree(changed: (metres: number) => void): () => void;
}
