import { Ajv2020, type ErrorObject } from 'ajv/dist/2020.js';
import { isMap, LineCounter, parseDocument, type Document } from 'yaml';
import { nearest } from '../core.js';
import { configSchema } from './config-schema.js';
import { Unusable } from './io.js';
import { renamed } from './options/parser.js';
import { allOptions } from './options/table.js';

/** What a project file says: the schema files, and options by command. */
export interface Config {
  readonly files: readonly string[];
  readonly options: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
}

/** What the text of a project file says. Throws {@link Unusable} if something is wrong in it, with its place. */
export function configIn(text: string, name: string): Config {
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, version: '1.2' });
  const at = (offset = 0) => {
    const { line, col } = lines.linePos(offset);
    return `${name}:${Math.max(line, 1)}:${Math.max(col, 1)}`;
  };
  const [broken] = document.errors;
  if (broken !== undefined)
    throw new Unusable(
      `${at(broken.pos[0])}: ${broken.message.split('\n')[0] ?? ''}`,
      'Correct the YAML.',
    );
  const value: unknown = document.toJS() ?? {};
  const validate = new Ajv2020({ allErrors: false }).compile(configSchema);
  const [error] = validate(value) ? [] : (validate.errors ?? []);
  if (error !== undefined) throw misfit(error, document, at);
  const { files = [], ...options } = value as {
    files?: readonly string[];
  } & Record<string, Readonly<Record<string, unknown>>>;
  return { files, options: Object.fromEntries(Object.entries(options).map(joined)) };
}

function misfit(error: ErrorObject, document: Document, at: (offset?: number) => string): Unusable {
  const path = error.instancePath.split('/').slice(1);
  const { additionalProperty: odd } = error.params as { additionalProperty?: string };
  const node = document.getIn(path, true);
  const entry = isMap(node) ? node.items.find(({ key }) => String(key) === odd) : undefined;
  const { range } = (entry?.key ?? node ?? {}) as { range?: readonly number[] };
  const where = path.length === 0 ? 'the project file' : `'${path.join('.')}'`;
  if (odd === undefined) {
    const { allowedValues } = error.params as { allowedValues?: readonly string[] };
    return new Unusable(
      `${at(range?.[0])}: ${where} ${error.message ?? 'does not fit'}.`,
      allowedValues === undefined
        ? 'leeshore schema --project prints what the project file may say.'
        : `There are: ${allowedValues.join(', ')}.`,
    );
  }
  const [command = ''] = path;
  const now = path.length === 1 ? renamed(allOptions[command] ?? {}, odd) : undefined;
  if (now !== undefined)
    return new Unusable(
      `${at(range?.[0])}: there is no '${odd}' in ${where} any more.`,
      `It is called '${now}' now.`,
    );
  const known = propertiesAt(configSchema, path);
  const meant = nearest(odd, known);
  return new Unusable(
    `${at(range?.[0])}: there is no '${odd}' in ${where}.`,
    meant === undefined ? `There are: ${known.join(', ')}.` : `Did you mean '${meant}'?`,
  );
}

/** Lists as the command line takes them: with commas. */
function joined([command, options]: readonly [string, Readonly<Record<string, unknown>>]) {
  const entries = Object.entries(options).map(([name, value]) => [
    name,
    Array.isArray(value) ? value.join(',') : value,
  ]);
  return [command, Object.fromEntries(entries) as Readonly<Record<string, unknown>>] as const;
}

function propertiesAt(schema: object, path: readonly string[]): string[] {
  const { properties = {} } = schema as { properties?: Readonly<Record<string, object>> };
  const [first, ...rest] = path;
  if (first === undefined) return Object.keys(properties);
  return propertiesAt(properties[first] ?? {}, rest);
}
