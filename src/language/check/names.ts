import reservedIdentifiers from 'reserved-identifiers';
import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { languageFunctions } from '../../model/functions.js';

const reserved: ReadonlySet<string> = reservedIdentifiers();

/** What the expression language has beside its functions: no name, not even a local one, may hide these. */
export const globalNames: ReadonlySet<string> = new Set(
  'undefined NaN Infinity Math Number String Object Array Boolean'.split(' '),
);

/** The functions of the expression language that have no owner: nothing else that can be called is called like them. */
const functionNames: ReadonlySet<string> = new Set(
  Object.keys(languageFunctions).filter((name) => !name.includes('.') && !globalNames.has(name)),
);

/** The names that the expression language itself gives a meaning to, in some place or in all. */
export const languageNames: ReadonlySet<string> = new Set([
  ...globalNames,
  ...functionNames,
  'payload',
]);

const scripts = [/\p{Script=Latin}/u, /\p{Script=Greek}/u, /\p{Script=Cyrillic}/u];

const identifier = /^[\p{ID_Start}$_][\p{ID_Continue}$]*$/u;

/** Why a text cannot be a name in a schema; `undefined` if it can. */
export function whyNoName(name: string): string | undefined {
  if (!identifier.test(name)) return 'it is no ECMAScript identifier';
  if (name.normalize('NFKC') !== name) return 'it has letters that look like others';
  if (scripts.filter((script) => script.test(name)).length > 1)
    return 'it mixes letters of several scripts that look alike';
  if (reserved.has(name)) return 'it is a reserved word';
  if (name in Object.prototype) return 'every object has a property of that name';
  return undefined;
}

interface Taken {
  readonly what: string;
  readonly span: Span | undefined;
}

/** Names that are given out once, with the place where each was. */
export class NameRegister {
  readonly #taken = new Map<string, Taken>();

  constructor(
    readonly problems: Problems,
    /** The register around this one, and the name in it that is free again here. */
    readonly outer?: { readonly names: NameRegister; readonly own: string },
  ) {}

  /** Reserves a name without a place of its own. */
  reserve(name: string, what: string, span?: Span): void {
    this.#taken.set(name, { what, span });
  }

  /** A register for what is within the thing of that name: its own name is free again there. */
  within(own: string): NameRegister {
    return new NameRegister(this.problems, { names: this, own });
  }

  /** `isRead`: whether it is the name of a value that is read and never called, as a field is. */
  #find(name: string, isRead: boolean): Taken | undefined {
    if (languageNames.has(name) && !(isRead && functionNames.has(name)))
      return { what: 'something in the expression language', span: undefined };
    const here = this.#taken.get(name);
    if (here !== undefined || this.outer === undefined || this.outer.own === name) return here;
    return this.outer.names.#find(name, isRead);
  }

  /** Gives out a name; false, with a problem, if it is taken or cannot be a name. */
  take(name: string, what: string, span: Span, isRead = false): boolean {
    const why = whyNoName(name);
    if (why !== undefined) {
      this.problems.add('bad-name', span, { name, why });
      return false;
    }
    const by = this.#find(name, isRead);
    if (by !== undefined) {
      const related =
        by.span === undefined ? [] : [{ message: 'first defined here', span: by.span }];
      this.problems.add('name-taken', span, { name, by: by.what }, related);
      return false;
    }
    this.#taken.set(name, { what, span });
    return true;
  }
}
