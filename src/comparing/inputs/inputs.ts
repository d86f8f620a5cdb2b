import type { State } from '../../base/state.js';
import { atPointer, type Json } from '../../base/json.js';
import {
  initialState,
  type Action,
  type Application,
  type Store,
} from '../../model/application.js';
import type { Participant } from '../../model/participant.js';
import { allSteps } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';
import { agreeingParts } from './agreeing-parts.js';
import { PayloadSource, type Drawn } from './payloads.js';
import { poolFor } from './pool.js';
import { trailsOf } from './trails.js';
import type { SendStep } from '../script.js';
import { smallPayloads } from './small-values.js';

/** An action that can be sent. */
export interface Choice {
  readonly name: string;
  readonly store: Store;
  readonly action: Pick<Action, 'payload' | 'payloadDefault' | 'acceptsText' | 'move'>;
  /** True if it only puts back or takes away: what was built up before is gone then. */
  readonly isUndoing: boolean;
  /** True if somebody takes it as text only. */
  readonly isTextOnly: boolean;
}

const undoing: ReadonlySet<Step['kind']> = new Set([
  'reset',
  'resetStores',
  'remove',
  'removeEntries',
  'drop',
]);
const neutral: ReadonlySet<Step['kind']> = new Set(['when', 'let', 'run', 'cancel']);

function isUndoing({ steps, move }: Action): boolean {
  if (move !== undefined) return true;
  const all = allSteps(steps);
  return (
    all.some(({ kind }) => undoing.has(kind)) &&
    all.every(({ kind, at }) => undoing.has(kind) || neutral.has(kind) || at.includes('.then['))
  );
}

/** The actions that all participants have, in schema order. */
export function choicesOf(
  application: Application,
  participants: readonly Pick<Participant, 'has'>[],
): readonly Choice[] {
  return application.stores.flatMap((store) =>
    store.actions
      .map((action) => ({
        name: `${store.name}.${action.name}`,
        store,
        action,
        isUndoing: isUndoing(action),
        isTextOnly: participants.some(({ has }) =>
          has?.textOnly.has(`${store.name}.${action.name}`),
        ),
      }))
      .filter(({ name }) => participants.every(({ has }) => has?.actions.has(name) !== false)),
  );
}

/** The tasks that all participants have, in schema order: they are started like actions are sent. */
export function startsOf(
  application: Application,
  participants: readonly Pick<Participant, 'has'>[],
): readonly Choice[] {
  return application.stores.flatMap((store) =>
    store.tasks
      .map((task) => ({
        name: `${store.name}.${task.name}`,
        store,
        action: task,
        isUndoing: false,
        isTextOnly: false,
      }))
      .filter(({ name }) => participants.every(({ has }) => has?.starts.has(name) !== false)),
  );
}

/** The chance that an action is sent without its payload: where that does not fit, and where there is a default. */
const shareOfNothing = 0.01;
const shareOfDefaults = 0.3;

/** The chance that the parts of a payload agree with each other and with the state: a seat, at a table that is there. */
const shareOfAgreeing = 0.6;

/** An action with a payload that is drawn. */
export function drawnInput(
  application: Application,
  { name: send, action, isTextOnly }: Choice,
  source: PayloadSource,
  state: State,
): SendStep {
  if (action.payload === undefined) return { send };
  const isLeftOut = action.payloadDefault === undefined ? shareOfNothing : shareOfDefaults;
  if (source.random.chance(isLeftOut)) return { send };
  const pool = poolFor(application, send, state);
  const agree = trailsOf(application, send).length > 0 && source.random.chance(shareOfAgreeing);
  const parts = agree ? agreeingParts(application, send, state, source.random) : undefined;
  const drawn = action.acceptsText
    ? source.drawAsText(action.payload, pool, send, parts)
    : source.draw(action.payload, pool, send, parts);
  return sent(send, isTextOnly ? textOnly(drawn) : drawn);
}

/** An action with each of a few payloads, and with one that does not fit. */
export function smallInputs(
  application: Application,
  { name: send, action, isTextOnly }: Choice,
  state: State,
): readonly SendStep[] {
  if (action.payload === undefined) return [{ send }];
  if (isTextOnly) {
    const all = smallPayloads(action.payload, poolFor(application, send, state), application.types);
    const texts = all.map((one) => sent(send, textOnly(one)));
    return [
      ...new Map(texts.map((step) => [JSON.stringify(step), step])).values(),
      { send, payload: 'tide' },
    ];
  }
  const drawn = smallPayloads(action.payload, poolFor(application, send, state), application.types);
  const asText = action.acceptsText
    ? drawn
        .map(({ payload }) => payload)
        .filter((payload) => typeof payload === 'number' || typeof payload === 'boolean')
        .map((payload): SendStep => ({ send, payload: String(payload) }))
    : [];
  const alone = action.payloadDefault === undefined ? [] : [{ send }];
  return [...drawn.map((one) => sent(send, one)), ...asText, ...alone, { send, payload: misfit }];
}

/** What can be done first of all, in a few ways each. */
export function firstInputs(
  application: Application,
  participants: readonly Pick<Participant, 'has'>[],
): readonly SendStep[] {
  const state = Object.fromEntries(
    application.stores.map((store) => [store.name, store.lazy ? null : initialState(store)]),
  );
  return choicesOf(application, participants).flatMap((choice) =>
    smallInputs(application, choice, state).filter(({ payload }) => payload !== misfit),
  );
}

/** A payload as a form gives it: all of it text. */
function textOnly({ payload, fill }: Drawn): Drawn {
  const filled = Object.entries(fill).filter(([at]) => typeof atPointer(payload, at) === 'string');
  return { payload: asText(payload), fill: Object.fromEntries(filled) };
}

function asText(payload: Json): Json {
  if (typeof payload === 'number' || typeof payload === 'boolean') return String(payload);
  if (payload === null) return '';
  if (Array.isArray(payload)) return payload.map(asText);
  if (typeof payload !== 'object') return payload;
  return Object.fromEntries(Object.entries(payload).map(([key, part]) => [key, asText(part)]));
}

/** What hardly any payload may be. */
const misfit = [[[]]];

function sent(send: string, { payload, fill }: Drawn): SendStep {
  return Object.keys(fill).length === 0 ? { send, payload } : { send, payload, fill };
}
