import { Random } from '../base/random.js';
import type { Action, Application, Store } from '../model/application.js';
import type { Participant } from '../model/participant.js';
import { PayloadSource } from './payloads.js';
import { poolOf } from './pool.js';
import type { Script, ScriptStep } from './script.js';
import { fullEvery, observedOf, Session, type Difference, type ObservedClass } from './session.js';

/** How much is searched, from which seed. */
export interface SearchOptions {
  readonly seed: number;
  /** The most steps, over all scripts. */
  readonly steps: number;
  /** Milliseconds from any start: ends a search at `until`. */
  readonly clock: () => number;
  readonly until: number;
  /** What is compared; everything if not given. */
  readonly classes?: readonly ObservedClass[];
  /** Told now and then how far the search is; it stops if this says so. */
  readonly onProgress?: (steps: number, scripts: number) => Promise<boolean>;
}

export interface SearchResult {
  readonly steps: number;
  readonly scripts: number;
  /** Why it ended. */
  readonly end: 'found' | 'steps' | 'time' | 'stopped';
  /** The script that tells two participants apart, as it was found. */
  readonly found: { readonly script: Script; readonly difference: Difference } | undefined;
}

/** How many steps a script has: its last step is compared in full. */
const scriptLength = 10 * fullEvery;

interface Choice {
  readonly store: Store;
  readonly action: Action;
}

/** Looks for a script that tells the participants apart: random actions, from a seed. */
export async function searchRandomly(
  application: Application,
  participants: readonly Participant[],
  options: SearchOptions,
): Promise<SearchResult> {
  const random = new Random(options.seed);
  const payloads = new PayloadSource(application.types, random);
  const observed = observedOf(application, options.classes);
  const choices = application.stores.flatMap((store) =>
    store.actions.map((action): Choice => ({ store, action })),
  );
  let steps = 0;
  let scripts = 0;
  const result = (end: SearchResult['end'], found?: SearchResult['found']): SearchResult => ({
    steps,
    scripts,
    end,
    found,
  });
  if (choices.length === 0) return result('steps');
  for (;;) {
    const session = new Session(participants, observed);
    const done: ScriptStep[] = [];
    scripts++;
    while (done.length < scriptLength && steps < options.steps) {
      const step = drawStep(application, random.pick(choices), payloads, session);
      done.push(step);
      steps++;
      const { difference } = session.step(step);
      if (difference !== undefined) return result('found', { script: { steps: done }, difference });
    }
    if (steps >= options.steps) return result('steps');
    if (options.clock() >= options.until) return result('time');
    if ((await options.onProgress?.(steps, scripts)) === false) return result('stopped');
  }
}

function drawStep(
  application: Application,
  { store, action }: Choice,
  payloads: PayloadSource,
  session: Session,
): ScriptStep {
  const send = `${store.name}.${action.name}`;
  if (action.payload === undefined) return { send };
  const pool = poolOf(application, session.state);
  const { payload, fill } = action.acceptsText
    ? payloads.drawAsText(action.payload, pool)
    : payloads.draw(action.payload, pool);
  return Object.keys(fill).length === 0 ? { send, payload } : { send, payload, fill };
}
