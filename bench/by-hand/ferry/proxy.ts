import * as terminal from './terminal.js';
import { actions, Refused, type Draw, type Payloads } from './actions.js';
import { start, type Terminal } from './terminal.js';

/** Freezes what is new of a state. */
function frozen<T>(value: T): T {
  if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
  for (const part of Object.values(value)) frozen(part);
  return Object.freeze(value);
}

const derived = {
  deck: {
    onBoard: ({ deck }: Terminal) => terminal.onBoard(deck),
    waiting: ({ deck }: Terminal) => terminal.waiting(deck),
    usedM: ({ deck }: Terminal) => terminal.usedM(deck),
    freeM: ({ deck }: Terminal) => terminal.freeM(deck),
    full: ({ deck }: Terminal) => terminal.full(deck),
    nextPlate: ({ deck }: Terminal) => terminal.nextPlate(deck),
    busiestLane: ({ deck }: Terminal) => terminal.busiestLane(deck),
    boarding: terminal.boarding,
    waitingIn:
      ({ deck }: Terminal) =>
      (lane: terminal.Lane) =>
        terminal.waitingIn(deck, lane),
  },
  wind: {
    strongestGust: ({ wind }: Terminal) => terminal.strongestGust(wind),
    tooStrong: ({ wind }: Terminal) => terminal.tooStrong(wind),
    mood: ({ wind }: Terminal) => terminal.mood(wind),
  },
  desk: { title: ({ desk }: Terminal) => terminal.title(desk) },
  log: {
    sailings: ({ log }: Terminal) => terminal.sailings(log),
    carried: ({ log }: Terminal) => terminal.carried(log),
    lastIncident: ({ log }: Terminal) => terminal.lastIncident(log),
  },
};

type Given<D> = { readonly [K in keyof D]: D[K] extends (app: Terminal) => infer T ? T : never };
type Stores = {
  readonly [K in keyof typeof derived]: Terminal[K] & Given<(typeof derived)[K]>;
};

/** The ferry terminal as live objects. */
export function createStores(draw: Draw) {
  let app = frozen(start);
  const known = new Map<string, { readonly of: Terminal; readonly value: unknown }>();
  const live = (store: keyof typeof derived) => {
    const own = derived[store] as Record<string, (app: Terminal) => unknown>;
    return new Proxy(app[store], {
      get(_, name) {
        if (typeof name !== 'string' || own[name] === undefined)
          return Reflect.get(app[store], name) as unknown;
        const at = `${store}.${name}`;
        let last = known.get(at);
        if (last?.of !== app) known.set(at, (last = { of: app, value: own[name](app) }));
        return last.value;
      },
      set(_, name) {
        throw new TypeError(`${store}.${String(name)} is changed by actions only.`);
      },
    });
  };
  const stores = {
    deck: live('deck'),
    wind: live('wind'),
    desk: live('desk'),
    log: live('log'),
  } as Stores;
  const watchers = new Set<() => void>();
  return {
    stores,
    berth: () => app.berth,
    snapshot: () => app,
    watch<T>(read: () => T, changed: (now: T, before: T) => void) {
      let last = read();
      const watcher = () => {
        const [now, before] = [read(), last];
        last = now;
        if (now !== before) changed(now, before);
      };
      watchers.add(watcher);
      return () => void watchers.delete(watcher);
    },
    act<K extends keyof Payloads>(action: K, payload: Payloads[K]): string | undefined {
      try {
        app = frozen(actions[action](app, payload, draw));
      } catch (error) {
        if (error instanceof Refused) return error.message;
        throw error;
      }
      for (const watcher of watchers) watcher();
      return undefined;
    },
  };
}
