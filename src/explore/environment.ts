import type { Environment, Report } from '../model/participant.js';

/** An environment whose answers can be taken back. */
export interface RepeatableEnvironment extends Environment {
  /** Notes what has been asked for; what is returned goes back to there. */
  readonly mark: () => () => void;
}

/** An environment that answers the same in every run: ids count up, and each question for the time gets a second more. */
export function repeatableEnvironment(reports: Pick<Report[], 'push'>): RepeatableEnvironment {
  let ids = 0;
  let fractions = 0;
  let moment = startOfTime;
  return {
    newId: () => `${idPrefix}${(ids += 1)}`,
    now: () => (moment += 1000),
    random: () => (fractions = (fractions * 0.618 + 0.271) % 1),
    onProblem: ({ kind, at }) => void reports.push({ kind, at }),
    mark() {
      const marked = [ids, fractions, moment] as const;
      return () => {
        [ids, fractions, moment] = marked;
      };
    },
  };
}

/** What identifiers begin with, before their number. */
export const idPrefix = 'id-';

/** The time before the first question for it, in milliseconds since 1970. */
export const startOfTime = Date.UTC(2030, 0, 1);
