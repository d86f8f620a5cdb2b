import type { Json } from '../../base/json.js';
import type { Report } from '../../model/participant.js';
import type { DerivedShown } from '../playing/derived-shown.js';
import type { TasksShown } from '../playing/player.js';
import type { Notice } from '../playing/player-watchers.js';
import type { StoredTexts } from '../playing/virtual-storage.js';
import type { ScriptStep } from '../script.js';

/**
 * How closely it is looked at what is shown after a step: `fully`, at what is `new` since the step before, at what
 * comes `unasked` (outcomes, notices, problems), or not at all.
 */
export type Look = 'fully' | 'new' | 'unasked' | 'nothing';

/** A step, and what the first participant showed after it: the others do the same and are held against it. */
export interface StepRecord {
  readonly step: ScriptStep;
  readonly payload: Json | undefined;
  readonly look: Look;
  /** True if it changed the state of the first. */
  readonly changed: boolean;
  readonly outcome: unknown;
  readonly state: unknown;
  /** What is derived, and whether it was asked for at this step: otherwise it is from an earlier one. */
  readonly derived: DerivedShown | undefined;
  readonly derives: boolean;
  readonly notices: readonly Notice[];
  readonly reports: readonly Report[];
  readonly sent: readonly unknown[];
  /** What was shown of tasks; none where the application has none. */
  readonly tasks: TasksShown | undefined;
  /**
   * How many transactions of the first changed something; 2 if that is not known, and 0 where a step is one
   * transaction. After several what is equal may be another object.
   */
  readonly changes: number;
  /** The operations that the first has called by now, by number. */
  readonly operations: readonly string[];
  /** What is kept in storage; none where nothing is saved. */
  readonly stored: StoredTexts | undefined;
  /** Of time that passes: how long, in milliseconds. */
  readonly ms: number;
}

/** True if the state is looked at. */
export const looksAtState = ({ look }: Pick<StepRecord, 'look'>): boolean =>
  look === 'fully' || look === 'new';
