import type { Argv } from 'yargs';
import { checkedSchema } from '../checked-schema.js';
import { exitCodes, paintFor, type Io } from '../io.js';

export const command = 'show <files..>';
export const describe =
  'Show what a schema says: inferred types, who reads what, who stores to what';

export function builder(yargs: Argv) {
  return yargs
    .positional('files', {
      describe: 'schema files, or patterns for them',
      type: 'string',
      array: true,
      demandOption: true,
    })
    .option('json', { describe: 'print one JSON value', type: 'boolean', default: false })
    .option('dot', { describe: 'print a graph for Graphviz', type: 'boolean', default: false })
    .option('mermaid', { describe: 'print a Mermaid flowchart', type: 'boolean', default: false })
    .example('$0 show ferry.stores.yaml', 'a text to read')
    .example('$0 show ferry.stores.yaml --dot | dot -Tsvg > ferry.svg', 'a picture');
}

export interface ShowArguments {
  readonly files: readonly string[];
  readonly json: boolean;
  readonly dot: boolean;
  readonly mermaid: boolean;
}

export async function run(io: Io, { files, json, dot, mermaid }: ShowArguments): Promise<number> {
  const core = await import('../../index.js');
  const checked = await checkedSchema(io, files);
  if ('exitCode' in checked) return checked.exitCode;
  const overview = core.overviewOf(checked.application);
  const text = json
    ? JSON.stringify(overview, null, 2)
    : dot
      ? core.overviewDot(overview)
      : mermaid
        ? core.overviewMermaid(overview)
        : core.overviewText(overview, paintFor(io));
  io.stdout(`${text}\n`);
  return exitCodes.fine;
}
