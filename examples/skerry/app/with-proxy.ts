import { createStores } from './stores/proxy/index.js';
import type { Manner } from './office.js';
import { environment, type Shown, type Terminal } from './terminal.js';

/** The stores are live objects: what is read from them is what is watched. */
export function withProxy(manner: () => Manner): Terminal {
  const { stores, whenChanged, close } = createStores(environment(manner));
  const { deck, wind, desk, berth, log, timetable, notices } = stores;
  const shown: { readonly [K in keyof Shown]: () => Shown[K] } = {
    waiting: () => deck.waiting,
    onBoard: () => deck.onBoard,
    capacityM: () => deck.capacityM,
    freeM: () => deck.freeM,
    hold: () => deck.hold,
    boarding: () => deck.boarding,
    wind: () => wind.speed,
    mood: () => wind.mood,
    onWatch: () => desk.title,
    berth: () => berth.value,
    sailings: () => log.sailings,
    day: () => timetable.day,
    crossings: () => timetable.crossings,
    line: () => timetable.line,
    loading: () => timetable.load.running,
    notice: () => notices.text,
  };
  const names = Object.keys(shown) as (keyof Shown)[];
  return {
    deeds: {
      admit: deck.admit,
      board: deck.board,
      boardLane: deck.boardLane,
      turnAway: deck.turnAway,
      stretch: deck.stretch,
      depart: deck.depart,
      holdFor: deck.holdFor,
      measure: wind.measure,
      signIn: desk.signIn,
      signOut: desk.signOut,
      moor: berth.moor,
      castOff: berth.castOff,
      load: timetable.load,
      cancelLoad: () => timetable.load.cancel(),
    },
    close,
    show: () => Object.fromEntries(names.map((name) => [name, shown[name]()])) as unknown as Shown,
    watch(changed) {
      const stops = names.map((name) =>
        whenChanged<unknown>(shown[name], (now) => {
          changed(name, now);
        }),
      );
      return () => {
        for (const stop of stops) stop();
      };
    },
  };
}
