/** What the actions of the ferry terminal do, by hand: each a pure function. */
import {
  boarding,
  carried,
  lanes,
  onBoard,
  start,
  tooStrong,
  usedM,
  waiting,
  type Deck,
  type Entry,
  type Lane,
  type Log,
  type Officer,
  type Terminal,
  type Vehicle,
} from './terminal.js';

/** Thrown where an action is refused. */
export class Refused extends Error {}

function need(isMet: boolean, reason = 'does not fit'): asserts isMet {
  if (!isMet) throw new Refused(reason);
}

const isText = (value: unknown, least = 0): value is string =>
  typeof value === 'string' && value.length >= least;
const isNumber = (value: unknown, from = -Infinity, to = Infinity): value is number =>
  Number.isFinite(value) && (value as number) >= from && (value as number) <= to;
const isLane = (value: unknown): value is Lane => lanes.includes(value as Lane);
const isObject = <T>(value: unknown, check: (value: T) => boolean): value is T =>
  typeof value === 'object' && value !== null && check(value as T);
const isOfficer = (value: unknown) =>
  isObject<Officer>(value, (o) => isText(o.name, 1) && (o.rank === 'mate' || o.rank === 'master'));
const isPlate = (plate: unknown) => isText(plate, 1) && plate.length <= 10;
const isVehicle = (value: unknown) =>
  isObject<Vehicle>(
    value,
    (v) =>
      isText(v.id) &&
      isPlate(v.plate) &&
      isNumber(v.lengthM, 0, 30) &&
      v.lengthM > 0 &&
      isLane(v.lane) &&
      typeof v.boarded === 'boolean' &&
      (v.note === undefined || isText(v.note)),
  );

const dateTime = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:?\d\d)$/i;

/** Where names and times come from. */
export interface Draw {
  readonly newId: () => string;
  readonly now: () => number;
}

/** Each action, with what it is about. */
export interface Payloads {
  'deck.admit': Pick<Vehicle, 'plate' | 'lengthM' | 'lane'>;
  'deck.board': string;
  'deck.boardLane': Lane;
  'deck.rename': { readonly id: string; readonly plate: string };
  'deck.remark': { readonly id: string; readonly note: string };
  'deck.swap': Vehicle;
  'deck.turnAway': string;
  'deck.closeLane': Lane;
  'deck.setCapacity': number;
  'deck.holdFor': string | null;
  'deck.depart': undefined;
  'deck.clear': undefined;
  'deck.letFirst': string;
  'deck.squeezeIn': { readonly vehicle: Vehicle; readonly place: number };
  'deck.stretch': string | number;
  'deck.lengthen': string;
  'wind.measure': number;
  'wind.setLimit': number;
  'wind.calmDown': undefined;
  'desk.signIn': Officer;
  'desk.relieve': Officer;
  'desk.signOut': undefined;
  'berth.moor': number;
  'berth.castOff': undefined;
  'log.report': { readonly what: string; readonly lane?: Lane };
  'log.sailed': number;
  'log.openLane': Lane;
  'log.lock': undefined;
  'log.relieve': readonly string[];
  'log.tide': readonly number[];
  'log.newDay': undefined;
  'log.setSailing': string | null;
}

type Actions = {
  readonly [K in keyof Payloads]: (app: Terminal, payload: Payloads[K], draw: Draw) => Terminal;
};

const deck = (app: Terminal, changes: Partial<Deck>): Terminal => ({
  ...app,
  deck: { ...app.deck, ...changes },
});
const wind = (app: Terminal, changes: Partial<Terminal['wind']>): Terminal => ({
  ...app,
  wind: { ...app.wind, ...changes },
});
const log = (app: Terminal, changes: Partial<Log>): Terminal => ({
  ...app,
  log: { ...app.log, ...changes },
});

/** The vehicles with one of them changed. */
function changed(
  { vehicles }: Deck,
  id: string,
  change: (vehicle: Vehicle) => Vehicle,
  none?: string,
): readonly Vehicle[] {
  need(none === undefined || vehicles.some((v) => v.id === id), none);
  return vehicles.map((v) => (v.id === id ? change(v) : v));
}

function capacity(app: Terminal, metres: number): Terminal {
  need(isNumber(metres, 0, 500));
  need(metres >= usedM(app.deck), 'There is more on board than that.');
  return deck(app, { capacityM: metres });
}

const entry = (app: Terminal, one: Entry) => log(app, { entries: [...app.log.entries, one] });

const sail = (app: Terminal, metres: number, { newId }: Draw): Terminal => {
  need(isNumber(metres, 0));
  return log(app, { entries: [{ kind: 'sailing', id: newId(), metres }, ...app.log.entries] });
};

/** What each action does. Throws {@link Refused}. */
export const actions: Actions = {
  'deck.admit'(app, payload, { newId }) {
    need(isText(payload.plate) && isNumber(payload.lengthM) && isLane(payload.lane));
    const { vehicles, byLane, hold } = app.deck;
    need(hold === null, 'Boarding is on hold.');
    const vehicle = { ...payload, id: newId(), boarded: false };
    need(isVehicle(vehicle));
    const metres = (byLane[payload.lane] ?? 0) + payload.lengthM;
    return deck(app, {
      vehicles: [...vehicles, vehicle],
      byLane: { ...byLane, [payload.lane]: metres },
    });
  },
  'deck.board'(app, id) {
    need(boarding(app), 'No boarding now.');
    need(
      waiting(app.deck).some((v) => v.id === id),
      'No such vehicle is waiting.',
    );
    return deck(app, { vehicles: changed(app.deck, id, (v) => ({ ...v, boarded: true })) });
  },
  'deck.boardLane'(app, lane) {
    need(isLane(lane));
    const vehicles = app.deck.vehicles.map((v) => (v.lane === lane ? { ...v, boarded: true } : v));
    return deck(app, { vehicles });
  },
  'deck.rename'(app, { id, plate }) {
    need(isText(id) && isText(plate));
    const trimmed = plate.trim().toUpperCase();
    need(trimmed !== '', 'A plate is needed.');
    const vehicles = changed(app.deck, id, (v) => ({ ...v, plate: trimmed }), 'No such vehicle.');
    need(isPlate(trimmed));
    return deck(app, { vehicles });
  },
  'deck.remark'(app, { id, note }) {
    need(isText(id) && isText(note));
    const remark = ({ note: _, ...v }: Vehicle) => (note === '' ? v : { ...v, note });
    return deck(app, { vehicles: changed(app.deck, id, remark, 'not found') });
  },
  'deck.swap'(app, vehicle) {
    need(isVehicle(vehicle));
    const { vehicles } = app.deck;
    const isThere = vehicles.some((v) => v.id === vehicle.id);
    return deck(app, {
      vehicles: isThere ? changed(app.deck, vehicle.id, () => vehicle) : [...vehicles, vehicle],
    });
  },
  'deck.turnAway'(app, id, { newId }) {
    const { vehicles } = app.deck;
    const vehicle = vehicles.find((v) => v.id === id);
    need(vehicle?.boarded !== true, 'It is on board already.');
    need(vehicle !== undefined, 'No such vehicle.');
    const left = deck(app, { vehicles: vehicles.filter((v) => v !== vehicle) });
    return entry(left, { kind: 'incident', id: newId(), what: `${id} was turned away` });
  },
  'deck.closeLane'(app, lane) {
    need(isLane(lane));
    const { [lane]: _, ...byLane } = app.deck.byLane;
    return deck(app, {
      vehicles: app.deck.vehicles.filter((v) => v.lane !== lane || v.boarded),
      byLane,
    });
  },
  'deck.setCapacity': capacity,
  'deck.holdFor'(app, hold) {
    need(hold === null || isText(hold));
    return deck(app, { hold });
  },
  'deck.depart'(app) {
    need(onBoard(app.deck).length > 0, 'The deck is empty.');
    const hold = tooStrong(app.wind) ? `wind ${app.wind.speed} m/s` : app.deck.hold;
    return deck(app, { vehicles: waiting(app.deck), byLane: {}, hold });
  },
  'deck.clear': (app) => deck(app, { vehicles: [], byLane: {} }),
  'deck.letFirst'(app, id) {
    const { vehicles } = app.deck;
    const vehicle = vehicles.find((v) => v.id === id);
    need(vehicle !== undefined, 'not found');
    return deck(app, { vehicles: [vehicle, ...vehicles.filter((v) => v !== vehicle)] });
  },
  'deck.squeezeIn'(app, { vehicle, place }) {
    const { vehicles } = app.deck;
    need(isVehicle(vehicle) && Number.isInteger(place) && place >= 0);
    need(place <= vehicles.length, 'There is no such place.');
    need(!vehicles.some((v) => v.id === vehicle.id));
    return deck(app, { vehicles: vehicles.toSpliced(place, 0, vehicle) });
  },
  'deck.stretch': (app, metres) =>
    capacity(app, isText(metres) && metres.trim() === '' ? NaN : Number(metres)),
  'deck.lengthen'(app, id) {
    const vehicle = app.deck.vehicles.find((v) => v.id === id);
    need(vehicle !== undefined, 'No such vehicle.');
    need(!vehicle.boarded, 'It is on board already.');
    const lengthM = Math.min(vehicle.lengthM + 0.5, 30);
    return deck(app, { vehicles: changed(app.deck, id, (v) => ({ ...v, lengthM })) });
  },
  'wind.measure'(app, speed) {
    need(isNumber(speed, 0, 60));
    return wind(app, { speed, gusts: [...app.wind.gusts, speed].slice(-5) });
  },
  'wind.setLimit'(app, limit) {
    need(isNumber(limit, 5, 40));
    return wind(app, { limit });
  },
  'wind.calmDown': (app) => ({ ...app, wind: start.wind }),
  'desk.signIn'(app, officer, { now }) {
    need(isOfficer(officer));
    need(app.desk.officer === null, 'Someone is on watch already.');
    return { ...app, desk: { ...app.desk, officer, since: now() } };
  },
  'desk.relieve'(app, officer, { now }) {
    need(isOfficer(officer));
    const { desk } = app;
    need(desk.officer !== null, 'Nobody is on watch.');
    need(desk.officer.name !== officer.name, 'That officer is on watch already.');
    return { ...app, desk: { officer, since: now(), relieved: desk.relieved + 1 } };
  },
  'desk.signOut'(app) {
    need(app.desk.officer !== null, 'Nobody is on watch.');
    return { ...app, desk: start.desk };
  },
  'berth.moor'(app, berth) {
    need(Number.isInteger(berth) && isNumber(berth, 1, 4));
    need(app.berth === 0, 'She is moored already.');
    return log({ ...app, berth }, { openLanes: [] });
  },
  'berth.castOff': (app) => log({ ...app, berth: 0 }, { openLanes: [] }),
  'log.report'(app, payload, { newId }) {
    need(isText(payload.what, 1) && (payload.lane === undefined || isLane(payload.lane)));
    return entry(app, { ...payload, kind: 'incident', id: newId() });
  },
  'log.sailed': (app, metres = 0, draw) => sail(app, metres, draw),
  'log.openLane'(app, lane) {
    need(isLane(lane));
    const { openLanes } = app.log;
    return log(app, {
      openLanes: openLanes.includes(lane)
        ? openLanes.filter((other) => other !== lane)
        : [...openLanes, lane],
    });
  },
  'log.lock': (app) => log(app, { closed: !app.log.closed }),
  'log.relieve'(app, watch) {
    need(watch.length >= 1 && watch.length <= 3 && watch.every((name) => isText(name)));
    return log(app, { watch });
  },
  'log.tide'(app, row) {
    need(row.every((level) => isNumber(level) && Number.isInteger(level / 0.5)));
    return log(app, { tides: [...app.log.tides, row] });
  },
  'log.newDay'(app, _, draw) {
    const { deck, wind, desk } = start;
    const sailed = sail(app, carried(app.log), draw);
    return log({ ...sailed, deck, wind, desk }, { openLanes: [], tides: [], sails: null });
  },
  'log.setSailing'(app, sails) {
    need(sails === null || (isText(sails) && dateTime.test(sails)));
    return log(app, { sails });
  },
};
