import {
  berthActions,
  createStores,
  liveLog,
  deckActions,
  deskActions,
  planActions,
  settingsActions,
  timetableActions,
  windActions,
} from './stores/reducer/index.js';
import type { Manner } from './office.js';
import { closedDesk, environment, type Shown, type Terminal } from './terminal.js';

/** Actions are values that are dispatched; what the screen shows is read from the state, or derived from it. */
export function withReducer(manner: () => Manner): Terminal {
  const store = createStores({ ...environment(manner), log: liveLog() });
  const { dispatch, derived } = store;
  type State = ReturnType<typeof store.snapshot>;
  const shown: { readonly [K in keyof Shown]: (state: State) => Shown[K] } = {
    waiting: derived.deck.waiting,
    onBoard: derived.deck.onBoard,
    capacityM: (state) => state.deck.capacityM,
    freeM: derived.deck.freeM,
    hold: (state) => state.deck.hold,
    boarding: derived.deck.boarding,
    wind: (state) => state.wind.speed,
    mood: derived.wind.mood,
    onWatch: derived.desk.title,
    berth: (state) => state.berth,
    sailings: derived.log.sailings,
    day: (state) => state.timetable.day,
    crossings: (state) => state.timetable.crossings,
    line: derived.timetable.line,
    loading: () => store.tasks().timetable.load.running,
    notice: (state) => state.notices.text,
    called: (state) => state.plan.lanes,
    planNote: (state) => state.plan.note,
    canUndo: derived.plan.canUndo,
    canRedo: derived.plan.canRedo,
    largeType: (state) => state.settings.largeType,
    firstLane: (state) => state.settings.firstLane,
    due: derived.plan.due,
  };
  let tariff: typeof import('./stores/reducer/stores/tariff.js') | undefined;
  const names = Object.keys(shown) as (keyof Shown)[];
  return {
    deeds: {
      admit: (payload) => dispatch(deckActions.admit(payload)),
      board: (id) => dispatch(deckActions.board(id)),
      boardLane: (lane) => dispatch(deckActions.boardLane(lane)),
      turnAway: (id) => dispatch(deckActions.turnAway(id)),
      stretch: (metres) => dispatch(deckActions.stretch(metres)),
      depart: () => dispatch(deckActions.depart()),
      holdFor: (reason) => dispatch(deckActions.holdFor(reason)),
      measure: (speed) => dispatch(windActions.measure(speed)),
      signIn: (officer) => dispatch(deskActions.signIn(officer)),
      signOut: () => dispatch(deskActions.signOut()),
      moor: (berth) => dispatch(berthActions.moor(berth)),
      castOff: () => dispatch(berthActions.castOff()),
      load: (day) => dispatch(timetableActions.load(day)),
      cancelLoad: () => dispatch(timetableActions.load.cancel()),
      callLane: (lane) => dispatch(planActions.callLane(lane)),
      write: (note) => dispatch(planActions.write(note)),
      undo: () => dispatch(planActions.undo()),
      redo: () => dispatch(planActions.redo()),
      enlarge: () => dispatch(settingsActions.enlarge()),
      preferLane: (lane) => dispatch(settingsActions.preferLane(lane)),
      async openTariff() {
        tariff = await import('./stores/reducer/stores/tariff.js');
        return store.attach(tariff.tariffStore);
      },
      raise: () => (tariff === undefined ? closedDesk : dispatch(tariff.tariffActions.raise())),
    },
    close: store.close,
    show: () =>
      Object.fromEntries(names.map((name) => [name, shown[name](store.snapshot())])) as unknown as Shown,
    watch(changed) {
      const stops = names.map((name) =>
        store.whenChanged<unknown>(shown[name], (now) => {
          changed(name, now);
        }),
      );
      return () => {
        for (const stop of stops) stop();
      };
    },
  };
}
