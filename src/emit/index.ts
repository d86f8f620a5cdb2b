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
