import { describe, test } from '@jest/globals';
import { participantNames, start } from '../participants.js';
import { promises, quay } from './promises.js';

describe.each(participantNames)('%s keeps the contract', (name) => {
  for (const { what, rules, holds } of promises)
    test(`${what} (rule ${rules.join(', ')})`, () => holds((change) => start(quay, name, change)));
});
