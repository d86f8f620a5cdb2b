import type { UpdatedParticipant } from '../generation/index.js';
import { loadFormatting, loadLines, loadSkeleton, loadUpdating } from '../generation/loaders.js';
import { withCompiler } from '../library/with-compiler.js';
import type { Application } from '../model/application.js';
import { oneLine, withHeader } from '../model/file-header.js';

/** A file that Leeshore writes for people, who go on from there; formatted. */
async function formatted(path: string, text: string): Promise<string> {
  const { formatFiles } = await loadFormatting();
  const [file] = await formatFiles([{ path, text }], false);
  return file?.text ?? text;
}

/**
 * A participant file to be filled in, typed by a schema. `schema` is the schema's path, `types` the module that its
 * types come from, as the file imports it: `./ferry.types.js`.
 */
export async function participantFor(
  application: Application,
  { schema, types }: { readonly schema: string; readonly types: string },
): Promise<string> {
  const { participantSkeleton } = await loadSkeleton();
  return formatted('participant.ts', participantSkeleton(application, oneLine(schema), types));
}

/** The types of a schema as a TypeScript module, with a header that holds a checksum of the rest. */
export async function typesModule(
  application: Application,
  origin: { readonly version: string; readonly schema: string },
): Promise<string> {
  const { participantTypes } = await loadSkeleton();
  const text = await formatted('types.ts', participantTypes(application));
  return withHeader(text, { ...origin, kind: 'types' });
}

/**
 * Adds to a participant file what the schema has and it lacks, and says what it has that the schema does not; all else
 * stays as it is. `undefined` if its tables are not written out as one object.
 */
export async function participantUpdate(
  application: Application,
  { path, text, types }: { readonly path: string; readonly text: string; readonly types: string },
): Promise<UpdatedParticipant | undefined> {
  const { participantLines } = await loadLines();
  const { updateParticipant } = await withCompiler(loadUpdating);
  const isTyped = /\.[cm]?tsx?$/.test(path);
  const wanted = await participantLines(application, isTyped ? types : undefined);
  const updated = updateParticipant(path, text, wanted.lines);
  if (updated === undefined || updated.added.length === 0) return updated;
  const hasMissing = /\bfunction missing\b|\bmissing\s*=/.test(text);
  return hasMissing
    ? updated
    : { ...updated, text: `${updated.text.trimEnd()}\n\n${wanted.missing}` };
}
