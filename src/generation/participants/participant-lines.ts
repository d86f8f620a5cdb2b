import type { Application } from '../../model/application.js';
import { code, type Code } from '../build/code.js';
import { formatFiles } from '../format.js';
import {
  missingFunction,
  skeletonLines,
  skeletonTypes,
  type SkeletonLine,
} from './participant-skeleton.js';

/** The lines of a participant file, each formatted for itself, and the function that they call. */
export interface ParticipantLines {
  readonly lines: readonly (Omit<SkeletonLine, 'code'> & { readonly text: string })[];
  readonly missing: string;
}

/** The lines of a participant file; `types` is the module that their types come from, or none are written. */
export async function participantLines(
  application: Application,
  types: string | undefined,
): Promise<ParticipantLines> {
  const known = skeletonTypes(application, types ?? '');
  const text = (one: Code) => {
    const inline = known.module.inline(one);
    return types === undefined ? withoutTypes(inline) : Promise.resolve(inline);
  };
  const lines = await Promise.all(
    skeletonLines(application, known).map(async ({ code: line, ...at }) => {
      const whole = await text(code`export default {\n${line}\n};`);
      const [file] = await formatFiles([{ path: 'line.ts', text: whole }], false);
      const [, inside = ''] = /^export default \{\n([^]*?)\n\};?\s*$/.exec(file?.text ?? '') ?? [];
      return { ...at, text: inside.replace(/^ {2}/gm, '') };
    }),
  );
  const [missing] = await formatFiles(
    [{ path: 'missing.ts', text: await text(missingFunction) }],
    false,
  );
  return { lines, missing: missing?.text ?? '' };
}

async function withoutTypes(text: string): Promise<string> {
  const { transform } = await import('sucrase');
  return transform(text, { transforms: ['typescript'], disableESTransforms: true }).code;
}
