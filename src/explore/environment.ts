import type { Environment, Report } from '../model/participant.js';

/** An environment that answers the same in every run: ids count up, and each question for the time gets a second more. */
export function repeatableEnvironment(reports: Report[]): Environment {
  let ids = 0;
  let fractions = 0;
  let moment = Date.UTC(2030, 0, 1);
  return {
    newId: () => `id-${(ids += 1)}`,
    now: () => (moment += 1000),
    random: () => (fractions = (fractions * 0.618 + 0.271) % 1),
    onProblem: ({ kind, at }) => void reports.push({ kind, at }),
  };
}
