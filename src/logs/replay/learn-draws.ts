import { isObject } from '../../base/json.js';
import { Outside, type Callable } from '../../comparing/index.js';
import type { LineGroup } from '../log/groups.js';
import type { LoggedState, LogLine } from '../log/log-lines.js';
import type { Application } from '../../model/application.js';
import type { Environment, Participant, Running } from '../../model/participant.js';

type Draws = NonNullable<LogLine['draws']>;

/** Stands for identifiers, the time and chance while it is found out what they were. */
const placeholders = { id: '(drawn) ', now: 4_102_444_800_123, random: 0.123456789012 } as const;

/** Finds out what the environment gave to the actions of a log that does not say so: from what was stored of it. */
export class DrawsLearner {
  readonly #participant: Participant;
  readonly #stores: Application['stores'];
  readonly #callables: readonly Callable[];
  readonly #hasTasks: boolean;
  #running: Running | undefined;
  #ids = 0;

  /** `reference`: does the action once more, apart. */
  constructor(
    reference: Participant,
    { stores }: Pick<Application, 'stores'>,
    callables: readonly Callable[],
  ) {
    this.#participant = reference;
    this.#stores = stores;
    this.#callables = callables;
    this.#hasTasks = stores.some(({ tasks }) => tasks.length > 0);
  }

  /** A group with what was given; the group itself if nothing can be found. `before`: the state of the reference. */
  learn(group: LineGroup, before: LoggedState): LineGroup {
    const [first, ...others] = group.lines;
    if (first?.state === undefined || others.length > 0 || first.line.draws !== undefined)
      return group;
    const { do: name, payload, kind = 'action' } = first.line;
    const [store = '', own = ''] = name.split('.');
    const isStart = kind === 'start' && first.line.by !== 'timer';
    if (kind !== 'action' && !isStart) return group;
    this.#ids = 0;
    try {
      const running = this.#runningIn(before);
      if (isStart) running.start?.(store, own, payload);
      else running.send(store, own, payload);
      const found = new Found();
      found.look(running.read(), first.state);
      const draws = found.draws(this.#ids);
      if (draws === undefined) return group;
      return { ...group, lines: [{ ...first, line: { ...first.line, draws } }] };
    } catch {
      // The participants will show what is wrong with it.
      return group;
    }
  }

  /** The reference in a state. It is used again where it can be put back: not where stores are not there yet, or tasks go on. */
  #runningIn(state: LoggedState): Running {
    const there = Object.entries(state).filter(([, own]) => own !== null);
    if (!this.#hasTasks && there.length === Object.keys(state).length) {
      const running = (this.#running ??= this.#participant.create(this.#environment));
      running.restore?.(state);
      return running;
    }
    const { services, timers } = new Outside(this.#callables);
    const given = { services, timers, state: Object.fromEntries(there) };
    const running = this.#participant.create({ ...this.#environment, ...given });
    for (const { name, lazy } of this.#stores)
      if (lazy && (state[name] ?? null) !== null) running.attach?.(name);
    this.#ids = 0;
    return running;
  }

  readonly #environment: Environment = {
    newId: () => `${placeholders.id}${(this.#ids += 1)}`,
    now: () => placeholders.now,
    random: () => placeholders.random,
    onProblem: () => undefined,
  };
}

/** What stands in the log where placeholders stand. */
class Found {
  readonly #ids = new Map<number, string>();
  #now: number | undefined;
  #random: number | undefined;

  look(shown: unknown, logged: unknown): void {
    if (shown === logged) return;
    if (typeof shown === 'string' && shown.startsWith(placeholders.id)) {
      const number = Number(shown.slice(placeholders.id.length));
      if (typeof logged === 'string' && !this.#ids.has(number)) this.#ids.set(number, logged);
    } else if (shown === placeholders.now && typeof logged === 'number') this.#now ??= logged;
    else if (shown === placeholders.random && typeof logged === 'number') this.#random ??= logged;
    else if (Array.isArray(shown) && Array.isArray(logged))
      shown.forEach((item, i) => {
        this.look(item, logged[i]);
      });
    else if (isObject(shown) && isObject(logged)) {
      for (const key of Object.keys(shown)) this.#lookAt(key, shown, logged);
    }
  }

  #lookAt(key: string, shown: Record<string, unknown>, logged: Record<string, unknown>): void {
    if (!key.startsWith(placeholders.id)) {
      this.look(shown[key], logged[key]);
      return;
    }
    // A new key of a dictionary: the one that is only in the log.
    const [other, ...more] = Object.keys(logged).filter((one) => !Object.hasOwn(shown, one));
    if (other === undefined || more.length > 0) return;
    this.look(key, other);
    this.look(shown[key], logged[other]);
  }

  draws(idCount: number): Draws | undefined {
    if (this.#ids.size === 0 && this.#now === undefined && this.#random === undefined)
      return undefined;
    // One that was drawn and stored nowhere may be any.
    const ids = Array.from(
      { length: idCount },
      (_, i) => this.#ids.get(i + 1) ?? `unseen-${i + 1}`,
    );
    return {
      ...(idCount > 0 && { ids }),
      ...(this.#now !== undefined && { now: this.#now }),
      ...(this.#random !== undefined && { random: [this.#random] }),
    };
  }
}
