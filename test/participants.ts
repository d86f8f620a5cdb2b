import { repeatableEnvironment } from '../src/comparing/playing/environment.js';
import { referenceParticipant } from '../src/meaning/reference.js';
import { generatedParticipant } from '../src/participants/generated-participant.js';
import { namesOf } from '../src/participants/names.js';
import type { EmitOptions } from '../src/generation/emit-options.js';
import type { Application } from '../src/model/application.js';
import type { Environment, Participant, Report, Running } from '../src/model/participant.js';
import { foldersOf, modelOf } from './helpers.js';

export const participantNames = ['reference', 'reducer', 'atom', 'proxy', 'observable'] as const;
export type ParticipantName = (typeof participantNames)[number];

/** All participants of an application, by name. */
export async function participantsOf(
  application: Application,
  output: Partial<EmitOptions> = {},
): Promise<ReadonlyMap<ParticipantName, Participant>> {
  const names = namesOf(application);
  const generated = (await foldersOf(application, undefined, output)).map(
    ({ name, style, files }) =>
      [name as ParticipantName, generatedParticipant(name, style, files, names)] as const,
  );
  return new Map([['reference', referenceParticipant(application)], ...generated]);
}

export interface Started {
  readonly running: Running;
  /** What was told to `onProblem`. */
  readonly reports: Report[];
}

/** The participants of each schema: they make what runs, and keep nothing themselves. */
const known = new Map<string, Promise<ReadonlyMap<ParticipantName, Participant>>>();

/** Starts a participant of a schema in a repeatable environment, of which parts can be replaced. */
export async function start(
  schema: string,
  name: ParticipantName,
  change: Partial<Environment> = {},
): Promise<Started> {
  const participants = known.get(schema) ?? modelOf(schema).then(participantsOf);
  known.set(schema, participants);
  const participant = (await participants).get(name);
  if (participant === undefined) throw new Error(`no participant '${name}'`);
  return startOf(participant, change);
}

/** Starts a participant in a repeatable environment, of which parts can be replaced. */
export function startOf(participant: Participant, change: Partial<Environment> = {}): Started {
  const reports: Report[] = [];
  return { running: participant.create({ ...repeatableEnvironment(reports), ...change }), reports };
}
