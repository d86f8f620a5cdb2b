import type { State } from '../../base/state.js';
import type { Json } from '../../base/json.js';
import { canonicalText } from '../../base/canonical.js';
import { Random } from '../../base/random.js';
import type { Application, Parameter } from '../../model/application.js';
import { fittingValuesOf } from '../../model/fitting-values.js';
import { membersOf, type Type, type TypeTable } from '../../model/types.js';
import { PayloadSource } from './payloads.js';
import { poolOf, type Pool } from './pool.js';

/** A derived value with parameters, to be asked with some arguments. */
export interface Question {
  readonly store: string;
  readonly name: string;
  readonly args: readonly Json[];
  /** `deck.waitingIn("port")`. */
  readonly text: string;
}

/** How many combinations of arguments are asked at most, for one derived value after one step. */
const mostCombinations = 4;

/** What is asked in a state of the derived values with parameters: the same in every participant and every run. */
export function questionsOf(application: Application): (state: State) => readonly Question[] {
  const asked = application.stores.flatMap((store) =>
    store.derived
      .filter(({ params }) => params.length > 0)
      .map(({ name, params }) => ({ store: store.name, name, params })),
  );
  if (asked.length === 0) return () => [];
  // What can take a few values only is asked the same in every state.
  const isFixed = ({ params }: AskedValue) =>
    params.every(({ type }) => literalsOf(type, application.types) !== undefined);
  const questionsIn = (state: State) => {
    const pool = poolOf(application, state);
    const source = new PayloadSource(application.types, new Random(mostCombinations));
    return asked.flatMap((one) => questionsFor(one, application.types, source, pool));
  };
  let fixed: readonly Question[] | undefined;
  const all = asked.every(isFixed) ? (state: State) => (fixed ??= questionsIn(state)) : questionsIn;
  const lazy = new Set(application.stores.flatMap(({ name, lazy }) => (lazy ? [name] : [])));
  if (lazy.size === 0) return all;
  // A lazy store is null until it is attached.
  const isThere = (state: State, store: string) => !lazy.has(store) || state[store] !== null;
  return (state) => all(state).filter(({ store }) => isThere(state, store));
}

/** A derived value with parameters. */
interface AskedValue {
  readonly store: string;
  readonly name: string;
  readonly params: readonly Parameter[];
}

function questionsFor(
  { store, name, params }: AskedValue,
  types: TypeTable,
  source: PayloadSource,
  pool: Pool,
): readonly Question[] {
  const isKey = (value: string, type: Type) =>
    membersOf(type, types).some(({ kind }) => kind === 'string') &&
    fittingValuesOf(types).fits(value, type);
  const combinations = Array.from({ length: mostCombinations }, (_, i) =>
    params.map(({ type }) => {
      const values = literalsOf(type, types);
      // Where there are a few values only, one after the other; else drawn.
      if (values !== undefined) return values[i % values.length] as Json;
      // A key that stands in the state is asked for at least once.
      const key = i === 0 ? pool.keys.findLast(({ value }) => isKey(value, type)) : undefined;
      return key?.value ?? source.fitting(type, pool);
    }),
  );
  const distinct = new Map(combinations.map((args) => [canonicalText(args), args]));
  return [...distinct].map(([text, args]) => ({
    store,
    name,
    args,
    text: `${store}.${name}(${text.slice(1, -1)})`,
  }));
}

/** The values of a type that has a few only. */
function literalsOf(type: Type, types: TypeTable): readonly Json[] | undefined {
  const members = membersOf(type, types);
  const values = members.flatMap((member) => (member.kind === 'literal' ? [member.value] : []));
  return values.length === members.length && values.length > 0 ? values : undefined;
}
