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

/** True if a reaction reads the payload. */
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

/** True if anything that is done is given more than its payload: what an action has bound, or the answer to a call. */
export function takesGiven(application: Application): boolean {
  return givesReactions(application) || hasTasks(application);
}

/** True if any action puts whole stores back to their defaults. */
export function resetsStores(application: Application): boolean {
  return hasStep(application, 'resetStores');
}

/** True if anything that the stores do has a step of that kind. */
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

/** True if any step undoes or redoes. */
export function hasMoves(application: Application): boolean {
  return hasStep(application, 'history', ({ does }) => does !== 'reset');
}

type NameOf<K extends Step['kind']> = (step: Extract<Step, { readonly kind: K }>) => string;

/** What a reaction is called that does this first. */
const namesByStep: { readonly [K in Exclude<Step['kind'], 'when' | 'let'>]: NameOf<K> } = {
  set: (step) => `set${fieldIn(step)}`,
  add: (step) => `addTo${fieldIn(step)}`,
  put: (step) => `putInto${fieldIn(step)}`,
  update: (step) => `update${fieldIn(step)}`,
  remove: (step) => `removeFrom${fieldIn(step)}`,
  updateEntries: (step) => `updateEntries${fieldIn(step)}`,
  removeEntries: (step) => `removeEntries${fieldIn(step)}`,
  drop: (step) => `dropFrom${fieldIn(step)}`,
  reset: ({ fields }) => `reset${pascal(fields[0] ?? '')}`,
  resetStores: () => 'resetStores',
  run: ({ action }) => `run${pascal(action)}`,
  start: ({ task }) => `start${pascal(task)}`,
  cancel: ({ tasks }) => `cancel${pascal(tasks[0]?.task ?? '')}`,
  history: ({ store, does }) => `${does}${pascal(store)}`,
  toggle: (step) => `toggle${fieldIn(step)}`,
  move: (step) => `move${fieldIn(step)}`,
};

const fieldIn = (step: Step): string => pascal(pathsOf(step)[0]?.field ?? '');

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
  for (const step of allSteps(steps))
    if (step.kind !== 'when' && step.kind !== 'let') return namesByStep[step.kind](step as never);
  return 'react';
}
