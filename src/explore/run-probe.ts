import { addCounts } from '../base/add-counts.js';
import { same } from '../base/same.js';
import type { Participant } from '../model/participant.js';
import type { DerivedShown } from './derived-shown.js';
import type { EnvironmentMark } from './environment.js';
import { Follower, type Found, type Pair } from './follower.js';
import type { Choice } from './inputs.js';
import { isMisfit } from './likeness.js';
import type { Moment } from './moment.js';
import { Player } from './player.js';
import {
  choicesWithin,
  inputsIn,
  isSmall,
  type Lead,
  type Probed,
  type Probing,
  type ProbeUnit,
  type Stand,
} from './probe.js';
import { payloadIn, type SendStep } from './script.js';
import type { Searching } from './searching.js';
import { stateKey } from './state-key.js';

type State = Readonly<Record<string, unknown>>;

/** A state that was met, and how. */
interface Place {
  readonly state: State;
  readonly derived: DerivedShown | undefined;
  readonly mark: EnvironmentMark;
  /** What the first did on its way from the start. */
  readonly way: readonly Moment[];
}

/**
 * Tries the inputs of a small scope where some ways lead. The first participant goes ahead with all inputs; the others
 * follow one after the other. After an input that changed something they are put back, if they can be and if states
 * are what counts; else they are led there anew from the start. Nobody is watching.
 */
export async function runProbe(
  searching: Searching,
  unit: ProbeUnit,
  isOver: () => Promise<boolean>,
): Promise<Probing> {
  const probe = new Probe(searching, unit);
  for (const stand of unit.stands) {
    if (probe.isOver || (await isOver())) break;
    probe.at(stand);
  }
  probe.close();
  return probe;
}

class Probe implements Probing {
  transitions = 0;
  found: Probing['found'];
  readonly probed: Probed[] = [];
  readonly untold = new Map<string, number>();
  readonly #searching: Searching;
  readonly #unit: ProbeUnit;
  readonly #choices: readonly Choice[];
  /** Whether names and times depend on the step alone; whether somebody is sent only what fits. */
  readonly #byStep: boolean;
  readonly #isPicky: boolean;
  readonly #derives: boolean;
  readonly #others: readonly Other[];
  /** States where derived values have been asked for. */
  readonly #asked = new Set<string>();
  #first: Player;

  constructor(searching: Searching, unit: ProbeUnit) {
    this.#searching = searching;
    this.#unit = unit;
    this.#choices = choicesWithin(searching, unit);
    const { participants, observed } = searching;
    this.#byStep = participants.some(({ has }) => has !== undefined);
    this.#isPicky = participants.some(({ has }) => has?.refusesMisfits === false);
    this.#derives = observed.classes.includes('derived');
    this.#first = this.#newFirst();
    if (this.#derives) this.#deriveFirst();
    const { state, derived } = this.#first;
    this.#others = participants.slice(1).map((participant) => {
      const make = (): Follower =>
        new Follower(
          participant,
          observed,
          { watches: false, byStep: this.#byStep },
          { state, derived },
        );
      return new Other(make, unit.by === 'state');
    });
  }

  get steps(): number {
    return this.transitions;
  }

  get isOver(): boolean {
    return this.found !== undefined || this.transitions >= this.#unit.steps;
  }

  close(): void {
    for (const other of this.#others) addCounts(this.untold, other.close());
  }

  at({ path, tried }: Stand): void {
    const place = this.#go(path);
    const inputs = inputsIn(this.#searching, this.#choices, place.state);
    const moments: Moment[] = [];
    const leads: Lead[] = [];
    let next = tried;
    while (next < inputs.length && !this.isOver) {
      const input = inputs[next++] as SendStep;
      const moment = this.#try(input, place, leads);
      if (moment === undefined) continue;
      this.transitions++;
      moments.push(moment);
    }
    const key = this.#keyOf(place.state);
    this.probed.push({ key, tried: next, isDone: next >= inputs.length, leads });
    let left = moments.length;
    for (const other of this.#others) {
      const shown = other.follow(place, moments.slice(0, left));
      if (shown === undefined) continue;
      left = shown.at;
      const steps = [...path, ...shown.inputs];
      this.found = {
        script: { steps },
        difference: { step: steps.length - 1, ...shown.found },
      };
    }
  }

  /** Leads the first to where a way from the start leads. */
  #go(path: readonly SendStep[]): Place {
    this.#first.close();
    const first = (this.#first = this.#newFirst());
    const way = path.map((step) => {
      const before = first.state;
      first.begin();
      const payload = payloadIn(step, before);
      const outcome = first.send(step, payload);
      first.state = first.read();
      return momentOf(first, { step, payload, outcome, changed: true, look: 'nothing' });
    });
    // What is asked of it there is what derived values are held against that change.
    if (this.#derives) this.#deriveFirst();
    const { state, derived } = first;
    this.#searching.reached.keep();
    return { state: state as State, derived, mark: first.mark(), way };
  }

  /** Does an input with the first, and puts it back; `undefined` if somebody is not to be sent it. Notes where it leads. */
  #try(step: SendStep, place: Place, leads: Lead[]): Moment | undefined {
    const { reached } = this.#searching;
    const first = this.#first;
    first.begin();
    const payload = payloadIn(step, place.state);
    const outcome = first.send(step, payload);
    first.state = first.read();
    const changed = first.state !== place.state;
    if (!changed && this.#isPicky && isMisfit(outcome)) {
      first.back(place.mark);
      reached.drop();
      return undefined;
    }
    reached.keep();
    if (changed) this.#note(step, place, leads);
    const moment = momentOf(first, { step, payload, outcome, changed, look: 'new' });
    if (!changed) first.back(place.mark);
    else if (first.isRestorable) first.restore(place.state, place.mark);
    else this.#go(place.way.map(({ step }) => step as SendStep));
    return moment;
  }

  /** Notes where an input leads. What is derived there is a function of the state: it is asked once where these count. */
  #note(input: SendStep, { derived }: Place, leads: Lead[]): void {
    const first = this.#first;
    const state = first.state as State;
    const key = this.#keyOf(state);
    leads.push({ input, key, isWithin: Object.values(state).every(isSmall) });
    first.derived = undefined;
    if (!this.#derives || this.#asked.has(key)) return;
    if (key !== '') this.#asked.add(key);
    const { reached } = this.#searching;
    reached.noteDerived(derived?.values, this.#deriveFirst().values);
    reached.keep();
  }

  /** None where each sequence counts, whatever it leads to. */
  #keyOf(state: State): string {
    return this.#unit.by === 'state' ? stateKey(state) : '';
  }

  #deriveFirst(): DerivedShown {
    const { questions } = this.#searching.observed;
    return (this.#first.derived = this.#first.derive(questions(this.#first.state as State)));
  }

  #newFirst(): Player {
    const [first] = this.#searching.participants as [Participant];
    return new Player(first, [], this.#byStep);
  }
}

function momentOf(
  { state, derived, reports }: Player,
  {
    step,
    payload,
    outcome,
    changed,
    look,
  }: Pick<Moment, 'step' | 'payload' | 'outcome' | 'changed' | 'look'>,
): Moment {
  const derives = look !== 'nothing' && changed && derived !== undefined;
  return {
    step,
    payload,
    look,
    changed,
    outcome,
    state,
    derived,
    derives,
    notices: none,
    reports: reports.length === 0 ? none : [...reports],
    sent: none,
  };
}

const none: readonly never[] = [];

/** What one of the others showed that differs. */
interface Shown {
  /** The input after which it showed, and those before it since the others came to the place. */
  readonly at: number;
  readonly inputs: readonly SendStep[];
  readonly found: Found;
}

/** One of those who follow the first. */
class Other {
  readonly #make: () => Follower;
  readonly #untold = new Map<string, number>();
  #follower: Follower;
  #canRestore: boolean;
  /** What it shows at the start. */
  readonly #start: { readonly state: unknown; readonly mark: EnvironmentMark };
  /** The place where it has been led, and what it showed there. */
  #there: { readonly place: Place; readonly pair: Pair } | undefined;

  /** `mayRestore`: whether it counts as well where it was put, not only where it was led. */
  constructor(make: () => Follower, mayRestore: boolean) {
    this.#make = make;
    this.#follower = make();
    const { player } = this.#follower;
    this.#start = { state: player.state, mark: player.mark() };
    this.#canRestore = mayRestore && player.isRestorable;
  }

  /** Does at a place what the first has done there; what differs first. */
  follow(place: Place, moments: readonly Moment[]): Shown | undefined {
    const shown = this.#follow(place, moments);
    if (shown === undefined || !this.#canRestore) return shown;
    // A difference counts if it shows where it was led. What shows only where it was put comes from that.
    this.#canRestore = false;
    return this.#follow(place, moments);
  }

  /** Gives how many outcomes it said nothing of. */
  close(): ReadonlyMap<string, number> {
    this.#end();
    return this.#untold;
  }

  #follow(place: Place, moments: readonly Moment[]): Shown | undefined {
    let since = -1;
    for (const [at, moment] of moments.entries()) {
      if (since < 0) {
        this.#arrive(place);
        since = at;
      }
      const found = this.#follower.follow(moment);
      if (found !== undefined) {
        const inputs = moments.slice(since, at + 1).map(({ step }) => step as SendStep);
        return { at, inputs, found };
      }
      if (moment.changed) since = -1;
      else this.#follower.player.back(place.mark);
    }
    return undefined;
  }

  /** Is put back to where it has been, or led there from the start. */
  #arrive(place: Place): void {
    if (this.#canRestore && this.#there?.place === place) {
      this.#follower.restore(this.#there.pair, place.mark);
      return;
    }
    const { player } = this.#follower;
    if (this.#canRestore) player.restore(this.#start.state, this.#start.mark);
    else this.#renew();
    for (const moment of place.way) this.#follower.follow(moment);
    if (this.#canRestore) this.#stand(place);
  }

  /** Notes what it shows where it was led. Should that not be what the first shows, it is led from now on, and told then. */
  #stand(place: Place): void {
    const pair = { expected: place.state, actual: this.#follower.player.read() };
    this.#there = { place, pair };
    if (same(pair.expected, pair.actual)) return this.#follower.restore(pair, place.mark);
    this.#canRestore = false;
    this.#arrive(place);
  }

  #renew(): void {
    this.#end();
    this.#follower = this.#make();
  }

  #end(): void {
    const { player } = this.#follower;
    addCounts(this.#untold, new Map([[player.name, player.untold]]));
    player.close();
  }
}
