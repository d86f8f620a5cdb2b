import type { Json } from '../../base/json.js';
import type { Store } from '../../model/application.js';
import type { OldSaved, OlderVersion } from '../../model/saved.js';
import { arrow, code, data, entry, Name, named, object, word, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { localsRead } from './expression-facts.js';
import type { Output } from './output.js';
import { printExpr } from './print-expression.js';
import { pureReading } from './reading.js';

/** What the run time is told of what is kept of a store in storage; `undefined` if nothing is. */
export function savedPlan(output: Output, store: Store, module: Module): Code | undefined {
  const { saved, single } = store;
  if (saved === undefined) return undefined;
  const { fields, key, version, from, old } = saved;
  return object([
    ...(single ? [] : [entry('fields', data(fields))]),
    entry('key', data(key)),
    ...(version === undefined ? [] : [entry('version', data(version))]),
    ...(from.length === 0
      ? []
      : [entry('from', object(from.map((one) => olderVersion(output, one, module))))]),
    ...(old === undefined
      ? []
      : [
          entry(
            'old',
            code`${module.value('runtime/kept-before', 'keptBefore')}(${object([
              ...keysOf(old, 'keys', false),
              ...keysOf(old, 'texts', true),
              entry('make', madeOfOld(output, old.fields, module)),
            ])})`,
          ),
        ]),
  ]);
}

/** The keys of JSON data, or of texts; nothing if there are none. */
function keysOf({ keys }: OldSaved, part: 'keys' | 'texts', isText: boolean) {
  const own = keys.filter((one) => one.isText === isText).map(({ name, key }) => [name, key]);
  return own.length === 0 ? [] : [entry(part, data(Object.fromEntries(own) as Json))];
}

/** How the fields are made of those of an earlier version: `1: (old: Stored) => ({ limit: old.threshold ?? 18 })`. */
function olderVersion(output: Output, { version, fields }: OlderVersion, module: Module): Code {
  return code`${word(String(version))}: ${madeOfOld(output, fields, module)}`;
}

function madeOfOld(output: Output, fields: OlderVersion['fields'], module: Module): Code {
  const old = new Name('old');
  const stored = module.type('runtime/saved', 'Stored');
  const reading = {
    ...pureReading(output, module, () => {
      throw new Error('what was stored is all that there is to read');
    }),
    locals: new Map([['old', named(old)]]),
    // Nothing is known of what was stored, nor of its parts.
    parameterType: code`${stored}`,
  };
  const isRead = fields.some(({ value }) => localsRead(value).includes('old'));
  const made = object(fields.map(({ field, value }) => entry(field, printExpr(value, reading))));
  const written = isRead ? [code`${old}: ${stored}`] : [];
  return arrow(isRead ? [old] : [], code`(${made})`, written);
}
