import { hasSaved, hasTasks, type Application } from '../../model/application.js';
import { isLaterVersion } from '../../model/saved.js';
import type { Target } from '../../model/participant.js';
import { observables, type ObservedClass } from '../../model/observed-class.js';
import { callablesOf } from '../playing/outside.js';
import type { Surroundings } from '../playing/player.js';
import type { StoredTexts } from '../playing/virtual-storage.js';
import { absentPartsOf } from '../inputs/absent-parts.js';
import { freeTextsOf } from '../inputs/free-texts.js';
import { questionsOf, type Question } from '../inputs/questions.js';
import { targetsOf } from '../inputs/targets.js';

/** What is looked at: which classes are compared, which targets are watched, and what is asked in a state. */
export interface Observed extends Surroundings {
  readonly classes: readonly ObservedClass[];
  readonly targets: readonly Target[];
  /** What the schema's stores read of what is kept, by key; their defaults where that cannot be read. The same if not given. */
  readonly reloaded?: (kept: StoredTexts['kept']) => Readonly<Record<string, unknown>>;
  /** The keys of stores that read what was kept before there was a schema. */
  readonly keysOfOld?: readonly string[];
  /** True if a text under a key is of a later version than the schema's; none is if not given. */
  readonly isOfLater?: (key: string, text: string) => boolean;
  readonly questions: (state: Readonly<Record<string, unknown>>) => readonly Question[];
}

/** The classes of what can be observed of an application. */
export function observablesOf(application: Application): readonly ObservedClass[] {
  return observables.filter(
    (one) =>
      (one !== 'tasks' || hasTasks(application)) && (one !== 'storage' || hasSaved(application)),
  );
}

/** What of an application is looked at: everything that can be, or what belongs to some classes. */
export function observedOf(
  application: Application,
  classes: readonly ObservedClass[] = observables,
  reloaded?: Observed['reloaded'],
): Observed {
  return {
    classes,
    targets: classes.includes('notices') ? targetsOf(application) : [],
    callables: hasTasks(application) ? callablesOf(application) : undefined,
    lazyStores: application.stores.flatMap(({ name, lazy }) => (lazy ? [name] : [])),
    ...(reloaded && { reloaded }),
    isOfLater: (key, text) =>
      application.stores.some(({ saved }) => saved?.key === key && isLaterVersion(saved, text)),
    savedKeys: application.stores.flatMap(({ saved }) => (saved === undefined ? [] : [saved.key])),
    oldKeys: application.stores.flatMap(({ saved }) =>
      (saved?.old?.keys ?? []).map(({ key }) => key),
    ),
    keysOfOld: application.stores.flatMap(({ saved }) =>
      saved?.old === undefined ? [] : [saved.key],
    ),
    withAbsent: absentPartsOf(application),
    freeTexts: freeTextsOf(application),
    questions: classes.includes('derived') ? questionsOf(application) : () => [],
  };
}
