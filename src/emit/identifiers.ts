const reserved = new Set(
  (
    'arguments await break case catch class const continue debugger default delete do else enum eval export ' +
    'extends false finally for function if implements import in instanceof interface let new null package ' +
    'private protected public return static super switch this throw true try typeof undefined var void while with yield'
  ).split(' '),
);

/** Why a text cannot stand as an identifier in strict code; `undefined` if it can. */
export function whyNoIdentifier(name: string): string | undefined {
  if (!/^[\p{ID_Start}$_][\p{ID_Continue}$]*$/u.test(name)) return 'it is no identifier';
  return reserved.has(name) ? 'it is a reserved word' : undefined;
}

/** Gives out identifiers that are not in use in a file or function. */
export class Names {
  readonly #taken: Set<string>;

  constructor(taken: Iterable<string> = []) {
    this.#taken = new Set(taken);
  }

  /** The wanted name, or the first of `name_`, `name_2`, ... that is free. */
  allocate(wanted: string): string {
    let name = wanted;
    for (let i = 1; this.#taken.has(name) || whyNoIdentifier(name) !== undefined; i++) {
      name = `${wanted}_${i === 1 ? '' : i}`;
    }
    this.#taken.add(name);
    return name;
  }

  /** Every name that is taken. */
  get all(): readonly string[] {
    return [...this.#taken];
  }

  /** A register for a scope within this one. */
  inner(): Names {
    return new Names(this.#taken);
  }
}

/** 'setCapacity' as 'SetCapacity'. */
export function pascal(name: string): string {
  return name.charAt(0).toUpperCase() + name.slice(1);
}
