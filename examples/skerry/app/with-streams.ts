import { createStores, type Stream } from './stores/observable/index.js';
import { environment, type Shown, type Terminal } from './terminal.js';

/** Every value is a stream that tells each new value after the action that made it. */
export function withStreams(): Terminal {
  const { stores } = createStores(environment());
  const { deck, wind, desk, berth, log } = stores;
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
  };
  const names = Object.keys(shown) as (keyof Shown)[];
  return {
    deeds: { ...deck, ...wind, ...desk, ...berth },
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
