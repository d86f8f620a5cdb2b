import type { Application } from '../model/application.js';
import { usualOptions, type EmitOptions } from './emit-options.js';
import { emitAtom } from './styles/atom/emit.js';
import { emitObservable } from './styles/observable/emit.js';
import { emitProxy } from './styles/proxy/emit.js';
import { emitReducer } from './styles/reducer/emit.js';
import type { GeneratedFile } from './generated-file.js';
import type { Project, ReadRuntime } from './project.js';
import type { Style } from './style-names.js';

const emitters: Readonly<
  Record<Style, (application: Application, options: EmitOptions) => Project>
> = {
  reducer: emitReducer,
  atom: emitAtom,
  proxy: emitProxy,
  observable: emitObservable,
};

/** The files of one style, not yet formatted. */
export function emitStyle(
  application: Application,
  style: Style,
  readRuntime: ReadRuntime,
  options: EmitOptions = usualOptions,
): GeneratedFile[] {
  return emitters[style](application, options).finish(readRuntime);
}
