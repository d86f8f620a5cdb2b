import { beforeAll, describe, expect, test } from '@jest/globals';
import type { EmitOptions, GeneratedFolder } from '../../src/core.js';
import { generatedParticipant } from '../../src/participants/generated-participant.js';
import { namesOf } from '../../src/participants/names.js';
import type { Application } from '../../src/model/application.js';
import type { Participant } from '../../src/model/participant.js';
import { foldersOf, modelOf } from '../helpers.js';
import {
  participantNames,
  participantsOf,
  startOf,
  type ParticipantName,
} from '../participants.js';
import { broken, type Break } from './broken.js';
import type { Begin, Promised } from './task-promises.js';
import { TideWorld } from './tide-world.js';

/** A part of the contract. */
export interface ContractPart {
  readonly of: string;
  readonly schema: string;
  readonly promises: readonly Promised[];
  /** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
  readonly breaks: Readonly<Record<string, Break>>;
  /** How the stores are generated; as usual if not given. */
  readonly output?: Partial<EmitOptions>;
}

/** Tests each promise with every participant, and once with code in which it is broken: that is seen. */
export function testContract({ of, schema, promises, breaks, output = {} }: ContractPart): void {
  let application: Application;
  let folders: readonly GeneratedFolder[];
  let participants: ReadonlyMap<ParticipantName, Participant>;
  beforeAll(async () => {
    application = await modelOf(schema);
    folders = await foldersOf(application, undefined, output);
    participants = await participantsOf(application, output);
  });
  const begin =
    (participant: () => Participant): Begin =>
    (change) =>
      TideWorld.begin(application, (environment) => startOf(participant(), environment), change);

  describe.each(participantNames)(`%s keeps the contract of ${of}`, (name) => {
    for (const { what, rules, holds } of promises)
      test(`${what} (rule ${rules})`, () =>
        holds(begin(() => participants.get(name) as Participant)));
  });

  describe(`each promise of ${of} is broken on purpose once, and that is seen`, () => {
    test('every promise has its break', () => {
      expect(promises.map(({ what }) => what).sort()).toEqual(Object.keys(breaks).sort());
    });

    test.each(promises)('$what', async ({ what, holds }) => {
      const changes = breaks[what] ?? [];
      const style = changes[0]?.[0];
      const folder = folders.find((one) => one.style === style) as GeneratedFolder;
      const { files } = broken(folder, changes);
      const participant = generatedParticipant('broken', folder.style, files, namesOf(application));
      await expect(holds(begin(() => participant))).rejects.toThrow();
    });
  });
}
