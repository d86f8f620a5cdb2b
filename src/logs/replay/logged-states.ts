import { differingPlaces } from '../../base/differing-places.js';
import { atPointer } from '../../base/json.js';
import type { PlacedLine } from '../log/groups.js';
import type { LoggedState } from '../log/log-lines.js';
import type { ComparedFields } from './compared-fields.js';
import type { Mismatch } from './mismatch.js';
import { stateMismatch } from './mismatches.js';
import type { StandIns } from './stand-ins.js';
import { isUndrawnId } from './world.js';

/** How many places of a state are counted that differ. */
const mostPlaces = 20;

/** Holds what a participant shows against the states of a log: as far as it has the fields, and the log says what they were. */
export class LoggedStates {
  readonly #fields: ComparedFields;
  readonly #secrets: Pick<StandIns, 'isSecret'> | undefined;
  /** The places that have differed, and do still. */
  #known: ReadonlySet<string> = new Set();

  constructor(fields: ComparedFields, secrets: Pick<StandIns, 'isSecret'> | undefined) {
    this.#fields = fields;
    this.#secrets = secrets;
  }

  /** Nothing has differed by now. */
  clear(): void {
    this.#known = new Set();
  }

  get hasKnown(): boolean {
    return this.#known.size > 0;
  }

  /** What differs now is known: it is not told again until it has been equal. */
  passOver(logged: LoggedState, shown: LoggedState): void {
    this.#known = new Set(this.#differing(logged, this.#fields.partOf(shown, logged)));
  }

  /** True if nothing differs but what did before; that which is equal again is not known any more. */
  areAsKnown(logged: LoggedState, shown: LoggedState): boolean {
    const part = this.#comparable(logged);
    const places = this.#differing(part, this.#fields.partOf(shown, part));
    const known = places.filter((place) => this.#known.has(place));
    this.#known = new Set(known);
    return known.length === places.length;
  }

  areSame(logged: LoggedState | undefined, shown: LoggedState): boolean {
    return (
      logged === undefined ||
      this.#differing(logged, this.#fields.partOf(shown, logged)).length === 0
    );
  }

  /** True if states differ only where the log does not say what there was: secrets, and identifiers that it had not drawn. */
  isExcused(logged: LoggedState, shown: LoggedState, undrawn: number): boolean {
    if (undrawn === 0 && this.#secrets === undefined) return false;
    const part = this.#fields.partOf(shown, logged);
    return this.#differing(logged, part).every((at) => isUndrawnId(atPointer(part, at)));
  }

  mismatch(participant: string, line: PlacedLine, state: LoggedState): Mismatch {
    const logged = this.#comparable(line.state ?? {});
    const shown = this.#fields.partOf(state, line.state ?? {});
    const places = this.#differing(logged, shown).filter((place) => !this.#known.has(place));
    return stateMismatch(participant, line, { logged, shown }, places);
  }

  /** The places where the state of the log and what is shown differ, except for secrets. */
  #differing(logged: LoggedState, shown: LoggedState): readonly string[] {
    const places = differingPlaces(this.#comparable(logged), shown, mostPlaces);
    return this.#secrets === undefined
      ? places
      : places.filter((place) => this.#secrets?.isSecret(place) !== true);
  }

  /** The part of a state of the log that the participant has. */
  #comparable(logged: LoggedState): LoggedState {
    return this.#fields.partOf(logged, logged);
  }
}
