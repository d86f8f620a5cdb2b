// From the model to code: others import nothing of this folder but what stands here.
export {
  beginChoices,
  checkChoices,
  guardChoices,
  languages,
  layouts,
  usualOptions,
  type EmitOptions,
} from './emit-options.js';
export type { GeneratedFile } from './generated-file.js';
export type { ReadRuntime } from './shared/runtime-files.js';

// What takes long to load is loaded when it is asked for.
export const loadEmitting = () => import('./emit.js');
export const loadFormatting = () => import('./format.js');

/** What writes participant files. */
export const loadParticipants = async () => ({
  ...(await import('./participants/participant-skeleton.js')),
  ...(await import('./participants/participant-lines.js')),
});

/** What logs say of the schema that wrote them. */
export const loadLogged = () => import('./shared/logged.js');
