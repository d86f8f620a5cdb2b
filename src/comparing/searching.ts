import type { Application } from '../model/application.js';
import type { Participant } from '../model/participant.js';
import type { Difference } from './session/difference.js';
import type { Constants } from './inputs/odd-values.js';
import type { Observed } from './session/observed.js';
import type { Near, Reached } from './reached.js';
import type { Circumstances, Script, ScriptStep } from './script.js';

/** What a search works with. */
export interface Searching {
  readonly application: Application;
  readonly participants: readonly Participant[];
  readonly observed: Observed;
  /** What the schema and the code of the participants compare with; nothing if not given. */
  readonly constants?: Constants;
  /** Which ways their code goes; not known if not given. */
  readonly ways?: Ways;
  /** Told by the first participant what it reaches. */
  readonly reached: Reached;
}

/** Which ways the code of the participants went, by numbers: what {@link Searching} is told of it. */
export interface Ways {
  /** Those gone since the last restart that had not been before, in that order. */
  readonly added: readonly number[];
  restart(known: readonly number[]): void;
}

/** What is known when a share of a search begins. */
export interface Known {
  /** What was reached, by its place among the cover points. */
  readonly reached: readonly number[];
  /** Those of them that scripts of the search have reached, and not the walks of a small scope. */
  readonly led: readonly number[];
  /** How near what was not reached came. */
  readonly near: readonly Near[];
  /** The ways that code went. */
  readonly gone: readonly number[];
  /** What states had that were met. */
  readonly traits: readonly string[];
}

/** The steps of a script up to the one that reached something new. */
export interface KeptScript {
  readonly steps: readonly ScriptStep[];
  readonly circumstances?: Circumstances;
  /** The ways of code, and the traits of states, that were new then. */
  readonly gone?: readonly number[];
  readonly traits?: readonly string[];
  /** The point that it was to reach again, by its place: it did. */
  readonly again?: number;
  /** What no script had led to before, though walks may have reached it. */
  readonly led?: readonly number[];
  /** What came nearer then than before. */
  readonly near?: readonly Near[];
  /** What was new then, by its place among the cover points. */
  readonly reaches: readonly number[];
}

/** The outcome of a script. */
export interface Finding {
  readonly script: Script;
  readonly difference: Difference | undefined;
  readonly notReported: ReadonlyMap<string, number>;
}
