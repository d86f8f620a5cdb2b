import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Argv } from 'yargs';
import { checkedSchema } from '../checked-schema.js';
import { ownVersion, packageRoot } from '../../library/package-files.js';
import { exitCodes, requireOneOf, type Io } from '../io.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'schema';
export const describe =
  'Print the JSON Schema of the format, of the project file, or of the types in a schema file';

export function builder(yargs: Argv) {
  return yargs
    .example('$0 schema > leeshore-1.schema.json', 'for an editor that completes and checks YAML')
    .example('$0 schema --types ferry.stores.yaml', 'the types, with the short forms written out')
    .example('$0 schema --types ferry.stores.yaml --language ts', 'the types as TypeScript');
}

export type SchemaArguments = ArgumentsOf<'schema'>;

export async function run(io: Io, { types, project, language }: SchemaArguments): Promise<number> {
  requireOneOf({ types: types !== undefined, project });
  if (project) {
    const { configSchema } = await import('../config-schema.js');
    io.stdout(`${JSON.stringify(configSchema, null, 2)}\n`);
    return exitCodes.fine;
  }
  if (types === undefined) {
    io.stdout(readFileSync(join(packageRoot(), 'schema/leeshore-1.schema.json'), 'utf8'));
    return exitCodes.fine;
  }
  const { typesDocument, typesModule } = await import('../../core.js');
  const checked = await checkedSchema(io, [types]);
  if ('exitCode' in checked) return checked.exitCode;
  const { application, file } = checked;
  if (language === 'ts') {
    io.stdout(await typesModule(application, { version: ownVersion(), schema: file.path }));
    return exitCodes.fine;
  }
  io.stdout(`${JSON.stringify(typesDocument(application), null, 2)}\n`);
  return exitCodes.fine;
}
