import type { State } from '../../base/state.js';
import { Random } from '../../base/random.js';
import {
  hasHistory,
  hasLazy,
  hasSaved,
  hasTasks,
  type Application,
} from '../../model/application.js';
import type { Participant } from '../../model/participant.js';
import { choicesOf, drawnInput, smallInputs, type Choice } from '../inputs/inputs.js';
import { PayloadSource } from '../inputs/payloads.js';
import type { EnvironmentMark } from '../playing/environment.js';
import { Player } from '../playing/player.js';
import { payloadIn, type SendStep } from '../script.js';
import type { Searching } from '../searching.js';
import { stateKey } from './state-key.js';

/** Looks for inputs that lead to a point that was never reached, with the first participant alone. */
export interface LookAheadItem {
  readonly kind: 'look ahead';
  readonly seed: number;
  /** The point, by its place, and the actions that may reach it. */
  readonly point: number;
  readonly names: readonly string[];
  /** The actions that may lead to where that is possible. */
  readonly by: readonly string[];
  /** Where it begins: after each of these. */
  readonly from: readonly (readonly SendStep[])[];
  /** The number of inputs that are tried. */
  readonly inputs: number;
}

/** True if it can be done: the first participant must go back as often as it likes. */
export const canLookAhead = (application: Application): boolean =>
  [hasTasks, hasHistory, hasLazy, hasSaved].every((has) => !has(application));

/** The number of payloads that are drawn for an action that may reach the point, in each state. */
const drawnPayloads = 2;

/** A state that was met: the less far it is from the point, the sooner it is gone on from. */
interface Met {
  readonly state: State;
  readonly mark: EnvironmentMark;
  readonly path: readonly SendStep[];
  readonly far: number;
}

/** The shortest inputs found that reach points that were never reached; those of the point that was asked for, and of others. */
export function lookAhead(
  searching: Searching,
  item: LookAheadItem,
): readonly (readonly SendStep[])[] {
  const looking = new LookAhead(searching, item);
  looking.run();
  return looking.ways;
}

class LookAhead {
  readonly ways: (readonly SendStep[])[] = [];
  readonly #searching: Searching;
  readonly #item: LookAheadItem;
  readonly #first: Player;
  readonly #choices: readonly Choice[];
  readonly #aimed: readonly Choice[];
  readonly #payloads: PayloadSource;
  readonly #keys = new Set<string>();
  readonly #waiting: Met[] = [];
  /** The points that were reached meanwhile. */
  readonly #got = new Set<number>();
  #left: number;

  constructor(searching: Searching, item: LookAheadItem) {
    this.#searching = searching;
    this.#item = item;
    this.#left = item.inputs;
    const { application, participants, observed, constants } = searching;
    const [first] = participants as [Participant];
    const byStep = participants.some(({ has }) => has !== undefined);
    this.#first = new Player(first, [], byStep, observed);
    const all = choicesOf(application, participants);
    this.#aimed = all.filter(({ name }) => item.names.includes(name));
    this.#choices = all.filter(({ name }) => item.by.includes(name) || item.names.includes(name));
    this.#payloads = new PayloadSource(
      application.types,
      new Random(item.seed),
      undefined,
      constants,
    );
  }

  run(): void {
    if (!this.#first.isRestorable) return;
    const start = { state: this.#first.state as State, mark: this.#first.mark() };
    for (const path of this.#item.from) this.#begin(start, path);
    // What is nearest may lead nowhere: every other time it is the turn of what has waited for longest.
    for (let turn = 0; this.#left > 0 && !this.#got.has(this.#item.point); turn++) {
      const isOldest = turn < this.#item.from.length || turn % 2 === 0;
      const next = isOldest ? this.#waiting.shift() : this.#takeNearest();
      if (next === undefined) break;
      this.#goOn(next);
    }
    this.#searching.reached.drop();
    this.#first.close();
  }

  /** What comes nearest, and of several the one that was met first. */
  #takeNearest(): Met | undefined {
    let best = 0;
    for (const [i, { far }] of this.#waiting.entries())
      if (far < (this.#waiting[best]?.far ?? Infinity)) best = i;
    return this.#waiting.splice(best, 1)[0];
  }

  #begin({ state, mark }: Pick<Met, 'state' | 'mark'>, path: readonly SendStep[]): void {
    this.#first.restore(state, mark);
    for (const step of path) this.#send(step);
    this.#searching.reached.drop();
    this.#meet(path);
  }

  #goOn(met: Met): void {
    const { application } = this.#searching;
    for (const choice of this.#choices)
      for (const input of smallInputs(application, choice, met.state)) {
        if (this.#left <= 0) return;
        this.#try(input, met);
      }
  }

  /** Tries an input in a state: notes what it reaches, and meets what it leads to. */
  #try(input: SendStep, { state, mark, path }: Met): void {
    this.#left -= 1;
    this.#first.restore(state, mark);
    this.#send(input);
    const steps = [...path, input];
    this.#note(steps);
    if (this.#first.state !== state) this.#meet(steps);
  }

  /** A state that was not met before waits, once it is known how far it is from the point. */
  #meet(path: readonly SendStep[]): void {
    const state = this.#first.state as State;
    const key = stateKey(state);
    if (this.#keys.has(key)) return;
    this.#keys.add(key);
    const mark = this.#first.mark();
    const far = this.#farFrom({ state, mark, path });
    this.#waiting.push({ state, mark, path, far });
  }

  /** How far a state is from the point: what would reach it is tried there. */
  #farFrom({ state, mark, path }: Omit<Met, 'far'>): number {
    const { application, reached } = this.#searching;
    let nearest = Infinity;
    const inputs = this.#aimed.flatMap((choice) => [
      ...smallInputs(application, choice, state),
      ...Array.from({ length: choice.action.payload === undefined ? 0 : drawnPayloads }, () =>
        drawnInput(application, choice, this.#payloads, state),
      ),
    ]);
    for (const input of inputs) {
      this.#left -= 1;
      this.#first.restore(state, mark);
      reached.listen((point, far) => {
        if (point === this.#item.point) nearest = Math.min(nearest, far);
      });
      this.#send(input);
      reached.listen(undefined);
      this.#note([...path, input]);
    }
    return nearest;
  }

  #send(step: SendStep): void {
    const first = this.#first;
    first.begin();
    first.send(step, payloadIn(step, first.state));
    first.state = first.read();
  }

  #note(steps: readonly SendStep[]): void {
    const { reached } = this.#searching;
    const news = reached.news.filter((index) => !this.#got.has(index));
    reached.drop();
    if (news.length === 0) return;
    for (const index of news) this.#got.add(index);
    this.ways.push(steps);
  }
}
