// The old terminal, to be held against ferry.stores.yaml: what is where, under the schema's names.
//   leeshore compare ferry.stores.yaml --with old/terminal.participant.ts

import type { BroughtParticipant } from 'leeshore';
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

export default {
  name: 'old terminal',
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
} satisfies BroughtParticipant;
