import * as terminal from './terminal.js';
import { actions, Refused, type Draw, type Payloads } from './actions.js';
import { start, type Terminal } from './terminal.js';

/** What is computed from atoms knows which ones it read. */
let reading: Set<Atom<unknown>> | undefined;

export class Atom<T> {
  #value: T;

  constructor(value: T) {
    this.#value = value;
  }

  get(): T {
    reading?.add(this);
    return this.#value;
  }

  /** Sets it; whether that is something else. */
  set(value: T): boolean {
    const isOther = value !== this.#value;
    this.#value = value;
    return isOther;
  }
}

export class Computed<T> {
  #last: { readonly value: T; readonly of: ReadonlyMap<Atom<unknown>, unknown> } | undefined;

  constructor(readonly compute: () => T) {}

  get(): T {
    const last = this.#last;
    if (last !== undefined && [...last.of].every(([atom, was]) => atom.get() === was))
      return last.value;
    const outer = reading;
    const own = (reading = new Set<Atom<unknown>>());
    const value = this.compute();
    reading = outer;
    for (const atom of own) outer?.add(atom);
    this.#last = { value, of: new Map([...own].map((atom) => [atom, atom.get()])) };
    return value;
  }
}

const computed = <T>(compute: () => T) => new Computed(compute);

type Atoms<S> = { readonly [K in keyof S]: Atom<S[K]> };

function atomsOf<S extends object>(state: S): Atoms<S> {
  const entries = Object.entries(state).map(([name, value]) => [name, new Atom<unknown>(value)]);
  return Object.fromEntries(entries) as Atoms<S>;
}

function valuesOf<S extends object>(atoms: Atoms<S>): S {
  const entries = Object.entries<Atom<unknown>>(atoms).map(([name, atom]) => [name, atom.get()]);
  return Object.fromEntries(entries) as S;
}

/** The ferry terminal as atoms. */
export function createStores(draw: Draw) {
  const [deck, wind, desk, log] = [start.deck, start.wind, start.desk, start.log].map(
    (part: object) => atomsOf(part),
  ) as [
    Atoms<Terminal['deck']>,
    Atoms<Terminal['wind']>,
    Atoms<Terminal['desk']>,
    Atoms<Terminal['log']>,
  ];
  const berth = new Atom(start.berth);
  const states = {
    deck: computed(() => valuesOf<Terminal['deck']>(deck)),
    wind: computed(() => valuesOf<Terminal['wind']>(wind)),
    desk: computed(() => valuesOf<Terminal['desk']>(desk)),
    log: computed(() => valuesOf<Terminal['log']>(log)),
  };
  const state = computed((): Terminal => ({
    deck: states.deck.get(),
    wind: states.wind.get(),
    desk: states.desk.get(),
    berth: berth.get(),
    log: states.log.get(),
  }));
  const watchers = new Set<() => void>();
  const set = <S extends object>(atoms: Atoms<S>, values: S) => {
    for (const name of Object.keys(values) as (keyof S)[]) atoms[name].set(values[name]);
  };
  return {
    deck: {
      ...deck,
      onBoard: computed(() => terminal.onBoard(states.deck.get())),
      waiting: computed(() => terminal.waiting(states.deck.get())),
      usedM: computed(() => terminal.usedM(states.deck.get())),
      freeM: computed(() => terminal.freeM(states.deck.get())),
      full: computed(() => terminal.full(states.deck.get())),
      nextPlate: computed(() => terminal.nextPlate(states.deck.get())),
      busiestLane: computed(() => terminal.busiestLane(states.deck.get())),
      boarding: computed(() => terminal.boarding(state.get())),
      waitingIn: (lane: terminal.Lane) => terminal.waitingIn(states.deck.get(), lane),
    },
    wind: {
      ...wind,
      strongestGust: computed(() => terminal.strongestGust(states.wind.get())),
      tooStrong: computed(() => terminal.tooStrong(states.wind.get())),
      mood: computed(() => terminal.mood(states.wind.get())),
    },
    desk: { ...desk, title: computed(() => terminal.title(states.desk.get())) },
    berth,
    log: {
      ...log,
      sailings: computed(() => terminal.sailings(states.log.get())),
      carried: computed(() => terminal.carried(states.log.get())),
      lastIncident: computed(() => terminal.lastIncident(states.log.get())),
    },
    state,
    watch<T>(of: { get(): T }, changed: (now: T, before: T) => void) {
      let last = of.get();
      const watcher = () => {
        const [now, before] = [of.get(), last];
        last = now;
        if (now !== before) changed(now, before);
      };
      watchers.add(watcher);
      return () => void watchers.delete(watcher);
    },
    act<K extends keyof Payloads>(action: K, payload: Payloads[K]): string | undefined {
      let next: Terminal;
      try {
        next = actions[action](state.get(), payload, draw);
      } catch (error) {
        if (error instanceof Refused) return error.message;
        throw error;
      }
      set(deck, next.deck);
      set(wind, next.wind);
      set(desk, next.desk);
      set(log, next.log);
      berth.set(next.berth);
      for (const watcher of watchers) watcher();
      return undefined;
    },
  };
}
