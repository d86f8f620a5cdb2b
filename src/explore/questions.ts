import type { Json } from '../base/json.js';
import { canonicalText } from '../base/canonical.js';
import { Random } from '../base/random.js';
import type { Application, Parameter } from '../model/application.js';
import { membersOf, type TypeTable } from '../model/types.js';
import { PayloadSource } from './payloads.js';
import { poolOf } from './pool.js';

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
export function questionsOf(
  application: Application,
): (state: Readonly<Record<string, unknown>>) => readonly Question[] {
  const asked = application.stores.flatMap((store) =>
    store.derived
      .filter(({ params }) => params.length > 0)
      .map(({ name, params }) => ({ store: store.name, name, params })),
  );
  if (asked.length === 0) return () => [];
  return (state) => {
    const pool = poolOf(application, state);
    const source = new PayloadSource(application.types, new Random(mostCombinations));
    return asked.flatMap(({ store, name, params }) => {
      const combinations = Array.from({ length: mostCombinations }, (_, i) =>
        params.map((param) =>
          argumentFor(param, i, application.types, () => source.fitting(param.type, pool)),
        ),
      );
      const distinct = new Map(combinations.map((args) => [canonicalText(args), args]));
      return [...distinct].map(([text, args]) => ({
        store,
        name,
        args,
        text: `${store}.${name}(${text.slice(1, -1)})`,
      }));
    });
  };
}

/** Where there are a few values only, one after the other; else drawn. */
function argumentFor(param: Parameter, i: number, types: TypeTable, draw: () => Json): Json {
  const members = membersOf(param.type, types);
  const values = members.flatMap((member) => (member.kind === 'literal' ? [member.value] : []));
  return values.length === members.length && values.length > 0
    ? (values[i % values.length] as Json)
    : draw();
}
