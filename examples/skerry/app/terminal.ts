import type { Outcome } from './stores/reducer/index.js';
import type { DeckAdmitPayload, Lane, Officer, Vehicle } from './stores/reducer/types.js';

/** What the screen shows of the terminal. */
export interface Shown {
  readonly waiting: readonly Vehicle[];
  readonly onBoard: readonly Vehicle[];
  readonly capacityM: number;
  readonly freeM: number;
  readonly hold: string | null;
  readonly boarding: boolean;
  readonly wind: number;
  readonly mood: string;
  readonly onWatch: string;
  readonly berth: number;
  readonly sailings: number;
}

/** What can be done at the terminal. */
export interface Deeds {
  admit(payload: DeckAdmitPayload): Outcome;
  board(id: string): Outcome;
  boardLane(lane: Lane): Outcome;
  turnAway(id: string): Outcome;
  /** Metres of deck, as they stand in the form. */
  stretch(metres: string): Outcome;
  depart(): Outcome;
  holdFor(reason: string | null): Outcome;
  measure(speed: number): Outcome;
  signIn(officer: Officer): Outcome;
  signOut(): Outcome;
  moor(berth: number): Outcome;
  castOff(): Outcome;
}

/** The terminal with its stores in one style: what the page needs of it. */
export interface Terminal {
  readonly deeds: Deeds;
  show(): Shown;
  /** Calls back for each value on the screen that changes, with its name. */
  watch(changed: (name: keyof Shown, now: unknown) => void): () => void;
}

/** What the stores ask for: ids that are the same in every style, so that the screens are. */
export function environment() {
  let vehicles = 0;
  return { newId: () => `v${(vehicles += 1)}`, now: () => 0 };
}
