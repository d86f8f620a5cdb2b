import { canonicalText } from '../base/canonical.js';
import { same } from '../base/same.js';
import { storeNamed, type Application, type Derived, type Store } from '../model/application.js';
import { evaluate, type World } from './compile-expression.js';
import { freeze } from './freeze.js';
import type { Judge } from './judge.js';
import { localsOf, pureWorld } from './pure-world.js';
import { fieldOf, isAttached, type State } from './state.js';
import { readingOf as historyReading, type HistoryStates } from './histories.js';
import { readingOf, type TaskStates } from './task-states.js';

/** What goes on beside the state, as it was committed: never changed, another if anything of it is. */
export interface Beside {
  readonly tasks: TaskStates;
  readonly histories: HistoryStates;
}

/** What an evaluation has read: a field, or a derived value, and what it was. */
type Read =
  | { readonly kind: 'field'; readonly store: Store; readonly name: string; readonly was: unknown }
  | { readonly kind: 'derived'; readonly value: DerivedValue; readonly was: unknown }
  | { readonly kind: 'beside'; readonly of: (state: State) => unknown; readonly was: unknown };

/** What was computed last: it holds in every state where all that was read is the same. */
interface Known {
  /** The state, and what goes on beside it, with which it was last found to hold. */
  state: State;
  beside: Beside;
  readonly reads: readonly Read[];
  readonly value: unknown;
}

/** What is computed from the states of one run. States are never changed, so what reads the same gives the same. */
export class DerivedValues {
  readonly #values: ReadonlyMap<string, ReadonlyMap<string, DerivedValue>>;

  /** `beside`: what goes on beside the state. */
  constructor(application: Application, judge: Judge, told: World['told'], beside: () => Beside) {
    const reading = new NotingWorld(application, judge, this, told, beside);
    this.#values = new Map(
      application.stores.map(({ name, derived }) => [
        name,
        new Map(derived.map((one) => [one.name, new DerivedValue(name, one, [], reading)])),
      ]),
    );
  }

  /** A derived value, with its arguments if it has parameters. */
  of(store: string, name: string, args: readonly unknown[] = []): DerivedValue {
    const value = this.#values.get(store)?.get(name);
    if (value === undefined) throw new Error(`the model has no derived value '${store}.${name}'`);
    return args.length === 0 ? value : value.withArguments(args);
  }
}

/** A derived value, for certain arguments. */
export class DerivedValue {
  #known: Known | undefined;
  #givenOut: { readonly value: unknown } | undefined;
  readonly #asked = new Map<string, DerivedValue>();

  constructor(
    readonly store: string,
    readonly derived: Derived,
    readonly args: readonly unknown[],
    readonly reading: NotingWorld,
  ) {}

  withArguments(args: readonly unknown[]): DerivedValue {
    const text = canonicalText(args);
    let asked = this.#asked.get(text);
    if (asked === undefined) {
      asked = new DerivedValue(this.store, this.derived, args, this.reading);
      this.#asked.set(text, asked);
    }
    return asked;
  }

  /** What it is in a state; `undefined` if its store is not attached. */
  in(state: State): unknown {
    if (!isAttached(state, this.store)) return undefined;
    const beside = this.reading.beside();
    if (this.#known !== undefined && holds(this.#known, state, beside)) return this.#known.value;
    const { params, value: expression } = this.derived;
    const locals = localsOf(params, this.args);
    const { result, reads } = this.reading.during(state, (world) =>
      freeze(evaluate(expression, { world, locals })),
    );
    this.#known = { state, beside, reads, value: result };
    return result;
  }

  /** What it is in a state, for those outside: the same object as when last given out, if equal. */
  giveOut(state: State): unknown {
    const value = this.in(state);
    if (this.#givenOut === undefined || !same(this.#givenOut.value, value))
      this.#givenOut = { value };
    return this.#givenOut.value;
  }
}

function holds(known: Known, state: State, beside: Beside): boolean {
  if (known.state === state && known.beside === beside) return true;
  for (const read of known.reads) {
    if (!Object.is(readNow(read, state), read.was)) return false;
  }
  known.state = state;
  known.beside = beside;
  return true;
}

function readNow(read: Read, state: State): unknown {
  switch (read.kind) {
    case 'field':
      return fieldOf(state, read.store, read.name);
    case 'derived':
      return read.value.in(state);
    case 'beside':
      return read.of(state);
  }
}

/** The world of derived values, which notes what is read. */
class NotingWorld {
  readonly #world: World;
  #state: State = {};
  #reads: Read[] = [];

  constructor(
    application: Application,
    judge: Judge,
    values: DerivedValues,
    told: World['told'],
    readonly beside: () => Beside,
  ) {
    this.#world = pureWorld(application, judge, {
      field: (owner, name) => {
        const store = storeNamed(application, owner);
        const was = fieldOf(this.#state, store, name);
        this.#reads.push({ kind: 'field', store, name, was });
        return was;
      },
      derived: (owner, name, args) => {
        const value = values.of(owner, name, args);
        const was = value.in(this.#state);
        this.#reads.push({ kind: 'derived', value, was });
        return was;
      },
      task: (store, name, reading) =>
        this.#readBeside((state) =>
          isAttached(state, store)
            ? readingOf(this.beside().tasks, store, name, reading)
            : undefined,
        ),
      history: (store, reading) =>
        this.#readBeside(() => historyReading(this.beside().histories, store, reading)),
      told,
    });
  }

  #readBeside<T>(of: (state: State) => T): T {
    const was = of(this.#state);
    this.#reads.push({ kind: 'beside', of, was });
    return was;
  }

  /** Evaluates something in a state; gives what it read too. */
  during(state: State, evaluateIn: (world: World) => unknown): { result: unknown; reads: Read[] } {
    const [outerState, outerReads] = [this.#state, this.#reads];
    const reads: Read[] = [];
    [this.#state, this.#reads] = [state, reads];
    try {
      return { result: evaluateIn(this.#world), reads };
    } finally {
      [this.#state, this.#reads] = [outerState, outerReads];
    }
  }
}
