import type { MessagePort } from 'node:worker_threads';
import type { SearchOptions, Script, Known, WorkItem, WorkResult } from '../comparing/index.js';
import type { Participant } from '../model/participant.js';
import type { WayTold } from '../model/way-told.js';
import type { GeneratedFolder } from '../participants/index.js';
import type { NumberedEntry, ReplayResult, PlayedScript } from '../logs/index.js';
import type { ReplayRequest } from './replay-request.js';
import type { Cast } from './searching-of.js';
import type { FaultSearch } from './try-fault.js';

/** What a worker is started with. */
export interface WorkerStart {
  readonly cast: Cast;
  readonly memory: SharedArrayBuffer;
  /** Where orders come from, and answers go to: code of the user's may use that of the thread. */
  readonly port: MessagePort;
}

/** What a worker is asked to do. */
export type Order =
  | { readonly kind: 'work'; readonly item: WorkItem; readonly known: Known }
  | { readonly kind: 'fault'; readonly folder: GeneratedFolder; readonly options: FaultOrder }
  | { readonly kind: 'replay'; readonly replay: ReplayOrder };

/** A log is begun, some entries of it are done, it ends; or a script is done to the end. */
export type ReplayOrder =
  | { readonly kind: 'begin'; readonly request: ReplayRequest }
  | { readonly kind: 'feed'; readonly entries: readonly NumberedEntry[] }
  | { readonly kind: 'end' }
  | { readonly kind: 'play'; readonly script: Script };

/** What is wrong with a log at a line, or without one with what maps it. */
export interface LogProblem {
  readonly number?: number;
  readonly message: string;
}

/** How a fault is looked for, and for how many milliseconds at most. */
export type FaultOrder = Pick<SearchOptions, 'seed' | 'steps' | 'search' | 'depth' | 'classes'> & {
  readonly msLeft: number;
};

/** A participant as it can be told of: what it can be asked to do stays in the worker. */
export type Introduced = Pick<Participant, 'name' | 'has' | 'refusesMisfits' | 'judgesAnswers'>;

/** What a worker answers: once that it is ready, or cannot be; then to each order. */
export type Answer =
  | {
      readonly kind: 'ready';
      readonly participants: readonly Introduced[];
      readonly ways: readonly WayTold[];
    }
  | { readonly kind: 'unusable'; readonly path: string; readonly detail: string }
  /** A fault of ours. */
  | { readonly kind: 'fault'; readonly error: Error }
  | { readonly kind: 'work'; readonly result: WorkResult }
  | { readonly kind: 'tried'; readonly result: FaultSearch | undefined }
  | {
      readonly kind: 'replayed';
      readonly isOver: boolean;
      readonly result?: ReplayResult;
      readonly problem?: LogProblem;
    }
  | { readonly kind: 'played'; readonly played: PlayedScript };
