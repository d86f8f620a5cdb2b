import type { Argv } from 'yargs';
import { checkedSchema } from '../checked-schema.js';
import type { overviewOf } from '../../core.js';
import { exitCodes, paintFor, requireOneOf, Unusable, type Io } from '../io.js';
import { withSchemaFiles } from '../schema-files.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'show [files..]';
export const describe =
  'Show what a schema says: inferred types, who reads what, who stores to what';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .example('$0 show ferry.stores.yaml', 'a text to read')
    .example('$0 show ferry.stores.yaml --dot | dot -Tsvg > ferry.svg', 'a picture');
}

export type ShowArguments = ArgumentsOf<'show'> & { readonly files: readonly string[] };

export async function run(io: Io, args: ShowArguments): Promise<number> {
  const { files, json, dot, mermaid } = args;
  requireOneOf({ json, dot, mermaid });
  const core = await import('../../core.js');
  const checked = await checkedSchema(io, files);
  if ('exitCode' in checked) return checked.exitCode;
  const overview = only(core.overviewOf(checked.application), args.store);
  const text = json
    ? JSON.stringify(overview, null, 2)
    : dot
      ? core.overviewDot(overview)
      : mermaid
        ? core.overviewMermaid(overview)
        : core.overviewText(overview, paintFor(io));
  (json || dot || mermaid ? io.stdout : io.print)(`${text}\n`);
  return exitCodes.fine;
}

type Overview = ReturnType<typeof overviewOf>;

/** The part of an overview that is about some stores. */
function only(overview: Overview, named: string | undefined): Overview {
  if (named === undefined) return overview;
  const names = named.split(',').map((name) => name.trim());
  const known = overview.stores.map(({ name }) => name);
  const odd = names.find((name) => !known.includes(name));
  if (odd !== undefined)
    throw new Unusable(`There is no store '${odd}'.`, `The stores are ${known.join(', ')}.`);
  return { ...overview, stores: overview.stores.filter(({ name }) => names.includes(name)) };
}
