import * as terminal from './terminal.js';
import { actions, Refused, type Draw, type Payloads } from './actions.js';
import { start, type Terminal } from './terminal.js';

export type Action = {
  [K in keyof Payloads]: { readonly type: K; readonly payload: Payloads[K] };
}[keyof Payloads];

/** A function that remembers what it gave for its last argument. */
function remembered<A, T>(compute: (of: A) => T): (of: A) => T {
  let last: { readonly of: A; readonly value: T } | undefined;
  return (of) => {
    if (last?.of !== of) last = { of, value: compute(of) };
    return last.value;
  };
}

/** The ferry terminal as a reducer store. */
export function createStore(draw: Draw) {
  let app = start;
  const listeners = new Set<(now: Terminal, before: Terminal) => void>();
  const of = <K extends keyof Terminal, T>(key: K, compute: (part: Terminal[K]) => T) => {
    const select = remembered(compute);
    return (all: Terminal) => select(all[key]);
  };
  const select = {
    onBoard: of('deck', terminal.onBoard),
    waiting: of('deck', terminal.waiting),
    usedM: of('deck', terminal.usedM),
    freeM: of('deck', terminal.freeM),
    full: of('deck', terminal.full),
    nextPlate: of('deck', terminal.nextPlate),
    busiestLane: of('deck', terminal.busiestLane),
    boarding: remembered(terminal.boarding),
    waitingIn: (all: Terminal, lane: terminal.Lane) => terminal.waitingIn(all.deck, lane),
    strongestGust: of('wind', terminal.strongestGust),
    tooStrong: of('wind', terminal.tooStrong),
    mood: of('wind', terminal.mood),
    title: of('desk', terminal.title),
    sailings: of('log', terminal.sailings),
    carried: of('log', terminal.carried),
    lastIncident: of('log', terminal.lastIncident),
  };
  const subscribe = (listener: (now: Terminal, before: Terminal) => void) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  };
  return {
    select,
    snapshot: () => app,
    subscribe,
    watch<T>(selector: (all: Terminal) => T, changed: (now: T, before: T) => void) {
      return subscribe((now, before) => {
        const [value, last] = [selector(now), selector(before)];
        if (value !== last) changed(value, last);
      });
    },
    dispatch({ type, payload }: Action): string | undefined {
      const before = app;
      try {
        app = actions[type](app, payload as never, draw);
      } catch (error) {
        if (error instanceof Refused) return error.message;
        throw error;
      }
      for (const listener of listeners) listener(app, before);
      return undefined;
    },
  };
}
