import { createPatch } from 'rfc6902';
import { differingPlaces } from '../../base/differing-places.js';
import { isObject, type Json } from '../../base/json.js';
import { same } from '../../base/same.js';
import {
  observedOf,
  Player,
  isSend,
  isStart,
  payloadIn,
  type Script,
  type ScriptStep,
} from '../../comparing/index.js';
import type { PatchOperation, LogHead, LoggedState, LogLine } from '../log/log-lines.js';
import type { Application } from '../../model/application.js';
import type { Participant } from '../../model/participant.js';
import { ComparedFields } from './compared-fields.js';

/** What a participant did in a script, as a log. */
export interface PlayedLog {
  readonly name: string;
  readonly entries: readonly (LogHead | LogLine)[];
}

/** A script, done by several participants. */
export interface PlayedScript {
  readonly logs: readonly PlayedLog[];
  /** The first step, from 0, after which somebody shows something else than the first; `undefined` if nobody does. */
  readonly differsAt: number | undefined;
}

/** Does a script with several participants, the reference first, to the end: whatever they show. */
export async function playSideBySide(
  application: Application,
  participants: readonly Participant[],
  script: Script,
): Promise<PlayedScript> {
  const byStep = participants.some(({ has }) => has !== undefined);
  const surroundings = observedOf(application);
  const playing = participants.map((participant) => ({
    player: new Player(participant, [], byStep, surroundings, byStep),
    fields: new ComparedFields(application, participant),
    entries: [] as (LogHead | LogLine)[],
    state: {},
  }));
  for (const one of playing) {
    one.state = stateOf(one.player.read());
    one.entries.push({ leeshoreLog: 1, state: one.state });
  }
  let differsAt: number | undefined;
  for (const [i, step] of script.steps.entries()) {
    const [first] = playing;
    const payload = isSend(step) || isStart(step) ? payloadIn(step, first?.state) : undefined;
    const ms =
      'pass' in step ? (step.pass === 'next' ? (first?.player.outside?.next ?? 0) : step.pass) : 0;
    const outcomes: unknown[] = [];
    for (const one of playing) {
      one.player.begin();
      const outcome = await one.player.play(step, payload, ms);
      outcomes.push(outcome);
      const state = stateOf(one.player.read());
      const changes = createPatch(one.state, state) as readonly PatchOperation[];
      one.entries.push({ turn: i + 1, ...stepLine(step, payload), ...outcomeOf(outcome), changes });
      one.state = state;
    }
    const differs = playing.some(({ fields, state }, at) => {
      const reference = fields.partOf(first?.state ?? {}, first?.state ?? {});
      const own = fields.partOf(state, reference);
      const isOther = outcomes[at] !== undefined && !same(outcomes[at], outcomes[0]);
      return isOther || differingPlaces(reference, own, 1).length > 0;
    });
    if (differs) differsAt ??= i;
  }
  for (const { player } of playing) player.close();
  return { logs: playing.map(({ player: { name }, entries }) => ({ name, entries })), differsAt };
}

const stateOf = (state: unknown): LoggedState =>
  isObject(state) ? (JSON.parse(JSON.stringify(state)) as LoggedState) : {};

/** What a step is in a log. */
function stepLine(
  step: ScriptStep,
  payload: Json | undefined,
): Pick<LogLine, 'do' | 'kind' | 'payload'> {
  const given = payload === undefined ? {} : { payload };
  if (isSend(step)) return { do: step.send, ...given };
  if (isStart(step)) return { do: step.start, kind: 'start', ...given };
  if ('cancel' in step) return { do: step.cancel, kind: 'cancel' };
  if ('attach' in step) return { do: step.attach, kind: 'attach' };
  if ('pass' in step)
    return { do: step.pass === 'next' ? 'time passes to the next timer' : `${step.pass} ms pass` };
  if ('value' in step) return { do: `call ${step.value} gives a value`, payload: step.result };
  if ('answer' in step) {
    if ('error' in step) return { do: `call ${step.answer} fails`, payload: step.error };
    return { do: `call ${step.answer} answers`, ...('result' in step && { payload: step.result }) };
  }
  if ('watch' in step) return { do: `${step.as} watches ${step.watch}` };
  if ('stop' in step) return { do: `${step.stop} stops` };
  return { do: 'reopen' in step ? 'the stores are made anew' : 'the storage changes' };
}

function outcomeOf(outcome: unknown): Pick<LogLine, 'outcome' | 'reason' | 'place'> {
  if (!isObject(outcome)) return {};
  const { status, reason, at, threw } = outcome as Readonly<Record<string, string | undefined>>;
  if (threw !== undefined) return { outcome: 'broken', reason: threw };
  return {
    ...(status !== undefined && { outcome: status as NonNullable<LogLine['outcome']> }),
    ...(reason !== undefined && { reason }),
    ...(at !== undefined && { place: at }),
  };
}
