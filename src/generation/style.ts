import type { Application } from '../model/application.js';
import type { EmitOptions } from './emit-options.js';
import type { Output } from './shared/output.js';
import { emitAtom } from './styles/atom/emit.js';
import { emitObservable } from './styles/observable/emit.js';
import { emitProxy } from './styles/proxy/emit.js';
import { emitReducer } from './styles/reducer/emit.js';
import type { Style } from '../base/styles.js';

/** How the output of a style is made. */
export interface StyleEmitter {
  readonly emit: (application: Application, options: EmitOptions) => Output;
  /** The files of the run time that are the style's own. */
  readonly runtime: readonly string[];
}

export const emitters: Readonly<Record<Style, StyleEmitter>> = {
  reducer: {
    emit: emitReducer,
    runtime: ['draws', 'reducer', 'reducer-histories', 'reducer-tasks', 'replay'],
  },
  atom: {
    emit: emitAtom,
    runtime: ['atom-histories', 'atom-lazy', 'atom-log', 'atom-reading', 'atom-tasks', 'atoms'],
  },
  proxy: {
    emit: emitProxy,
    runtime: ['editing', 'live-histories', 'live-tasks', 'proxies', 'working-copies'],
  },
  observable: {
    emit: emitObservable,
    runtime: ['reading-stream', 'stream-histories', 'stream-lazy', 'stream-tasks', 'streams'],
  },
};
