import type { Environment, Report } from '../../model/participant.js';
import type { IdKind } from '../script.js';
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
  /** The identifiers that were asked for by now; it grows. */
  readonly made: ReadonlySet<string>;
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
  ids?: IdKind,
): RepeatableEnvironment {
  let [step, drawn, fractions, time] = [0, 0, 0, startOfTime];
  const made = new Set<string>();
  const drawnId = () => {
    if (!byStep) return idOf(drawn, ids);
    return drawn === 1 ? idOf(step, ids) : `${idOf(step, ids)}-${drawn}`;
  };
  return {
    made,
    newId() {
      drawn += 1;
      const id = drawnId();
      made.add(id);
      return id;
    },
    now() {
      // Nobody does two things in one millisecond, and old code may make identifiers of the time.
      if (outside !== undefined) return startOfTime + outside.time + (byStep ? step : 0);
      return byStep ? startOfTime + 1000 * step : (time += 1000);
    },
    ...(storage && { storage }),
    ...(outside && { services: outside.services, timers: outside.timers }),
    random: () => (fractions = (fractions * 0.618 + 0.271) % 1),
    onProblem: ({ kind, at }) => void reports.push({ kind, at }),
    next() {
      step += 1;
      if (byStep) [drawn, fractions] = [0, (step * 0.754877666) % 1];
    },
    mark: () => ({ step, ids: drawn, fractions, time }),
    back(mark) {
      ({ step, ids: drawn, fractions, time } = mark);
    },
  };
}

function idOf(number: number, kind: IdKind | undefined): string {
  if (kind === 'alike') {
    const times = Math.min(number, mostAlike);
    return `${'v1'.repeat(times)}${number > mostAlike ? number : ''}`;
  }
  return kind === 'numbers' ? String(firstNumber - number) : `${idPrefix}${number}`;
}

/** So many identifiers end alike too. */
const mostAlike = 12;

/** One less than that is the first identifier that is a number. */
const firstNumber = 13;

/** What identifiers begin with, before their number. */
export const idPrefix = 'id-';

/** The time before the first question for it, in milliseconds since 1970. */
export const startOfTime = Date.UTC(2030, 0, 1);
