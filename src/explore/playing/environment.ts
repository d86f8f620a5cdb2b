import type { Environment, Report } from '../../model/participant.js';
import type { Outside } from './outside.js';
import type { VirtualStorage } from './virtual-storage.js';

/** Where an environment stands: which step it is, and what has been asked for. */
export interface EnvironmentMark {
  readonly step: number;
  readonly ids: number;
  readonly fractions: number;
  readonly time: number;
}

/** An environment that knows of steps, and that can be put back to where it stood. */
export interface RepeatableEnvironment extends Environment {
  /** A step begins. */
  readonly next: () => void;
  /** Where it stands. */
  readonly mark: () => EnvironmentMark;
  /** Puts it to where this one or another has stood. */
  readonly back: (mark: EnvironmentMark) => void;
}

/**
 * An environment that answers the same in every run. Identifiers count up, and each question for the time gets
 * a second more. `byStep` makes both depend on the step alone: who asks less often than others (since it has
 * fewer stores, say) gets the same later. Where time passes `outside`, it is that.
 */
export function repeatableEnvironment(
  reports: Pick<Report[], 'push'>,
  byStep = false,
  outside?: Outside,
  storage?: VirtualStorage,
): RepeatableEnvironment {
  let [step, ids, fractions, time] = [0, 0, 0, startOfTime];
  return {
    newId() {
      ids += 1;
      if (!byStep) return `${idPrefix}${ids}`;
      return ids === 1 ? `${idPrefix}${step}` : `${idPrefix}${step}-${ids}`;
    },
    now() {
      if (outside !== undefined) return startOfTime + outside.time;
      return byStep ? startOfTime + 1000 * step : (time += 1000);
    },
    ...(storage && { storage }),
    ...(outside && { services: outside.services, timers: outside.timers }),
    random: () => (fractions = (fractions * 0.618 + 0.271) % 1),
    onProblem: ({ kind, at }) => void reports.push({ kind, at }),
    next() {
      step += 1;
      if (byStep) [ids, fractions] = [0, 0];
    },
    mark: () => ({ step, ids, fractions, time }),
    back(mark) {
      ({ step, ids, fractions, time } = mark);
    },
  };
}

/** What identifiers begin with, before their number. */
export const idPrefix = 'id-';

/** The time before the first question for it, in milliseconds since 1970. */
export const startOfTime = Date.UTC(2030, 0, 1);
