import type { Problems } from '../problems/problem.js';
import type { Operation, Service } from '../../model/tasks.js';
import { entriesOf, textOf, valueOf, type Located, type LocatedEntry } from '../syntax/located.js';
import { NameRegister } from './names.js';
import type { TypeReader } from './read-types.js';

/** Collects what the services offer, with its types. */
export function declareServices(
  node: Located | undefined,
  reader: TypeReader,
  problems: Problems,
): ReadonlyMap<string, Service> {
  const names = new NameRegister(problems);
  const services = entriesOf(node).filter(({ key, keySpan }) =>
    names.take(key, 'a service', keySpan),
  );
  return new Map(
    services.map(({ key, keySpan: span, value }) => {
      const own = new NameRegister(problems);
      const operations = entriesOf(valueOf(value, 'operations'))
        .filter((entry) => own.take(entry.key, 'an operation', entry.keySpan))
        .map((entry) => operation(entry, reader, problems));
      return [key, { name: key, about: textOf(valueOf(value, 'about')), span, operations }];
    }),
  );
}

function operation(
  { key: name, keySpan: span, value }: LocatedEntry,
  reader: TypeReader,
  problems: Problems,
): Operation {
  const read = (part: string) => {
    const type = valueOf(value, part);
    return type === undefined ? undefined : reader.read(type, false);
  };
  const [payload, result, results, error] = [
    read('payload'),
    read('result'),
    read('results'),
    read('error'),
  ];
  const extra = valueOf(value, 'extra');
  if (extra !== undefined && result === undefined && results === undefined)
    problems.add('wrong-structure', extra.span, {
      detail: "'extra' needs a 'result' or 'results': what it takes properties off.",
    });
  const about = textOf(valueOf(value, 'about'));
  return { name, about, span, payload, result, results, error, dropsExtra: extra !== undefined };
}
