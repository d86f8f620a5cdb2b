import { observables } from '../model/observed-class.js';
import type { Abilities } from '../model/participant.js';
import { causeKey } from './cause-key.js';
import { lackedBy } from './session/abilities.js';
import { observablesOf } from './session/observed.js';
import { fullEvery } from './session/session.js';
import type { Compared, SearchOptions } from './search-options.js';
import type { Comparison, ParticipantSummary } from './comparison.js';
import { deedOf } from './deed-of.js';
import type { Shrunk } from './shrinking/shrink.js';

/** The result of a search that was over before anything was loaded. */
export function nothingCompared(
  { seed, steps, classes = observables, isStopped }: SearchOptions,
  tookMs: number,
): Comparison {
  return {
    verdict: 'nothing compared',
    seed,
    participants: [],
    steps: 0,
    scripts: 0,
    end: isStopped?.() === true ? 'stopped' : 'time',
    budget: steps,
    tookMs,
    compared: classes,
    ignored: observables.filter((one) => !classes.includes(one)),
    fullEvery,
    walks: [],
    around: 0,
    alone: 0,
    code: [],
    coverage: {
      reached: 0,
      total: 0,
      missing: [],
      bounds: { broken: 0, never: [] },
      corners: { met: 0, never: [] },
    },
    difference: undefined,
    alsoFound: [],
    kept: [],
  };
}

/** Who took part: what each lacks, and how often its known differences have shown, by its name and their place. */
export function participantsOf(
  { application, participants }: Pick<Compared, 'application' | 'participants'>,
  notReported: ReadonlyMap<string, number>,
  passedOver: ReadonlyMap<string, number>,
): readonly ParticipantSummary[] {
  const hasOld = application.stores.some(({ saved }) => saved?.old !== undefined);
  // What it keeps in another form is compared where the schema says how that is read.
  const readsOld = ({ reopens }: Abilities) => hasOld && reopens;
  return participants.map(({ name, has, refusesMisfits = true, judgesAnswers = true }) => ({
    name,
    lacks: has === undefined ? [] : lackedBy(has, application),
    unfilled: has?.unfilled ?? [],
    sharedOperations: [...(has?.sharedOperations ?? [])],
    without: observablesOf(application).filter(
      (one) => has?.classes.has(one) === false && !(one === 'storage' && readsOld(has)),
    ),
    refusesMisfits,
    judgesAnswers,
    notSent: {
      payloads: passedOver.get(`${name}/payload`) ?? 0,
      answers: passedOver.get(`${name}/answer`) ?? 0,
    },
    notReported: notReported.get(name) ?? 0,
    known: (has?.known ?? []).map((known, i) => ({
      ...known,
      shown: passedOver.get(`${name}/${i}`) ?? 0,
    })),
    tolerance: has?.tolerance ?? null,
  }));
}

type ShrunkDifference = Pick<Shrunk, 'script' | 'difference'>;

/** The action or the task after which a difference shows; '' if it is none. */
export function actionOf({ script, difference }: ShrunkDifference): string {
  const step = script.steps[difference.step];
  return step === undefined ? '' : deedOf(step);
}

/** What tells the cause of a difference from others. */
export const keyOf = (shown: ShrunkDifference): string =>
  causeKey({ ...shown.difference, action: actionOf(shown) });
