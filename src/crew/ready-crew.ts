import type { Compared, SearchOptions } from '../explore/compare.js';
import type { Crew } from '../explore/crew.js';

/** A crew that is ready to work, with what it compares. */
export interface ReadyCrew {
  readonly crew: Crew;
  readonly compared: Compared;
  readonly close: () => Promise<void>;
}

/** What a crew needs to know of a search. */
export type CrewOptions = Pick<SearchOptions, 'clock' | 'until' | 'isStopped'> & {
  readonly jobs?: number;
  readonly patience?: number;
};
