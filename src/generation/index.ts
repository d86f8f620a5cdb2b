// From the model to code: others import nothing else of this folder.
export type { UpdatedParticipant } from './arranging/update-participant.js';
export {
  beginChoices,
  checkChoices,
  type EmitOptions,
  guardChoices,
  languages,
  layouts,
  usualOptions,
} from './emit-options.js';
export type { GeneratedFile } from './generated-file.js';
export type { ReadRuntime } from './shared/runtime-files.js';
