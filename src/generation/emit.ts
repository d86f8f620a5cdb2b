import type { Application } from '../model/application.js';
import { usualOptions, type EmitOptions } from './emit-options.js';
import type { GeneratedFile } from './generated-file.js';
import { addReaders } from './readers/readers.js';
import { addInitialStates } from './shared/initial-states.js';
import type { ReadRuntime } from './shared/runtime-files.js';
import { emitters } from './style.js';
import type { Style } from '../base/styles.js';

/** The files of one style, not yet formatted. */
export function emitStyle(
  application: Application,
  style: Style,
  readRuntime: ReadRuntime,
  options: EmitOptions = usualOptions,
): GeneratedFile[] {
  const { emit, runtime } = emitters[style];
  const output = emit(application, options);
  if (options.begin === 'state') addInitialStates(output);
  if (options.readers.length > 0) addReaders(output, style);
  return output.finish({ name: style, files: runtime }, readRuntime);
}
