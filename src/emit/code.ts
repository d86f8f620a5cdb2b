import { whyNoIdentifier } from './identifiers.js';

/** A piece of code; made only by {@link code}, {@link id}, {@link data} and {@link joined}, so that data never becomes code. */
export class Code {
  private constructor(readonly text: string) {}

  /** For the builders in this file only. */
  static of(text: string): Code {
    return new Code(text);
  }
}

type Part = Code | readonly Code[];

/** The value of an arrow function: what begins with a brace would be taken for its body. */
export function arrowValue(value: Code): Code {
  return value.text.startsWith('{') ? code`(${value})` : value;
}

/** Code from a template; what is put in is code, or a list of code that is written line by line. */
export function code(template: TemplateStringsArray, ...parts: readonly Part[]): Code {
  let text = template[0] ?? '';
  parts.forEach((part, i) => {
    text += part instanceof Code ? part.text : part.map((line) => line.text).join('\n');
    text += template[i + 1] ?? '';
  });
  return Code.of(text);
}

/** An identifier, or a dotted name of identifiers. */
export function id(name: string): Code {
  for (const part of name.split('.')) {
    const why = whyNoIdentifier(part);
    if (why !== undefined) throw new Error(`'${name}' cannot be written as a name: ${why}`);
  }
  return Code.of(name);
}

/** A property after a dot, or after `?.`. Reserved words may stand there. */
export function property(name: string, optional = false): Code {
  if (isPlainKey(name)) return Code.of(`${optional ? '?' : ''}.${name}`);
  return Code.of(`${optional ? '?.' : ''}[${JSON.stringify(name)}]`);
}

/** A key in an object literal or an object type. */
export function key(name: string): Code {
  if (name === '__proto__') return Code.of('["__proto__"]');
  return Code.of(isPlainKey(name) ? name : JSON.stringify(name));
}

function isPlainKey(name: string): boolean {
  return /^[A-Za-z_$][\w$]*$/.test(name);
}

/** JSON data as a literal. */
export function data(value: unknown): Code {
  if (typeof value === 'number' && (value < 0 || Object.is(value, -0)))
    return Code.of(`-${JSON.stringify(-value)}`);
  if (Array.isArray(value)) return Code.of(`[${value.map((item) => data(item).text).join(', ')}]`);
  if (typeof value === 'object' && value !== null) {
    const parts = Object.entries(value).map(
      ([name, part]) => `${key(name).text}: ${data(part).text}`,
    );
    return Code.of(`{ ${parts.join(', ')} }`);
  }
  return Code.of(
    JSON.stringify(value).replaceAll('\u2028', '\\u2028').replaceAll('\u2029', '\\u2029'),
  );
}

/** A template literal of texts with code between them. */
export function template(texts: readonly string[], values: readonly Code[]): Code {
  const escape = (text: string) =>
    data(text)
      .text.slice(1, -1)
      .replaceAll('\\"', '"')
      .replaceAll('`', '\\`')
      .replaceAll('${', '\\${');
  const pieces = texts.map(
    (text, i) => escape(text) + (values[i] === undefined ? '' : `\${${values[i].text}}`),
  );
  return Code.of(`\`${pieces.join('')}\``);
}

/** Pieces with something between them. */
export function joined(
  parts: readonly Code[],
  separator: ', ' | ' | ' | ' && ' | ' || ' | '\n' | '\n\n' | '',
): Code {
  return Code.of(parts.map(({ text }) => text).join(separator));
}

/** A documentation comment; nothing if there is nothing to say. */
export function doc(about: string | undefined): Code {
  if (about === undefined || about.trim() === '') return Code.of('');
  const line = about.trim().replace(/\s+/g, ' ').replaceAll('*/', '* /');
  return Code.of(`/** ${line} */\n`);
}

/** A line comment. */
export function comment(text: string): Code {
  return Code.of(`// ${text.replace(/\s+/g, ' ')}\n`);
}

export const nothing = Code.of('');
