import type { Application } from '../model/application.js';
import type { Participant } from '../model/participant.js';
import type { Difference } from './comparing/difference.js';
import type { Observed } from './comparing/observed.js';
import type { Reached } from './reached.js';
import type { Script, ScriptStep } from './script.js';

/** What a search works with. */
export interface Searching {
  readonly application: Application;
  readonly participants: readonly Participant[];
  readonly observed: Observed;
  /** Told by the first participant what it reaches. */
  readonly reached: Reached;
}

/** The steps of a script up to the one that reached something new. */
export interface KeptScript {
  readonly steps: readonly ScriptStep[];
  /** What was new then, by its place among the cover points. */
  readonly reaches: readonly number[];
}

/** What became of a script. */
export interface Finding {
  readonly script: Script;
  readonly difference: Difference | undefined;
  readonly notReported: ReadonlyMap<string, number>;
}
