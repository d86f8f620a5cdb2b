import { join } from 'node:path';
import type { Argv } from 'yargs';
import { checkedSchema } from '../checked-schema.js';
import { ownVersion, readRuntime } from '../files.js';
import { exitCodes, paintFor, type Io } from '../io.js';
import { progressOf } from '../progress.js';
import { styleList } from '../styles.js';
import { writeGenerated, type FolderContent, type Written } from '../write-generated.js';
import { withSchemaFiles } from '../schema-files.js';

export const command = 'generate <files..>';
export const describe = 'Write the stores of a schema as TypeScript, in one or more styles';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .option('style', {
      describe: 'reducer, atom, proxy, observable; several with commas',
      type: 'string',
      default: 'reducer,atom,proxy,observable',
    })
    .option('out', {
      describe: 'folder; each style gets a folder in it',
      type: 'string',
      default: 'stores',
    })
    .example(
      '$0 generate ferry.stores.yaml --style atom --out src/stores',
      'writes src/stores/atom',
    );
}

export interface GenerateArguments {
  readonly files: readonly string[];
  readonly style: string;
  readonly out: string;
}

export async function run(io: Io, { files, style, out }: GenerateArguments): Promise<number> {
  const { generateStyle, ownershipOf } = await import('../../index.js');
  const wanted = await styleList(style);
  const checked = await checkedSchema(io, files);
  if ('exitCode' in checked) return checked.exitCode;
  const options = { version: ownVersion(), schema: checked.file.path, readRuntime };
  const progress = await progressOf(io, wanted.length, 'generating');
  const contents: FolderContent[] = [];
  for (const [i, style] of wanted.entries()) {
    progress.at(i, style);
    const files = await generateStyle(checked.application, style, options);
    contents.push({ folder: join(out, style), files });
  }
  progress.stop();
  const written = writeGenerated(io, contents, ownershipOf);
  io.stdout(`${written.map((folder) => writtenText(folder, io)).join('\n')}\n`);
  return exitCodes.fine;
}

function writtenText({ folder, written, unchanged, removed }: Written, io: Io): string {
  const parts = [
    ...(written > 0 ? [`${written} written`] : []),
    ...(unchanged > 0 ? [`${unchanged} unchanged`] : []),
    ...(removed > 0 ? [`${removed} removed`] : []),
  ];
  return `${paintFor(io).bold(folder.padEnd(24))} ${parts.join(', ')}`;
}
