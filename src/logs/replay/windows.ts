import type { LineGroup } from '../log/groups.js';
import { causeOf, type Mismatch } from './mismatch.js';
import type { ReplayedParticipant } from './replayed-participant.js';

/** The newest groups, to find out how many of them a mismatch needs. */
const mostGroups = 64;

/** The lines that show a mismatch when they are done from the state before them. */
export interface Window {
  readonly from: number;
  readonly to: number;
}

/** The last groups of a session. */
export class RecentGroups {
  #groups: LineGroup[] = [];

  clear(): void {
    this.#groups = [];
  }

  add(group: LineGroup): void {
    this.#groups.push(group);
    if (this.#groups.length > 2 * mostGroups) this.#groups = this.#groups.slice(-mostGroups);
  }

  /** The fewest of the last groups that show a mismatch; `undefined` if more are needed than there are. */
  async windowOf(
    mismatch: Mismatch,
    make: () => ReplayedParticipant,
    began: number,
  ): Promise<Window | undefined> {
    const cause = causeOf(mismatch);
    for (let count = 1; count <= mostGroups; count *= 2) {
      const groups = this.#groups.slice(-count);
      const [first] = groups;
      if (first?.before === undefined) return undefined;
      const replayed = make();
      replayed.beginFrom(began, first.before);
      let found: Mismatch | undefined;
      for (const group of groups) found ??= (await replayed.follow(group)).mismatch;
      replayed.close();
      if (found !== undefined && causeOf(found) === cause && found.line === mismatch.line)
        return { from: first.lines[0]?.number ?? 0, to: groups.at(-1)?.lines.at(-1)?.number ?? 0 };
      if (groups.length < count) return undefined;
    }
    return undefined;
  }
}
