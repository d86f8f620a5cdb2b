// The old terminal, to be held against ferry.stores.yaml: what is where, under the schema's names.
//   leeshore compare ferry.stores.yaml --with old/terminal.participant.ts

import type { ExternalParticipant } from 'leeshore';
import { Terminal, type Car } from './terminal';

/** A car as the schema has it. */
const vehicle = ({ number, plate, metres, lane, state, remark }: Car) => ({
  id: number,
  plate,
  lengthM: metres,
  lane,
  boarded: state === 'aboard',
  note: remark,
});

/** A state in a log, as terminal-with-log.ts writes it. */
interface LoggedTerminal extends Omit<Terminal, 'lanes'> {
  lanes: Record<string, number>;
}

/** The methods of the old terminal take one thing each, for the most part. */
const first = ([only]: [unknown]) => only;

export default {
  name: 'old terminal',
  names: {
    'Terminal.cars': 'deck.vehicles',
    'Terminal.cars[].number': 'deck.vehicles[].id',
    'Terminal.cars[].plate': 'deck.vehicles[].plate',
    'Terminal.cars[].metres': 'deck.vehicles[].lengthM',
    'Terminal.cars[].lane': 'deck.vehicles[].lane',
    'Terminal.cars[].state': 'deck.vehicles[].boarded',
    'Terminal.cars[].remark': 'deck.vehicles[].note',
    'Terminal.capacity': 'deck.capacityM',
    'Terminal.onHold': 'deck.hold',
    'Terminal.lanes.metres': 'deck.byLane',
    'Terminal.arrive': { is: 'deck.admit', arguments: ['plate', 'lengthM', 'lane'] },
    'Terminal.driveOn': 'deck.board',
    'Terminal.driveOnAll': 'deck.boardLane',
    'Terminal.setPlate': { is: 'deck.rename', arguments: ['id', 'plate'] },
    'Terminal.sendAway': 'deck.turnAway',
    'Terminal.emptyLane': 'deck.closeLane',
    'Terminal.measureDeck': 'deck.stretch',
    'Terminal.hold': 'deck.holdFor',
    'Terminal.sail': 'deck.depart',
    'Terminal.metresAboard': 'deck.usedM',
    'Terminal.canBoard': 'deck.boarding',
    'Terminal.windSpeed': 'wind.speed',
    'Terminal.lastGusts': 'wind.gusts',
    'Terminal.windLimit': 'wind.limit',
    'Terminal.gust': 'wind.measure',
    'Terminal.setWindLimit': 'wind.setLimit',
    'Terminal.tooWindy': 'wind.tooStrong',
    'Terminal.officer': 'desk.officer',
    'Terminal.officerSince': 'desk.since',
    'Terminal.changesOfWatch': 'desk.relieved',
    'Terminal.takeOver': 'desk.signIn',
    'Terminal.relieve': 'desk.relieve',
    'Terminal.goOff': 'desk.signOut',
    'Terminal.berth': 'berth',
    'Terminal.makeFast': 'berth.moor',
    'Terminal.letGo': 'berth.castOff',
  },
  log: {
    actions: {
      arrive: {
        is: 'deck.admit',
        payload: ([plate, lengthM, lane]: [string, number, string]) => ({ plate, lengthM, lane }),
      },
      driveOn: { is: 'deck.board', payload: first },
      driveOnAll: { is: 'deck.boardLane', payload: first },
      setPlate: { is: 'deck.rename', payload: ([id, plate]: [string, string]) => ({ id, plate }) },
      sendAway: { is: 'deck.turnAway', payload: first },
      emptyLane: { is: 'deck.closeLane', payload: first },
      measureDeck: { is: 'deck.stretch', payload: first },
      hold: { is: 'deck.holdFor', payload: first },
      sail: 'deck.depart',
      gust: { is: 'wind.measure', payload: first },
      setWindLimit: { is: 'wind.setLimit', payload: first },
      takeOver: { is: 'desk.signIn', payload: first },
      relieve: { is: 'desk.relieve', payload: first },
      goOff: 'desk.signOut',
      makeFast: { is: 'berth.moor', payload: first },
      letGo: 'berth.castOff',
    },
    state: {
      deck: {
        vehicles: (old: LoggedTerminal) => old.cars.map(vehicle),
        capacityM: (old: LoggedTerminal) => old.capacity,
        hold: (old: LoggedTerminal) => old.onHold,
        byLane: (old: LoggedTerminal) => old.lanes,
      },
      wind: {
        speed: (old: LoggedTerminal) => old.windSpeed,
        gusts: (old: LoggedTerminal) => old.lastGusts,
        limit: (old: LoggedTerminal) => old.windLimit,
      },
      desk: {
        officer: (old: LoggedTerminal) => old.officer,
        since: (old: LoggedTerminal) => old.officerSince,
        relieved: (old: LoggedTerminal) => old.changesOfWatch,
      },
      berth: (old: LoggedTerminal) => old.berth,
    },
  },
  create({ newId, now }) {
    const old = new Terminal(newId, now);
    return {
      actions: {
        deck: {
          admit: ({ plate, lengthM, lane }: { plate: string; lengthM: number; lane: Car['lane'] }) =>
            old.arrive(plate, lengthM, lane),
          board: (id: string) => old.driveOn(id),
          boardLane: (lane: Car['lane']) => old.driveOnAll(lane),
          rename: ({ id, plate }: { id: string; plate: string }) => old.setPlate(id, plate),
          turnAway: (id: string) => old.sendAway(id),
          closeLane: (lane: Car['lane']) => old.emptyLane(lane),
          stretch: (metres: string | number) => old.measureDeck(metres),
          holdFor: (why: string | null) => old.hold(why),
          depart: () => old.sail(),
        },
        wind: {
          measure: (speed: number) => old.gust(speed),
          setLimit: (limit: number) => old.setWindLimit(limit),
        },
        desk: {
          signIn: (officer: NonNullable<Terminal['officer']>) => old.takeOver(officer),
          relieve: (officer: NonNullable<Terminal['officer']>) => old.relieve(officer),
          signOut: () => old.goOff(),
        },
        berth: {
          moor: (berth: number) => old.makeFast(berth),
          castOff: () => old.letGo(),
        },
      },
      state: {
        deck: {
          vehicles: () => old.cars.map(vehicle),
          capacityM: () => old.capacity,
          hold: () => old.onHold,
          byLane: () => Object.fromEntries(old.lanes.metres),
        },
        wind: {
          speed: () => old.windSpeed,
          gusts: () => [...old.lastGusts],
          limit: () => old.windLimit,
        },
        desk: {
          officer: () => old.officer,
          since: () => old.officerSince,
          relieved: () => old.changesOfWatch,
        },
        berth: () => old.berth,
      },
      derived: {
        deck: {
          usedM: () => old.metresAboard(),
          boarding: () => old.canBoard(),
        },
        wind: { tooStrong: () => old.tooWindy() },
      },
    };
  },
} satisfies ExternalParticipant;
