import { createStores, liveLog, type Stream } from './stores/observable/index.js';
import type { Manner } from './office.js';
import { closedDesk, environment, type Shown, type Terminal } from './terminal.js';

/** Every value is a stream that tells each new value after the action that made it. */
export function withStreams(manner: () => Manner): Terminal {
  const { stores, attach, close } = createStores({ ...environment(manner), log: liveLog() });
  const { deck, wind, desk, berth, log, timetable, notices, plan, settings } = stores;
  const shown: { readonly [K in keyof Shown]: Stream<Shown[K]> } = {
    waiting: deck.waiting,
    onBoard: deck.onBoard,
    capacityM: deck.capacityM,
    freeM: deck.freeM,
    hold: deck.hold,
    boarding: deck.boarding,
    wind: wind.speed,
    mood: wind.mood,
    onWatch: desk.title,
    berth: berth.value,
    sailings: log.sailings,
    day: timetable.day,
    crossings: timetable.crossings,
    line: timetable.line,
    loading: timetable.load.running,
    notice: notices.text,
    called: plan.lanes,
    planNote: plan.note,
    canUndo: plan.canUndo,
    canRedo: plan.canRedo,
    largeType: settings.largeType,
    firstLane: settings.firstLane,
    due: plan.due,
  };
  const openTariff = async () => {
    const { tariffStore } = await import('./stores/observable/stores/tariff.js');
    return attach(tariffStore);
  };
  const names = Object.keys(shown) as (keyof Shown)[];
  return {
    deeds: {
      ...deck,
      ...wind,
      ...desk,
      ...berth,
      load: timetable.load,
      cancelLoad: () => timetable.load.cancel(),
      ...plan,
      ...settings,
      openTariff,
      raise: () => stores.tariff?.raise() ?? closedDesk,
    },
    close,
    show: () => Object.fromEntries(names.map((name) => [name, shown[name].latest])) as unknown as Shown,
    watch(changed) {
      const subscriptions = names.map((name) =>
        shown[name].subscribe((now: unknown) => {
          changed(name, now);
        }),
      );
      return () => {
        for (const subscription of subscriptions) subscription.unsubscribe();
      };
    },
  };
}
