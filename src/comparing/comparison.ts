import type { CoverPoint } from '../model/cover-points.js';
import type { KnownDifference } from '../model/participant.js';
import type { WayTold } from '../model/way-told.js';
import type { ObservedClass } from '../model/observed-class.js';
import type { Difference } from './session/difference.js';
import type { Script } from './script.js';
import type { KeptScript } from './searching.js';
import type { Walked } from './search/walk.js';

/** What a comparison found, and how far it looked. */
export interface Comparison {
  readonly verdict: 'same' | 'different' | 'not repeatable' | 'nothing compared';
  readonly seed: number;
  readonly participants: readonly ParticipantSummary[];
  readonly steps: number;
  readonly scripts: number;
  readonly end: SearchEnd;
  /** The number of steps that were asked for. */
  readonly budget: number;
  /** Milliseconds that the search took. */
  readonly tookMs: number;
  readonly compared: readonly ObservedClass[];
  /** Every so many steps all of it was compared in full; between them, parts that kept their identity were not. */
  readonly fullEvery: number;
  /** The classes that were left out on request. */
  readonly ignored: readonly ObservedClass[];
  readonly walks: readonly Walked[];
  /** How many steps tried every action in states that scripts had led to. */
  readonly around: number;
  /** The number of steps that were done with the first participant alone to get to corners: each cost a fifth of a step. */
  readonly alone: number;
  /** Of participants whose code is counted: what of it never ran. */
  readonly code: readonly CodeRun[];
  readonly coverage: Coverage;
  /** The first. */
  readonly difference: ShrunkDifference | undefined;
  /** Differences of other causes, in the order in which they were found. */
  readonly alsoFound: readonly ShrunkDifference[];
  /** Scripts that reached something that none before them reached. */
  readonly kept: readonly KeptScript[];
}

/** Why a search ended. */
export type SearchEnd = 'found' | 'steps' | 'closed' | 'depth' | 'time' | 'stopped' | 'script';

/** A participant, and what of it could not be compared. */
export interface ParticipantSummary {
  readonly name: string;
  /** Actions, fields and derived values that it does not have. */
  readonly lacks: readonly string[];
  /** The lines of its file that are not filled in yet. */
  readonly unfilled: readonly string[];
  /** Operations whose calls are compared only where both make them, since tasks that it leaves out make them too. */
  readonly sharedOperations: readonly string[];
  /** The classes of observations that it does not take part in. */
  readonly without: readonly ObservedClass[];
  /** True if it refuses payloads that do not fit their types; if not, these were not sent. */
  readonly refusesMisfits: boolean;
  /** True if it judges answers; if not, those that do not fit were not given. */
  readonly judgesAnswers: boolean;
  /** The number of steps that were passed over for that: actions and starts, and answers. */
  readonly notSent: { readonly payloads: number; readonly answers: number };
  /** The number of outcomes that it said nothing of. */
  readonly notReported: number;
  /** Differences that are known and were passed over, each with how many scripts have shown it. */
  readonly known: readonly (KnownDifference & { readonly shown: number })[];
  /** How far numbers may be off; null if not at all. */
  readonly tolerance: number | Readonly<Record<string, number>> | null;
}

export interface CodeRun {
  readonly participant: string;
  /** How many ways its code can go. */
  readonly ways: number;
  /** Those that it never went; not those that lie within another. */
  readonly never: readonly NeverRun[];
}

/** A way that code never went. */
export type NeverRun = Pick<WayTold, 'kind' | 'file' | 'line' | 'column'>;

export interface Coverage {
  readonly reached: number;
  readonly total: number;
  readonly missing: readonly CoverPoint[];
  /** Of the bounds of stored values that types do not see to: how many were broken, so that all was refused, and which never were. */
  readonly bounds: { readonly broken: number; readonly never: readonly CoverPoint[] };
  /** Of the sides of corners that something can be at: how many were met, and which never were. Nobody counts them as missing. */
  readonly corners: { readonly met: number; readonly never: readonly CoverPoint[] };
}

export interface ShrunkDifference extends Difference {
  readonly script: Script;
  /** The number of steps that the script had when it was found. */
  readonly foundAfter: number;
  /** How many steps had been done before, of all scripts. */
  readonly stepsBefore: number;
  /** `store.action`, or the task that was started or cancelled, of the step after which they differ; '' for others. */
  readonly action: string;
  /** The number of scripts that have shown it. */
  readonly scripts: number;
}
