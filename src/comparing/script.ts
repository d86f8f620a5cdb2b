import { atPointer, withPointer, type Json } from '../base/json.js';
import type { Target } from '../model/participant.js';

/** An action that is sent. */
export interface SendStep {
  /** `store.action`. */
  readonly send: string;
  /** Left out if the action is sent without one. */
  readonly payload?: Json;
  /**
   * Parts of the payload that are taken from the state when the step is done: JSON Pointer in the payload
   * to JSON Pointer in the state. The payload holds what stood there when the script was made.
   */
  readonly fill?: Readonly<Record<string, string>>;
  /** What a caller may do with the payload besides; nothing if not given. */
  readonly passed?: Passed;
}

/**
 * How a payload is passed: frozen; with optional properties that are absent given as undefined; or by a caller who changes it
 * afterwards.
 */
export const waysToPass = ['frozen', 'with undefined', 'changed after'] as const;
export type Passed = (typeof waysToPass)[number];

/** What a watcher does when it is called. */
export type WatcherDeed =
  | 'throw'
  | SendStep
  /** It stops a watcher, itself or another. */
  | StopStep
  /** It adds a watcher that does nothing. */
  | Pick<WatchStep, 'watch' | 'as'>;

/**
 * How a watcher follows what it looks at, if not by calls alone: as an observer of the ECMAScript Observable contract, or by
 * `for await`; then it is told of new values, and what came before is not.
 */
export const waysToFollow = ['observer', 'iteration'] as const;
export type WayToFollow = (typeof waysToFollow)[number];

/** A watcher that is added. */
export interface WatchStep {
  readonly watch: Target;
  /** Its name in the script. */
  readonly as: string;
  /** By calls if not given. One that iterates goes on to the end of the script, and does nothing else. */
  readonly by?: WayToFollow;
  /** What it does each time it is called, at most three times. */
  readonly then?: WatcherDeed;
}

/** A watcher that is stopped. */
export interface StopStep {
  /** The name of the watcher; without effect if there is none, or if it is stopped already. */
  readonly stop: string;
}

/** A task that is started. */
export interface StartStep {
  /** `store.task`. */
  readonly start: string;
  /** As of an action that is sent. */
  readonly payload?: Json;
  readonly fill?: Readonly<Record<string, string>>;
}

/** The runs of a task that are abandoned. */
export interface CancelStep {
  /** `store.task`. */
  readonly cancel: string;
  /** Those of one value only. */
  readonly per?: Json;
}

/** An answer to a call that was made, counted from 1; to one with many values the end. */
export type AnswerStep = { readonly answer: number } & (
  { readonly result: Json } | { readonly error: Json } | { readonly nothing: true }
);

/** One of many values of a call. */
export interface ValueStep {
  readonly value: number;
  readonly result: Json;
}

/** Time that passes: so many milliseconds, or up to the first timer of the first participant. */
export interface PassStep {
  readonly pass: number | 'next';
}

/** A lazy store that is attached. */
export interface AttachStep {
  readonly attach: string;
}

/** Stores that are closed and made anew, on the same storage. */
export interface ReopenStep {
  readonly reopen: true;
}

/** What stands in the storage under a key, or whether the storage works, is full, or denies everything. */
export interface StorageStep {
  readonly storage: { readonly key: string; readonly text: string } | 'full' | 'denied' | 'works';
}

/** What tasks add to scripts. */
export type TaskStep = StartStep | CancelStep | AnswerStep | ValueStep | PassStep;

/** One step of a script. */
export type ScriptStep =
  SendStep | WatchStep | StopStep | TaskStep | AttachStep | ReopenStep | StorageStep;

/** How identifiers are drawn: each begins and ends like those before it, or is a number that is one less. */
export const idKinds = ['alike', 'numbers'] as const;
export type IdKind = (typeof idKinds)[number];

/** Under which circumstances a script is done. */
export interface Circumstances {
  /** How identifiers are drawn; `id-1`, `id-2` and so on if not given. */
  readonly ids?: IdKind;
  /** True if each participant has a second instance, that does each action before; false if not given. */
  readonly beside?: boolean;
}

/** A script: what is done to every participant, step by step. */
export interface Script extends Circumstances {
  readonly steps: readonly ScriptStep[];
  /**
   * Nobody watches but the script's own watchers, and it is looked at the state and the derived values now
   * and then only: looking hides values that are out of date. False if not given.
   */
  readonly quiet?: boolean;
  /**
   * What is done before, after the same load of the code, each on stores of its own: for code that keeps something from
   * one to the next. Nothing if not given.
   */
  readonly before?: readonly Script[];
}

export const isSend = (step: ScriptStep): step is SendStep => 'send' in step;
export const isCancel = (step: ScriptStep): step is CancelStep => 'cancel' in step;
export const isStart = (step: ScriptStep): step is StartStep => 'start' in step;

export const isAttach = (step: ScriptStep): step is AttachStep => 'attach' in step;

export const isOfStorage = (step: ScriptStep): step is ReopenStep | StorageStep =>
  'reopen' in step || 'storage' in step;

/** The circumstances of a script, without its steps. */
export function circumstancesOf({ ids, beside }: Script): Circumstances {
  return { ...(ids !== undefined && { ids }), ...(beside === true && { beside }) };
}

/** What a watcher sends, if it sends something. */
export const sentBy = ({ then }: WatchStep): SendStep | undefined =>
  typeof then === 'object' && 'send' in then ? then : undefined;

/** True if a step asks for something with an outcome. */
export const isAsked = (step: ScriptStep): step is SendStep | StartStep | CancelStep | AttachStep =>
  'send' in step || 'start' in step || 'cancel' in step || 'attach' in step;

/** The payload of a step in a state: places to fill that do not exist keep what is written. */
export function payloadIn(
  step: Pick<SendStep, 'payload' | 'fill'>,
  state: unknown,
): Json | undefined {
  let payload: unknown = step.payload;
  for (const [place, from] of Object.entries(step.fill ?? {})) {
    const found = atPointer(state, from);
    if (found !== undefined) payload = withPointer(payload, place, found);
  }
  return payload as Json | undefined;
}

/** A script file, as JSON. */
export interface ScriptFile extends Script {
  readonly leeshoreScript: 1;
  /** The schema that it was made for. */
  readonly schema: string;
  readonly seed: number;
}
