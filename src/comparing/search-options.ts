import type { Application } from '../model/application.js';
import type { CoverPoint } from '../model/cover-points.js';
import type { ObservedClass } from '../model/observed-class.js';
import type { Participant } from '../model/participant.js';
import type { WayTold } from '../model/way-told.js';
import type { SearchKind, Shard } from './plan.js';
import type { Script } from './script.js';

/** How much is searched, and from which seed. */
export interface SearchOptions {
  readonly seed: number;
  /** The most steps, over all scripts. */
  readonly steps: number;
  /** How they are searched; both ways if not given. */
  readonly search?: SearchKind | undefined;
  /** Milliseconds from any start: ends a search at `until`. */
  readonly clock: () => number;
  readonly until: number;
  /** The longest sequence of inputs that is tried in a small scope; as long as the steps allow if not given. */
  readonly depth?: number | undefined;
  /** Which share of the search is done; all of it if not given. */
  readonly shard?: Shard | undefined;
  /** What is compared; everything if not given. */
  readonly classes?: readonly ObservedClass[] | undefined;
  /** How many differences of different causes are told, each shrunk; the first alone if not given. */
  readonly differences?: number | undefined;
  /** Scripts that are done first; what they reach is known then, and they are varied. */
  readonly corpus?: readonly Script[];
  /** True if the search is to stop, whatever is left of its budget. */
  readonly isStopped?: () => boolean;
  /** Told after each share of the work how far the search is. */
  readonly onProgress?: (progress: Progress) => void;
}

export interface Progress {
  readonly steps: number;
  readonly scripts: number;
  /** How much has been reached of what can be. */
  readonly reached: number;
}

/** What is compared with what. */
export interface Compared {
  readonly application: Application;
  readonly participants: readonly Pick<
    Participant,
    'name' | 'has' | 'refusesMisfits' | 'judgesAnswers'
  >[];
  /** All that can be reached, in schema order. */
  readonly points: readonly CoverPoint[];
  /** The ways that code can go of which it is told which were never gone; nothing if not given. */
  readonly ways?: readonly WayTold[];
}
