import { createStores } from './stores/proxy/index.js';
import { environment, type Shown, type Terminal } from './terminal.js';

/** The stores are live objects: what is read from them is what is watched. */
export function withProxy(): Terminal {
  const { stores, whenChanged } = createStores(environment());
  const { deck, wind, desk, berth, log } = stores;
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
    },
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
