import {
  deedsOf,
  hasTasks,
  reactionsTo,
  type Action,
  type Application,
  type Reaction,
  type Store,
} from '../../model/application.js';
import { allSteps, exprsOf, pathsOf } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';
import { pascal } from '../build/reserved.js';
import { localsRead } from './expression-facts.js';

/** What a reaction reads of what the action gives it, besides the payload. */
export function boundFor({ given, steps }: Reaction): readonly Reaction['given'][number][] {
  const used = new Set(allSteps(steps).flatMap(exprsOf).flatMap(localsRead));
  return given.filter(({ name }) => name !== 'payload' && used.has(name));
}

/** Whether a reaction reads the payload. */
export function readsPayload({ steps }: Reaction): boolean {
  return allSteps(steps).flatMap(exprsOf).flatMap(localsRead).includes('payload');
}

/** The names bound by an action that the reactions to it read. */
export function readByReactions(
  application: Application,
  store: Store,
  action: Action,
): readonly string[] {
  const read = reactionsTo(application, store.name, action.name).flatMap(({ reaction }) =>
    boundFor(reaction).map(({ name }) => name),
  );
  return [...new Set(read)];
}

/** Whether any reaction reads what an action binds, or something later what the start of a task binds. */
export function givesReactions({ stores }: Application): boolean {
  return stores.some(
    ({ reactions, tasks }) =>
      reactions.some((one) => boundFor(one).length > 0) ||
      tasks.some((task) => task.requires.length + task.let.length > 0),
  );
}

/** Whether anything that is done is given more than its payload: what an action has bound, or the answer to a call. */
export function takesGiven(application: Application): boolean {
  return givesReactions(application) || hasTasks(application);
}

/** Whether any action puts whole stores back to their defaults. */
export function resetsStores(application: Application): boolean {
  return hasStep(application, 'resetStores');
}

/** Whether anything that the stores do has a step of that kind. */
export function hasStep<K extends Step['kind']>(
  { stores }: Application,
  kind: K,
  isMeant: (step: Extract<Step, { readonly kind: K }>) => boolean = () => true,
): boolean {
  return stores.some((store) =>
    deedsOf(store).some(({ steps }) =>
      allSteps(steps).some((step) => step.kind === kind && isMeant(step as never)),
    ),
  );
}

/** Whether any step undoes or redoes. */
export function hasMoves(application: Application): boolean {
  return hasStep(application, 'history', ({ does }) => does !== 'reset');
}

const verbs: Readonly<Partial<Record<string, string>>> = {
  add: 'addTo',
  put: 'putInto',
  remove: 'removeFrom',
  drop: 'dropFrom',
};

/**
 * Names for the reactions of a store, from what each does first: `addToEntries`; of several that begin alike, with what they
 * follow: `setTextAfterLoadFail`.
 */
export function reactionNames({ reactions }: Store): ReadonlyMap<Reaction, string> {
  const names = reactions.map(nameOfReaction);
  return new Map(
    reactions.map((reaction, i) => {
      const name = names[i] ?? '';
      const isAlone = names.indexOf(name) === names.lastIndexOf(name);
      const after = (reaction.to[0]?.action ?? '').split('.').map(pascal).join('');
      return [reaction, isAlone ? name : `${name}After${after}`];
    }),
  );
}

function nameOfReaction({ steps }: Reaction): string {
  const [first] = allSteps(steps).filter(({ kind }) => kind !== 'when' && kind !== 'let');
  if (first === undefined) return 'react';
  if (first.kind === 'run') return `run${pascal(first.action)}`;
  if (first.kind === 'resetStores') return 'resetStores';
  if (first.kind === 'start') return `start${pascal(first.task)}`;
  if (first.kind === 'history') return `${first.does}${pascal(first.store)}`;
  if (first.kind === 'cancel') return `cancel${pascal(first.tasks[0]?.task ?? '')}`;
  const field = first.kind === 'reset' ? first.fields[0] : pathsOf(first)[0]?.field;
  return `${verbs[first.kind] ?? first.kind}${pascal(field ?? '')}`;
}
