import { isReserved } from './reserved.js';
import { ArrowValue, Code, Entry, keyText, Late, Name, NameScope, type Part } from './code.js';

/** Prints code in which names are known: `known` gives what each is called. */
export function printCode(content: Code, known: ReadonlyMap<Name, string> = new Map()): string {
  const uses = new Map<NameScope, ReadonlySet<Name>>();
  const all = namesIn(content, uses);
  const identifiers = new Map(known);
  settleScopes(content, uses, identifiers);
  for (const name of all)
    if (!identifiers.has(name))
      throw new Error(`'${name.wanted}' is not declared where it is used`);
  return textOf(content, identifiers);
}

/** All names that code uses. */
export function namesUsed(content: Code): ReadonlySet<Name> {
  return namesIn(content, new Map());
}

/** The code with names as they are wanted: to compare pieces, not to write them. */
export function roughText(content: Code): string {
  const names = new Map([...namesUsed(content)].map((name) => [name, name.wanted]));
  return textOf(content, names);
}

/** An identifier that is free: the wanted one, or the first of `name_`, `name_2`, ... */
export function freeIdentifier(wanted: string, taken: ReadonlySet<string>): string {
  let identifier = wanted;
  for (let i = 1; taken.has(identifier) || isReserved(identifier); i++)
    identifier = `${wanted}_${i === 1 ? '' : i}`;
  return identifier;
}

function* partsOf(part: Part): Generator<Part> {
  if (part instanceof Code) yield* part.parts;
  else if (part instanceof NameScope) yield part.content;
  else if (part instanceof Entry || part instanceof ArrowValue) yield part.value;
  else if (part instanceof Late) yield part.read();
}

/** The names that code uses, and noted for each scope in it those that are used there. */
function namesIn(part: Part, uses: Map<NameScope, ReadonlySet<Name>>): Set<Name> {
  const found = new Set<Name>();
  if (part instanceof Name) found.add(part);
  for (const inner of partsOf(part)) for (const name of namesIn(inner, uses)) found.add(name);
  if (part instanceof NameScope) uses.set(part, found);
  return found;
}

/** Outer scopes first: a name within keeps clear of all that is used where it is known. */
function settleScopes(
  part: Part,
  uses: ReadonlyMap<NameScope, ReadonlySet<Name>>,
  identifiers: Map<Name, string>,
): void {
  if (part instanceof NameScope) {
    const used = uses.get(part) ?? new Set();
    const taken = new Set<string>();
    for (const name of used) {
      if (part.names.includes(name)) continue;
      const identifier = identifiers.get(name);
      if (identifier !== undefined) taken.add(identifier);
    }
    for (const name of part.names) {
      if (!used.has(name)) continue;
      const identifier = freeIdentifier(name.wanted, taken);
      identifiers.set(name, identifier);
      taken.add(identifier);
    }
  }
  for (const inner of partsOf(part)) settleScopes(inner, uses, identifiers);
}

function textOf(part: Part, identifiers: ReadonlyMap<Name, string>): string {
  if (typeof part === 'string') return part;
  if (part instanceof Name) return identifiers.get(part) ?? part.wanted;
  if (part instanceof Entry) {
    const value = textOf(part.value, identifiers);
    return value === part.key ? value : `${keyText(part.key)}: ${value}`;
  }
  if (part instanceof ArrowValue) {
    const value = textOf(part.value, identifiers);
    return value.startsWith('{') ? `(${value})` : value;
  }
  let text = '';
  for (const inner of partsOf(part)) text += textOf(inner, identifiers);
  return text;
}
