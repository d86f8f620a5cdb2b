import { thrownText } from '../../base/thrown-text.js';
import type { Environment, Participant, Running } from '../../model/participant.js';

/** A participant that throws where it should answer shows that instead of an answer. */
export function attempt(answer: () => unknown): unknown {
  try {
    return answer();
  } catch (error) {
    return { threw: thrownText(error) };
  }
}

/** A participant that cannot even be made answers everything with that. */
export function started(participant: Participant, environment: Environment): Running {
  try {
    return participant.create(environment);
  } catch (error) {
    const fail = (): never => {
      throw error;
    };
    return { send: fail, read: fail, derive: fail };
  }
}
