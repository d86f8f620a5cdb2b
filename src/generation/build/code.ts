/**
 * Something in the output that has a name. Which identifier that is, is settled when its file is printed: so names of
 * the schema, of the run time and of our own never meet.
 */
export class Name {
  constructor(
    readonly wanted: string,
    /** `fixed` names are written as they are: what others import, and what is global. */
    readonly kind: 'free' | 'fixed' = 'free',
  ) {}
}

/** Names that are known within a piece of code, and nowhere else. */
export class NameScope {
  constructor(
    readonly names: readonly Name[],
    readonly content: Code,
  ) {}
}

/** A property of an object: written once if its value is a name that is the same. */
export class Entry {
  constructor(
    readonly key: string,
    readonly value: Code,
  ) {}
}

/** The value of an arrow function: what begins with a brace would be taken for its body. */
export class ArrowValue {
  constructor(readonly value: Code) {}
}

/** Code that is known only when all is written. */
export class Late {
  constructor(readonly read: () => Code) {}
}

export type Part = string | Name | Code | NameScope | Entry | ArrowValue | Late;

/** A piece of code; made only by the functions of this file, so that data never becomes code. */
export class Code {
  private constructor(readonly parts: readonly Part[]) {}

  /** For the builders in this file only. */
  static of(...parts: readonly Part[]): Code {
    return new Code(parts);
  }
}

type Given = Code | Name | readonly Code[];

/** Code from a template; what is put in is code, a name, or a list of code that is written line by line. */
export function code(template: TemplateStringsArray, ...given: readonly Given[]): Code {
  const parts: Part[] = [template[0] ?? ''];
  given.forEach((part, i) => {
    if (part instanceof Code || part instanceof Name) parts.push(part);
    else parts.push(joined(part, '\n'));
    parts.push(template[i + 1] ?? '');
  });
  return Code.of(...parts);
}

/** A name as code. */
export const named = (name: Name): Code => Code.of(name);

/** Nothing at all. */
export const nothing = Code.of();

/** True if there is no code. */
export const isNothing = (piece: Code): boolean => piece === nothing;

/** Code in which some names are known. */
export function scoped(names: readonly Name[], content: Code): Code {
  return names.length === 0 ? content : Code.of(new NameScope(names, content));
}

/** Code that is asked for when the file is printed. */
export const late = (read: () => Code): Code => Code.of(new Late(read));

/** A function that gives a value, with the names of its parameters; `written` are these with their types. */
export function arrow(
  names: readonly Name[],
  value: Code,
  written = names.map(named),
  type = nothing,
): Code {
  const result = isNothing(type) ? nothing : code`: ${type}`;
  return scoped(
    names,
    code`(${joined(written, ', ')})${result} => ${Code.of(new ArrowValue(value))}`,
  );
}

/** A function with a body of statements. */
export function arrowBody(names: readonly Name[], body: Code, written = names.map(named)): Code {
  return scoped(names, code`(${joined(written, ', ')}) => {\n${body}\n}`);
}

/** A property of an object, with its comma left out. */
export const entry = (key: string, value: Code): Code => Code.of(new Entry(key, value));

/** An object literal of entries and spreads. */
export function object(parts: readonly Code[]): Code {
  return parts.length === 0 ? code`{}` : code`{ ${joined(parts, ', ')} }`;
}

/** An object type of members such as `readonly id: string`, on one line as far as that has room. */
export const objectType = (members: readonly Code[]): Code => code`{ ${joined(members, '; ')} }`;

/** A property after a dot, or after `?.`. Reserved words may stand there. */
export function property(name: string, optional = false): Code {
  if (isPlainKey(name)) return Code.of(`${optional ? '?' : ''}.${name}`);
  return Code.of(`${optional ? '?.' : ''}[${JSON.stringify(name)}]`);
}

/** A key in an object literal or an object type. */
export const key = (name: string): Code => Code.of(keyText(name));

export function keyText(name: string): string {
  if (name === '__proto__') return '["__proto__"]';
  return isPlainKey(name) ? name : JSON.stringify(name);
}

function isPlainKey(name: string): boolean {
  return /^[A-Za-z_$][\w$]*$/.test(name);
}

/** A word of the language, such as the name of a type of its own. */
export function word(text: string): Code {
  if (!/^[\p{ID_Continue}$]+$/u.test(text)) throw new Error(`'${text}' is no word`);
  return Code.of(text);
}

/** JSON data as a literal. */
export const data = (value: unknown): Code => Code.of(dataText(value));

function dataText(value: unknown): string {
  if (typeof value === 'number' && (value < 0 || Object.is(value, -0)))
    return `-${JSON.stringify(-value)}`;
  if (Array.isArray(value)) return `[${value.map(dataText).join(', ')}]`;
  if (typeof value === 'object' && value !== null) {
    const parts = Object.entries(value).map(
      ([name, part]) => `${keyText(name)}: ${dataText(part)}`,
    );
    return parts.length === 0 ? '{}' : `{ ${parts.join(', ')} }`;
  }
  return JSON.stringify(value).replaceAll('\u2028', '\\u2028').replaceAll('\u2029', '\\u2029');
}

/** A template literal of texts with code between them. */
export function template(texts: readonly string[], values: readonly Code[]): Code {
  const escape = (text: string) =>
    dataText(text)
      .slice(1, -1)
      .replaceAll('\\"', '"')
      .replaceAll('`', '\\`')
      .replaceAll('${', '\\${');
  const pieces = texts.flatMap((text, i): Part[] => {
    const value = values[i];
    return value === undefined ? [escape(text)] : [`${escape(text)}\${`, value, '}'];
  });
  return Code.of('`', ...pieces, '`');
}

/** Pieces with something between them; pieces that are nothing are left out. */
export function joined(
  pieces: readonly Code[],
  separator: ', ' | '; ' | ' | ' | ' & ' | ' && ' | ' || ' | '\n' | '\n\n' | '',
): Code {
  const parts: Part[] = [];
  for (const piece of pieces) {
    if (isNothing(piece)) continue;
    if (parts.length > 0) parts.push(separator);
    parts.push(piece);
  }
  return parts.length === 0 ? nothing : Code.of(...parts);
}

/** A documentation comment; nothing if there is nothing to say. */
export function doc(about: string | undefined): Code {
  if (about === undefined || about.trim() === '') return nothing;
  const line = about.trim().replace(/\s+/g, ' ').replaceAll('*/', '* /');
  return Code.of(`/** ${line} */\n`);
}

/** A line comment. */
export function comment(text: string): Code {
  return Code.of(`// ${text.replace(/\s+/g, ' ')}\n`);
}
