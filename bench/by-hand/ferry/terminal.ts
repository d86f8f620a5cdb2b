/**
 * The ferry terminal of the example as an expert writes it by hand: what it is, and what is derived from it. Its
 * actions and the stores of each style stand beside it.
 */
export type Lane = 'port' | 'centre' | 'starboard';

export interface Vehicle {
  readonly id: string;
  readonly plate: string;
  readonly lengthM: number;
  readonly lane: Lane;
  readonly boarded: boolean;
  readonly note?: string;
}

export interface Officer {
  readonly name: string;
  readonly rank: 'mate' | 'master';
}

export type Entry =
  | { readonly kind: 'sailing'; readonly id: string; readonly metres: number }
  | { readonly kind: 'incident'; readonly id: string; readonly what: string; readonly lane?: Lane };

export interface Terminal {
  readonly deck: {
    readonly vehicles: readonly Vehicle[];
    readonly capacityM: number;
    readonly hold: string | null;
    readonly byLane: Readonly<Record<string, number>>;
  };
  readonly wind: {
    readonly speed: number;
    readonly gusts: readonly number[];
    readonly limit: number;
  };
  readonly desk: {
    readonly officer: Officer | null;
    readonly since: number | null;
    readonly relieved: number;
  };
  readonly berth: number;
  readonly log: {
    readonly entries: readonly Entry[];
    readonly watch: readonly string[];
    readonly closed: boolean;
    readonly openLanes: readonly Lane[];
    readonly tides: readonly (readonly number[])[];
    readonly sails: string | null;
  };
}

export const start: Terminal = {
  deck: { vehicles: [], capacityM: 240, hold: null, byLane: {} },
  wind: { speed: 0, gusts: [], limit: 18 },
  desk: { officer: null, since: null, relieved: 0 },
  berth: 0,
  log: { entries: [], watch: ['mate'], closed: false, openLanes: [], tides: [], sails: null },
};

export type Deck = Terminal['deck'];
export type Log = Terminal['log'];

export const lanes = ['port', 'centre', 'starboard'] as const;

export const onBoard = ({ vehicles }: Deck) => vehicles.filter((v) => v.boarded);
export const waiting = ({ vehicles }: Deck) => vehicles.filter((v) => !v.boarded);
export const usedM = (deck: Deck) => onBoard(deck).reduce((sum, v) => sum + v.lengthM, 0);
export const freeM = (deck: Deck) => deck.capacityM - usedM(deck);
export const full = (deck: Deck) => freeM(deck) < 4.5;
export const nextPlate = (deck: Deck) => waiting(deck)[0]?.plate ?? null;
export const busiestLane = ({ byLane }: Deck) =>
  lanes.reduce((best, lane) => ((byLane[lane] ?? 0) > (byLane[best] ?? 0) ? lane : best));
export const waitingIn = (deck: Deck, lane: Lane) => waiting(deck).filter((v) => v.lane === lane);
export const strongestGust = ({ gusts, speed }: Terminal['wind']) => Math.max(speed, ...gusts);
export const tooStrong = (wind: Terminal['wind']) => strongestGust(wind) > wind.limit;
export const mood = (wind: Terminal['wind']) =>
  tooStrong(wind) ? 'stop' : strongestGust(wind) > wind.limit * 0.75 ? 'watch' : 'calm';
export const boarding = ({ deck, wind, desk }: Terminal) =>
  deck.hold === null && !full(deck) && !tooStrong(wind) && desk.officer !== null;
export const title = ({ officer }: Terminal['desk']) =>
  officer === null ? 'nobody' : `${officer.rank} ${officer.name}`;
export const sailings = ({ entries }: Log) => entries.filter((e) => e.kind === 'sailing').length;
export const carried = ({ entries }: Log) =>
  entries.reduce((sum, e) => sum + (e.kind === 'sailing' ? e.metres : 0), 0);
export const lastIncident = ({ entries }: Log) =>
  entries.findLast((e) => e.kind === 'incident' && e.what.length > 3)?.id ?? null;
