import { createStores, liveLog } from './stores/proxy/index.js';
import type { Manner } from './office.js';
import { closedDesk, environment, type Shown, type Terminal } from './terminal.js';

/** The stores are live objects: what is read from them is what is watched. */
export function withProxy(manner: () => Manner): Terminal {
  const { stores, whenChanged, attach, close } = createStores({ ...environment(manner), log: liveLog() });
  const { deck, wind, desk, berth, log, timetable, notices, plan, settings } = stores;
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
    called: () => plan.lanes,
    planNote: () => plan.note,
    canUndo: () => plan.canUndo,
    canRedo: () => plan.canRedo,
    largeType: () => settings.largeType,
    firstLane: () => settings.firstLane,
    due: () => plan.due,
  };
  const openTariff = async () => {
    const { tariffStore } = await import('./stores/proxy/stores/tariff.js');
    return attach(tariffStore);
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
      callLane: plan.callLane,
      write: plan.write,
      undo: plan.undo,
      redo: plan.redo,
      enlarge: settings.enlarge,
      preferLane: settings.preferLane,
      openTariff,
      raise: () => stores.tariff?.raise() ?? closedDesk,
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
