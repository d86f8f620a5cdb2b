import { addCounts } from '../base/add-counts.js';
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
import type { Choice } from './inputs.js';
import type { SendStep } from './script.js';
import type { Searching } from './searching.js';
import { Session } from './session.js';

/** Tries the inputs of a small scope after sequences of them, from the start each time: all of it is compared. */
export async function probeSequences(
  searching: Searching,
  unit: ProbeUnit,
  isOver: () => Promise<boolean>,
): Promise<Probing> {
  const probe = new SequenceProbe(searching, unit);
  for (const stand of unit.stands) {
    if (probe.isOver || (await isOver())) break;
    probe.at(stand);
  }
  return probe;
}

/** All participants after a sequence, and what was sent since. */
interface Run {
  readonly session: Session;
  readonly sent: SendStep[];
}

class SequenceProbe implements Probing {
  steps = 0;
  transitions = 0;
  found: Probing['found'];
  readonly probed: Probed[] = [];
  readonly untold = new Map<string, number>();
  readonly #searching: Searching;
  readonly #unit: ProbeUnit;
  readonly #choices: readonly Choice[];

  constructor(searching: Searching, unit: ProbeUnit) {
    this.#searching = searching;
    this.#unit = unit;
    this.#choices = choicesWithin(searching, unit);
  }

  get isOver(): boolean {
    return this.found !== undefined || (this.transitions > 0 && this.steps >= this.#unit.steps);
  }

  at({ path, tried }: Stand): void {
    const leads: Lead[] = [];
    let run: Run | undefined = this.#lead(path);
    const inputs = inputsIn(this.#searching, this.#choices, run.session.state);
    let next = tried;
    while (next < inputs.length && !this.isOver) {
      const input = inputs[next++] as SendStep;
      run ??= this.#lead(path);
      if (!this.#try(input, run)) continue;
      leads.push({ input, key: '', isWithin: Object.values(run.session.state).every(isSmall) });
      this.#end(run);
      run = undefined;
    }
    if (run !== undefined) this.#end(run);
    this.probed.push({ key: '', tried: next, isDone: next >= inputs.length, leads });
  }

  /** Does an input and compares; whether it changed anything. */
  #try(input: SendStep, { session, sent }: Run): boolean {
    const { done, changed, difference } = session.step(input);
    if (!done) return false;
    this.steps++;
    this.transitions++;
    sent.push(input);
    if (difference !== undefined) this.found = { script: { steps: sent }, difference };
    return changed;
  }

  /** A new run that is led along a sequence, which has been looked at before. */
  #lead(path: readonly SendStep[]): Run {
    const { participants, observed, reached } = this.#searching;
    const session = new Session(participants, observed, { reached });
    for (const input of path) session.step(input, { look: 'nothing' });
    this.steps += path.length;
    return { session, sent: [...path] };
  }

  #end({ session }: Run): void {
    addCounts(this.untold, session.untold);
    session.close();
  }
}
