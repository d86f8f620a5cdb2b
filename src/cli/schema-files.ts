import type { Argv } from 'yargs';

/** The schema files that a command is about: several make one schema. */
export function withSchemaFiles(yargs: Argv) {
  return yargs.positional('files', {
    describe: 'schema files, folders of them, or patterns',
    type: 'string',
    array: true,
    default: [],
    defaultDescription: 'those of leeshore.config.yaml',
  });
}
