import type { State } from '../../base/state.js';
import { addCounts } from '../../base/add-counts.js';
import { hasHistory, hasLazy, hasTasks } from '../../model/application.js';
import { reachesTasks } from '../../model/reaches-tasks.js';
import type { Participant } from '../../model/participant.js';
import type { DerivedShown } from '../playing/derived-shown.js';
import { allAttachLater } from '../session/abilities.js';
import { ComparedParticipant } from '../session/compared-participant.js';
import type { Choice } from '../inputs/inputs.js';
import { isMisfit } from '../session/outcome-match.js';
import { noteSpared } from '../session/not-sent.js';
import type { StepRecord } from '../session/step-record.js';
import { PlacedParticipant, type MetState } from '../session/placed-participant.js';
import { Player } from '../playing/player.js';
import {
  choicesWithin,
  inputsIn,
  isSmall,
  longestIn,
  mostItems,
  type NextState,
  type Expanded,
  type Expansion,
  type ExpandItem,
  type FrontierState,
} from './expansion.js';
import { payloadIn, type SendStep } from '../script.js';
import type { Searching } from '../searching.js';
import { expandSlowly } from './expand-slowly.js';
import { historyKey, stateKey } from './state-key.js';

/**
 * Tries the inputs of a small scope in some states. The first participant goes ahead with all inputs; the others
 * follow one after the other. After an input that changed something they are put back, if they can be and if states
 * are what counts; else they are led there anew from the start. Nobody is watching.
 */
export async function expand(
  searching: Searching,
  item: ExpandItem,
  isOver: () => Promise<boolean>,
): Promise<Expansion> {
  if (isSlow(searching, item)) return expandSlowly(searching, item, isOver);
  const expander = new Expander(searching, item);
  for (const frontierState of item.states) {
    if (expander.isOver || (await isOver())) break;
    expander.at(frontierState as QuickState);
  }
  expander.close();
  return expander;
}

/** A state that is reached by actions alone. */
type QuickState = FrontierState & { readonly path: readonly SendStep[] };

/** True if the scope has steps that take more than an action: tasks, storage, lazy stores, what comes later. */
function isSlow({ application, participants }: Searching, { store, task }: ExpandItem): boolean {
  if (participants.some(({ has }) => has?.settlesLater === true)) return true;
  const outlasts = application.stores.some(
    ({ name, saved, lazy }) =>
      (saved !== undefined && store === name) || (lazy && (store === undefined || store === name)),
  );
  if (outlasts) return true;
  if (!hasTasks(application)) return false;
  return task !== undefined || store === undefined || reachesTasks(application, store);
}

class Expander implements Expansion {
  transitions = 0;
  found: Expansion['found'];
  readonly expanded: Expanded[] = [];
  readonly notReported = new Map<string, number>();
  readonly #searching: Searching;
  readonly #item: ExpandItem;
  readonly #choices: readonly Choice[];
  /** True if names and times depend on the step alone. */
  readonly #byStep: boolean;
  readonly #derives: boolean;
  /** True if setting the state is enough to go back: there is no history, and no store to detach. */
  readonly #isRestorable: boolean;
  readonly #others: readonly PlacedParticipant[];
  /** States where derived values have been asked for. */
  readonly #asked = new Set<string>();
  #first: Player;
  /** How long lists may be in states that are gone on from. */
  #mostItems = mostItems;

  constructor(searching: Searching, item: ExpandItem) {
    this.#searching = searching;
    this.#item = item;
    this.#choices = choicesWithin(searching, item);
    const { participants, observed } = searching;
    this.#byStep = participants.some(({ has }) => has !== undefined);
    this.#derives = observed.classes.includes('derived');
    const { application } = searching;
    this.#isRestorable = !hasHistory(application) && !hasLazy(application);
    const isWhole = !allAttachLater(participants);
    this.#first = this.#newFirst();
    if (this.#derives) this.#deriveFirst();
    const { state, derived } = this.#first;
    this.#others = participants.slice(1).map((participant) => {
      const make = (): ComparedParticipant =>
        new ComparedParticipant(
          participant,
          observed,
          { watches: false, byStep: this.#byStep, isWhole },
          { state, derived, made: this.#first.made },
        );
      return new PlacedParticipant(make, item.by === 'state' && this.#isRestorable);
    });
  }

  get steps(): number {
    return this.transitions;
  }

  get isOver(): boolean {
    return this.found !== undefined || this.transitions >= this.#item.steps;
  }

  close(): void {
    for (const other of this.#others) addCounts(this.notReported, other.close());
  }

  at({ path, tried }: QuickState): void {
    const place = this.#go(path);
    const inputs = inputsIn(this.#searching, this.#choices, place.state);
    const records: StepRecord[] = [];
    const nextStates: NextState[] = [];
    let next = tried;
    while (next < inputs.length && !this.isOver) {
      const input = inputs[next++] as SendStep;
      const record = this.#try(input, place, nextStates);
      if (record === undefined) continue;
      this.transitions++;
      records.push(record);
    }
    const key = this.#keyOf(place);
    this.expanded.push({ key, tried: next, isDone: next >= inputs.length, nextStates });
    let left = records.length;
    for (const other of this.#others) {
      const shown = other.follow(place, records.slice(0, left));
      if (shown === undefined) continue;
      left = shown.at;
      const steps = [...path, ...shown.inputs];
      this.found = {
        script: { steps },
        difference: { step: steps.length - 1, ...shown.found },
      };
    }
  }

  /** Sends the first participant the inputs that reach a state from the start. */
  #go(path: readonly SendStep[]): MetState {
    this.#first.close();
    const first = (this.#first = this.#newFirst());
    const way = path.map((step, i) => {
      const before = first.state;
      first.begin();
      const payload = payloadIn(step, before);
      const outcome = first.send(step, payload);
      first.state = first.read();
      if (i === this.#item.base - 1) this.#mostItems = Math.max(mostItems, longestIn(first.state));
      return recordOf(first, { step, payload, outcome, changed: true, look: 'nothing' });
    });
    // What is asked of it there is what derived values are held against that change.
    if (this.#derives) this.#deriveFirst();
    const { state, derived } = first;
    this.#searching.reached.keep();
    const histories = first.histories();
    return { state: state as State, derived, histories, mark: first.mark(), way };
  }

  /** Does an input with the first, and puts it back; `undefined` if somebody is not to be sent it. Notes where it leads. */
  #try(step: SendStep, place: MetState, nextStates: NextState[]): StepRecord | undefined {
    const { reached } = this.#searching;
    const first = this.#first;
    first.begin();
    const payload = payloadIn(step, place.state);
    const histories = first.histories();
    const outcome = first.send(step, payload);
    first.state = first.read();
    const changed = first.state !== place.state || first.histories() !== histories;
    if (isMisfit(outcome) && noteSpared(this.#searching.participants, 'payload')) {
      first.back(place.mark);
      reached.drop();
      return undefined;
    }
    reached.keep();
    if (changed) this.#note(step, place, nextStates);
    const record = recordOf(first, { step, payload, outcome, changed, look: 'new' });
    if (!changed) first.back(place.mark);
    else if (this.#isRestorable && first.isRestorable) first.restore(place.state, place.mark);
    else this.#go(place.way.map(({ step }) => step as SendStep));
    return record;
  }

  /** Notes where an input leads. Derived values depend on the state and the histories alone, so they are asked once for each. */
  #note(input: SendStep, { derived }: MetState, nextStates: NextState[]): void {
    const first = this.#first;
    const state = first.state as State;
    const key = this.#keyOf({ state, histories: first.histories() });
    nextStates.push({ input, key, isWithin: isSmall(state, this.#mostItems) });
    first.derived = undefined;
    if (!this.#derives || this.#asked.has(key)) return;
    if (key !== '') this.#asked.add(key);
    const { reached } = this.#searching;
    reached.noteDerived(derived?.values, this.#deriveFirst().values);
    reached.keep();
  }

  /** None where each sequence counts, whatever it leads to. */
  #keyOf({ state, histories }: Pick<MetState, 'state' | 'histories'>): string {
    return this.#item.by === 'state' ? `${stateKey(state)}${historyKey(histories)}` : '';
  }

  #deriveFirst(): DerivedShown {
    const { questions } = this.#searching.observed;
    return (this.#first.derived = this.#first.derive(questions(this.#first.state as State)));
  }

  #newFirst(): Player {
    const { participants, observed } = this.#searching;
    const [first] = participants as [Participant];
    return new Player(first, [], this.#byStep, observed, !allAttachLater(participants));
  }
}

function recordOf(
  { state, derived, reports }: Player,
  {
    step,
    payload,
    outcome,
    changed,
    look,
  }: Pick<StepRecord, 'step' | 'payload' | 'outcome' | 'changed' | 'look'>,
): StepRecord {
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
    tasks: undefined,
    changes: 0,
    operations: none,
    stored: undefined,
    ms: 0,
  };
}

const none: readonly never[] = [];
