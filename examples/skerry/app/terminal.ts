import type { Outcome } from './stores/reducer/index.js';
import { harbourServices, type Manner } from './office.js';
import type { Crossing, Day, DeckAdmitPayload, Lane, Officer, Vehicle } from './stores/reducer/types.js';

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
  readonly day: Day | null;
  readonly crossings: readonly Crossing[];
  /** What the timetable says of itself: loading, a problem, how many crossings. */
  readonly line: string;
  readonly loading: boolean;
  readonly notice: string | null;
  /** The lanes that go on board next, in this order. */
  readonly called: readonly Lane[];
  readonly planNote: string;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly largeType: boolean;
  readonly firstLane: Lane;
  /** What all on board pay; null until the tariff desk is open. */
  readonly due: number | null;
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
  load(day: Day): Outcome;
  cancelLoad(): Outcome;
  callLane(lane: Lane): Outcome;
  write(note: string): Outcome;
  undo(): Outcome;
  redo(): Outcome;
  enlarge(): Outcome;
  preferLane(lane: Lane): Outcome;
  /** Loads the code of the tariff desk, if it is not there, and attaches its store. */
  openTariff(): Promise<Outcome>;
  /** A metre costs more. */
  raise(): Outcome;
}

/** What becomes of what is asked of the tariff desk before it is open. */
export const closedDesk: Outcome = { status: 'refused', reason: 'The tariff desk is closed.' };

/** The terminal with its stores in one style: what the page needs of it. */
export interface Terminal {
  readonly deeds: Deeds;
  show(): Shown;
  /** Calls back for each value on the screen that changes, with its name. */
  watch(changed: (name: keyof Shown, now: unknown) => void): () => void;
  /** Nobody needs it any more: what is under way is abandoned. */
  close(): void;
}

/** What the stores ask for: ids that are the same in every style, so that the screens are, and the harbour's services. */
export function environment(manner: () => Manner) {
  let vehicles = 0;
  return { newId: () => `v${(vehicles += 1)}`, now: () => 0, services: harbourServices(manner) };
}
