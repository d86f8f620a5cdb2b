import { addCounts } from '../base/add-counts.js';
import type { Participant } from '../model/participant.js';
import type { DerivedShown } from './derived-shown.js';
import { Follower } from './follower.js';
import type { Choice } from './inputs.js';
import { isMisfit } from './likeness.js';
import type { Moment } from './moment.js';
import { PlacedFollower, type Place } from './placed-follower.js';
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
  readonly #others: readonly PlacedFollower[];
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
      return new PlacedFollower(make, unit.by === 'state');
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
