import { createHash } from 'node:crypto';
import { canonicalText } from '../../base/canonical.js';
import { isObject } from '../../base/json.js';
import { secretsOf } from '../../model/secrets.js';
import type { Application } from '../../model/application.js';
import { code, data, entry, joined, object, word, type Code } from '../build/code.js';
import type { Output } from './output.js';

/** What the parts of a model have that is of no meaning: places in files, and descriptions. */
const ignored: ReadonlySet<string> = new Set(['span', 'at', 'about']);

/** The SHA-256 of what a schema means, in hexadecimal digits: comments, layout and descriptions do not count. */
export function schemaDigest({ types, functions, services, stores }: Application): string {
  const meaning = meaningOf([[...types.values()], functions, services, stores]);
  return createHash('sha256').update(canonicalText(meaning)).digest('hex');
}

function meaningOf(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(meaningOf);
  if (!isObject(value)) return value;
  const isModel = 'span' in value;
  const parts = Object.entries(value).filter(([key]) => !isModel || !ignored.has(key));
  return Object.fromEntries(parts.map(([key, part]) => [key, meaningOf(part)]));
}

/** What the first line of a log says of the schema. */
export const schemaForLog = (application: Application): Code =>
  object([
    entry('name', data(application.title ?? application.stores.map(({ name }) => name).join(', '))),
    entry('sha256', data(schemaDigest(application))),
  ]);

/** Where secrets are; nothing where there are none. */
export function secretsForLog(application: Application): Code | undefined {
  const secrets = secretsOf(application);
  if (secrets === undefined) return undefined;
  const table: unknown = JSON.parse(JSON.stringify(secrets));
  return data(table);
}

const sinks = ['allLogs', 'consoleLog', 'downloadLog', 'fileLog', 'liveLog', 'memoryLog'];

/** What the entry gives of logs: the sinks, and the types of lines. */
export function logExports({ options }: Pick<Output, 'options'>): readonly Code[] {
  if (!options.log) return [];
  const names = joined(sinks.map(word), ', ');
  return [
    code`export { ${names} } from ${data('./runtime/logs.js')};`,
    code`export type { LogEntry, MemoryLog } from ${data('./runtime/logs.js')};`,
    code`export type { LogHead, LogLine, LogSink } from ${data('./runtime/log.js')};`,
  ];
}
