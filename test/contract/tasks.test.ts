import { beforeAll, describe, test } from '@jest/globals';
import type { Application } from '../../src/model/application.js';
import { modelOf } from '../helpers.js';
import { participantNames, start } from '../participants.js';
import { pier, taskPromises } from './task-promises.js';
import { TideWorld } from './tide-world.js';

let application: Application;
beforeAll(async () => {
  application = await modelOf(pier);
});

describe.each(participantNames)('%s keeps the contract of tasks', (name) => {
  for (const { what, rules, holds } of taskPromises)
    test(`${what} (rule ${rules})`, () =>
      holds((change) =>
        TideWorld.begin(application, (environment) => start(pier, name, environment), change),
      ));
});
