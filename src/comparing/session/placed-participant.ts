import { addCounts } from '../../base/add-counts.js';
import { same } from '../../base/same.js';
import type { Histories } from '../../model/participant.js';
import type { DerivedShown } from '../playing/derived-shown.js';
import type { EnvironmentMark } from '../playing/environment.js';
import type { ComparedParticipant, Found, Pair } from './compared-participant.js';
import type { StepRecord } from './step-record.js';
import type { SendStep } from '../script.js';

/** A state that was met, and how. */
export interface MetState {
  readonly state: Readonly<Record<string, unknown>>;
  readonly derived: DerivedShown | undefined;
  readonly histories: Histories | undefined;
  readonly mark: EnvironmentMark;
  /** What the first did on its way from the start. */
  readonly way: readonly StepRecord[];
}

/** What one of the others showed that differs. */
export interface LateDifference {
  /** The input after which it showed, and those before it since the others came to the place. */
  readonly at: number;
  readonly inputs: readonly SendStep[];
  readonly found: Found;
}

/** One of those who follow the first: it goes to places, and does there what the first has done. */
export class PlacedParticipant {
  readonly #make: () => ComparedParticipant;
  readonly #notReported = new Map<string, number>();
  #other: ComparedParticipant;
  #canRestore: boolean;
  /** What it shows at the start. */
  readonly #start: { readonly state: unknown; readonly mark: EnvironmentMark };
  /** The place where it has been led, and what it showed there. */
  #there: { readonly place: MetState; readonly pair: Pair } | undefined;

  /** `mayRestore`: whether it counts as well where it was put, not only where it was led. */
  constructor(make: () => ComparedParticipant, mayRestore: boolean) {
    this.#make = make;
    this.#other = make();
    const { player } = this.#other;
    this.#start = { state: player.state, mark: player.mark() };
    this.#canRestore = mayRestore && player.isRestorable;
  }

  /** Does at a place what the first has done there; what differs first. */
  follow(place: MetState, records: readonly StepRecord[]): LateDifference | undefined {
    const shown = this.#follow(place, records);
    if (shown === undefined || !this.#canRestore) return shown;
    // A difference counts if it shows where it was led. What shows only where it was put comes from that.
    this.#canRestore = false;
    return this.#follow(place, records);
  }

  /** Gives how many outcomes it said nothing of. */
  close(): ReadonlyMap<string, number> {
    this.#end();
    return this.#notReported;
  }

  #follow(place: MetState, records: readonly StepRecord[]): LateDifference | undefined {
    let since = -1;
    for (const [at, record] of records.entries()) {
      if (since < 0) {
        this.#arrive(place);
        since = at;
      }
      const found = this.#other.follow(record);
      if (found !== undefined) {
        const inputs = records.slice(since, at + 1).map(({ step }) => step as SendStep);
        return { at, inputs, found };
      }
      if (record.changed) since = -1;
      else this.#other.player.back(place.mark);
    }
    return undefined;
  }

  /** Is put back to where it has been, or led there from the start. */
  #arrive(place: MetState): void {
    if (this.#canRestore && this.#there?.place === place) {
      this.#other.restore(this.#there.pair, place.mark);
      return;
    }
    const { player } = this.#other;
    if (this.#canRestore) player.restore(this.#start.state, this.#start.mark);
    else this.#renew();
    for (const record of place.way) this.#other.follow(record);
    if (this.#canRestore) this.#putAt(place);
  }

  /** Notes what it shows where it was led. Should that not be what the first shows, it is led from now on, and told then. */
  #putAt(place: MetState): void {
    const pair = { expected: place.state, actual: this.#other.player.read() };
    this.#there = { place, pair };
    if (same(pair.expected, pair.actual)) return this.#other.restore(pair, place.mark);
    this.#canRestore = false;
    this.#arrive(place);
  }

  #renew(): void {
    this.#end();
    this.#other = this.#make();
  }

  #end(): void {
    const { player } = this.#other;
    addCounts(this.#notReported, new Map([[player.name, player.notReported]]));
    player.close();
  }
}
