import type { Application } from '../model/application.js';
import { emitAtom } from './styles/atom/emit.js';
import { emitObservable } from './styles/observable/emit.js';
import { emitProxy } from './styles/proxy/emit.js';
import { emitReducer } from './styles/reducer/emit.js';
import type { GeneratedFile, Project, ReadRuntime } from './project.js';

/** The styles that stores can be generated in. */
export const styles = ['reducer', 'atom', 'proxy', 'observable'] as const;
export type Style = (typeof styles)[number];

const emitters: Readonly<Record<Style, (application: Application) => Project>> = {
  reducer: emitReducer,
  atom: emitAtom,
  proxy: emitProxy,
  observable: emitObservable,
};

/** The files of one style, not yet formatted. */
export function emitStyle(application: Application, style: Style, readRuntime: ReadRuntime): GeneratedFile[] {
  return emitters[style](application).finish(readRuntime);
}
