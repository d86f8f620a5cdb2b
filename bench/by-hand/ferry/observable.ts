import * as terminal from './terminal.js';
import { actions, Refused, type Draw, type Payloads } from './actions.js';
import { start, type Terminal } from './terminal.js';

/** A stream of the latest values of something: it tells each new one. */
export class Stream<T> {
  readonly #observers = new Set<(value: T) => void>();
  #value: T;

  constructor(value: T) {
    this.#value = value;
  }

  get value(): T {
    return this.#value;
  }

  subscribe(next: (value: T) => void): { unsubscribe(): void } {
    this.#observers.add(next);
    return { unsubscribe: () => void this.#observers.delete(next) };
  }

  /** Takes the next value; gives who is to be told. */
  next(value: T): readonly (() => void)[] {
    if (value === this.#value) return [];
    this.#value = value;
    return [...this.#observers].map((tell) => () => {
      tell(value);
    });
  }
}

type Compute = (app: Terminal) => unknown;

/** What there is to be seen of the terminal, by its name. */
const shown = {
  'deck.vehicles': ({ deck }: Terminal) => deck.vehicles,
  'deck.capacityM': ({ deck }: Terminal) => deck.capacityM,
  'deck.hold': ({ deck }: Terminal) => deck.hold,
  'deck.byLane': ({ deck }: Terminal) => deck.byLane,
  'deck.onBoard': ({ deck }: Terminal) => terminal.onBoard(deck),
  'deck.waiting': ({ deck }: Terminal) => terminal.waiting(deck),
  'deck.usedM': ({ deck }: Terminal) => terminal.usedM(deck),
  'deck.freeM': ({ deck }: Terminal) => terminal.freeM(deck),
  'deck.full': ({ deck }: Terminal) => terminal.full(deck),
  'deck.nextPlate': ({ deck }: Terminal) => terminal.nextPlate(deck),
  'deck.busiestLane': ({ deck }: Terminal) => terminal.busiestLane(deck),
  'deck.boarding': terminal.boarding,
  'wind.speed': ({ wind }: Terminal) => wind.speed,
  'wind.gusts': ({ wind }: Terminal) => wind.gusts,
  'wind.limit': ({ wind }: Terminal) => wind.limit,
  'wind.strongestGust': ({ wind }: Terminal) => terminal.strongestGust(wind),
  'wind.tooStrong': ({ wind }: Terminal) => terminal.tooStrong(wind),
  'wind.mood': ({ wind }: Terminal) => terminal.mood(wind),
  'desk.officer': ({ desk }: Terminal) => desk.officer,
  'desk.since': ({ desk }: Terminal) => desk.since,
  'desk.relieved': ({ desk }: Terminal) => desk.relieved,
  'desk.title': ({ desk }: Terminal) => terminal.title(desk),
  berth: ({ berth }: Terminal) => berth,
  'log.entries': ({ log }: Terminal) => log.entries,
  'log.watch': ({ log }: Terminal) => log.watch,
  'log.closed': ({ log }: Terminal) => log.closed,
  'log.openLanes': ({ log }: Terminal) => log.openLanes,
  'log.tides': ({ log }: Terminal) => log.tides,
  'log.sails': ({ log }: Terminal) => log.sails,
  'log.sailings': ({ log }: Terminal) => terminal.sailings(log),
  'log.carried': ({ log }: Terminal) => terminal.carried(log),
  'log.lastIncident': ({ log }: Terminal) => terminal.lastIncident(log),
  '*': (app: Terminal) => app,
} satisfies Record<string, Compute>;

type Streams = {
  readonly [K in keyof typeof shown]: Stream<ReturnType<(typeof shown)[K]>>;
};

/** The ferry terminal as streams. */
export function createStreams(draw: Draw) {
  let app = start;
  const all = Object.entries<Compute>(shown).map(
    ([name, compute]) => [name, compute, new Stream(compute(app))] as const,
  );
  return {
    streams: Object.fromEntries(all.map(([name, , stream]) => [name, stream])) as Streams,
    act<K extends keyof Payloads>(action: K, payload: Payloads[K]): string | undefined {
      try {
        app = actions[action](app, payload, draw);
      } catch (error) {
        if (error instanceof Refused) return error.message;
        throw error;
      }
      const told = all.flatMap(([, compute, stream]) => stream.next(compute(app)));
      for (const tell of told) tell();
      return undefined;
    },
  };
}
