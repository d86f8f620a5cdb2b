import { addCounts } from '../../base/add-counts.js';
import { canonicalText } from '../../base/canonical.js';
import { Session } from '../session/session.js';
import { startsOf } from '../inputs/inputs.js';
import { lazyStores, savedStores, smallStorageInputs } from '../inputs/storage-inputs.js';
import { smallTaskInputs } from '../inputs/task-inputs.js';
import { isStart, type ScriptStep } from '../script.js';
import type { Searching } from '../searching.js';
import {
  choicesWithin,
  inputsIn,
  isSmall,
  longestIn,
  mostItems,
  type Expanded,
  type Expansion,
  type ExpandItem,
  type FrontierState,
  type NextState,
} from './expansion.js';
import { historyKey, stateKey } from './state-key.js';

/** So many runs of a task are tried in every order. */
const mostRuns = 2;

/**
 * Tries the inputs of a small scope where tasks are at work: all participants are led to each state anew, since nobody can
 * be put where a run goes on.
 */
export async function expandSlowly(
  searching: Searching,
  item: ExpandItem,
  isOver: () => Promise<boolean>,
): Promise<Expansion> {
  const expander = new SlowExpander(searching, item);
  for (const frontierState of item.states) {
    if (expander.isOver || (await isOver())) break;
    await expander.at(frontierState);
  }
  return expander;
}

class SlowExpander implements Expansion {
  transitions = 0;
  found: Expansion['found'];
  readonly expanded: Expanded[] = [];
  readonly notReported = new Map<string, number>();
  readonly #searching: Searching;
  readonly #item: ExpandItem;
  /** How long lists may be in states that are gone on from. */
  #mostItems = mostItems;

  constructor(searching: Searching, item: ExpandItem) {
    this.#searching = searching;
    this.#item = item;
  }

  get steps(): number {
    return this.transitions;
  }

  get isOver(): boolean {
    return this.found !== undefined || this.transitions >= this.#item.steps;
  }

  async at({ path, tried }: FrontierState): Promise<void> {
    let session = await this.#lead(path);
    const inputs = this.#inputsAt(session, path);
    const [key, before] = [this.#keyOf(session), this.#stateKeyOf(session)];
    const nextStates: NextState[] = [];
    let next = tried;
    /** What was tried since they were led there, and changed nothing. */
    let since: ScriptStep[] = [];
    while (next < inputs.length && !this.isOver) {
      const input = inputs[next++] as ScriptStep;
      const { done, difference } = await session.play(input, { look: 'new' });
      if (!done) continue;
      this.transitions++;
      since.push(input);
      if (difference !== undefined) {
        const steps = [...path, ...since];
        const last = { ...difference, step: steps.length - 1 };
        this.found = { script: { steps }, difference: last };
        break;
      }
      if (this.#stateKeyOf(session) === before) continue;
      const isWithin = isSmall(session.state, this.#mostItems);
      nextStates.push({ input, key: this.#keyOf(session), isWithin });
      this.#leave(session);
      since = [];
      session = await this.#lead(path);
    }
    this.#leave(session);
    this.expanded.push({ key, tried: next, isDone: next >= inputs.length, nextStates });
  }

  /** All participants, after the steps that lead to a state. */
  async #lead(path: readonly ScriptStep[]): Promise<Session> {
    const { participants, observed, reached } = this.#searching;
    const session = new Session(participants, observed, {
      look: 'nothing',
      watches: false,
      reached,
    });
    await session.ready();
    for (const [i, step] of path.entries()) {
      await session.play(step, { look: 'nothing' });
      if (i === this.#item.base - 1)
        this.#mostItems = Math.max(mostItems, longestIn(session.state));
    }
    return session;
  }

  #leave(session: Session): void {
    addCounts(this.notReported, session.notReported);
    session.close();
  }

  #inputsAt(session: Session, path: readonly ScriptStep[]): readonly ScriptStep[] {
    const { application, participants } = this.#searching;
    const { store, task } = this.#item;
    const { state, outside, tasks } = session;
    const choices = choicesWithin(this.#searching, this.#item);
    const saved = savedStores(application, participants).filter(
      ({ name }) => store === undefined || name === store,
    );
    const attaches = lazyStores(application, participants)
      .filter((name) => state[name] === null && (store === undefined || name === store))
      .map((attach) => ({ attach }));
    const ofStorage = [...attaches, ...smallStorageInputs(saved, participants)];
    if (outside === undefined) return [...ofStorage, ...inputsIn(this.#searching, choices, state)];
    const moment = { state, outside, tasks };
    const starts = startsOf(application, participants).filter(({ name, store: owner }) =>
      task === undefined
        ? store === undefined || owner.name === store
        : name === `${owner.name}.${task}`,
    );
    const begun = path.slice(this.#item.base).filter(isStart).length;
    const open = task !== undefined && begun >= mostRuns ? [] : starts;
    const cancels = starts.filter(({ name }) =>
      participants.every(({ has }) => has?.cancels.has(name) !== false),
    );
    const ofTasks = smallTaskInputs(application, { starts: open, all: cancels, moment });
    if (task !== undefined) return [...attaches, ...ofTasks];
    return [...ofTasks, ...ofStorage, ...inputsIn(this.#searching, choices, state)];
  }

  #keyOf(session: Session): string {
    return this.#item.by === 'state' ? this.#stateKeyOf(session) : '';
  }

  /** The same for states that are equal, in which the same goes on. */
  #stateKeyOf({ state, outside, tasks, histories, stored }: Session): string {
    const calls = (outside?.open ?? []).map((number) => {
      const call = outside?.call(number);
      return [call?.operation, call?.with ?? null];
    });
    return `${stateKey(state)}${historyKey(histories)} ${canonicalText([tasks?.running ?? null, calls, outside?.due ?? [], stored ?? null])}`;
  }
}
