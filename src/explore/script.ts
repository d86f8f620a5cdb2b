import { atPointer, withPointer, type Json } from '../base/json.js';

/** One step of a script: an action that is sent. */
export interface ScriptStep {
  /** `store.action`. */
  readonly send: string;
  /** Left out if the action is sent without one. */
  readonly payload?: Json;
  /**
   * Parts of the payload that are taken from the state when the step is done: JSON Pointer in the payload
   * to JSON Pointer in the state. The payload holds what stood there when the script was made.
   */
  readonly fill?: Readonly<Record<string, string>>;
}

/** A script: what is done to every participant, step by step. */
export interface Script {
  readonly steps: readonly ScriptStep[];
}

/** The payload of a step in a state: places to fill that do not exist keep what is written. */
export function payloadIn(step: ScriptStep, state: unknown): Json | undefined {
  let payload: unknown = step.payload;
  for (const [place, from] of Object.entries(step.fill ?? {})) {
    const found = atPointer(state, from);
    if (found !== undefined) payload = withPointer(payload, place, found);
  }
  return payload as Json | undefined;
}

/** A script file, as JSON. */
export interface ScriptFile {
  readonly leeshoreScript: 1;
  /** The schema that it was made for. */
  readonly schema: string;
  readonly seed: number;
  readonly steps: readonly ScriptStep[];
}
