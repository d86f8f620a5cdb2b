import { escapePointer, isObject, pointerParts, type Json } from '../../base/json.js';
import {
  isAttach,
  isOfStorage,
  isSend,
  type ReopenStep,
  type ScriptStep,
  type SendStep,
  type StorageStep,
  type TaskStep,
} from '../script.js';

/** So many earlier items of a list are tried, the first ones first. */
const mostEarlier = 3;

/** The step made plainer, each way: what a watcher does is done at once, or not, or is plainer; or a part of a payload is. */
export function simplerSteps(step: ScriptStep): readonly ScriptStep[] {
  if (isSend(step)) return simplerSends(step);
  if (isAttach(step)) return [];
  if (isOfStorage(step)) return simplerStorageSteps(step);
  if (!('watch' in step) && !('stop' in step)) return simplerTaskSteps(step);
  if (!('watch' in step)) return [];
  const { watch, as, by, then } = step;
  const byCalls: readonly ScriptStep[] =
    by === undefined ? [] : [{ watch, as, ...(then !== undefined && { then }) }];
  if (then === undefined) return byCalls;
  const idle = { watch, as, ...(by && { by }) };
  if (then === 'throw' || !('send' in then)) return [...byCalls, idle];
  const simpler = simplerSends(then).map((send) => ({ ...step, then: send }));
  return [then, ...byCalls, idle, ...simpler];
}

/** What stands in a storage made plainer, where it is data. */
function simplerStorageSteps(step: ReopenStep | StorageStep): readonly ScriptStep[] {
  if (!('storage' in step) || typeof step.storage === 'string') return [];
  const { key, text } = step.storage;
  let data: Json;
  try {
    data = JSON.parse(text) as Json;
  } catch {
    return [];
  }
  return simplerValues(data, '', new Set()).map(({ value }) => ({
    storage: { key, text: JSON.stringify(value) },
  }));
}

/** What is about tasks made plainer: what a task is started with, what a call is answered; any time is the next timer's. */
function simplerTaskSteps(step: TaskStep): readonly TaskStep[] {
  const plainer = (value: Json) => simplerValues(value, '', new Set()).map((one) => one.value);
  if ('start' in step) {
    const { start, ...given } = step;
    return simplerSends({ send: start, ...given }).map(({ send, ...simpler }) => ({
      start: send,
      ...simpler,
    }));
  }
  if ('pass' in step) return step.pass === 'next' ? [] : [{ pass: 'next' }];
  if ('cancel' in step) return step.per === undefined ? [] : [{ cancel: step.cancel }];
  if ('value' in step) return plainer(step.result).map((result) => ({ ...step, result }));
  if ('result' in step) return plainer(step.result).map((result) => ({ ...step, result }));
  if ('error' in step) return plainer(step.error).map((error) => ({ ...step, error }));
  return [];
}

/** First those that take less from the state. */
function simplerSends(step: SendStep): readonly SendStep[] {
  if (step.payload === undefined) return [];
  const { passed, ...usual } = step;
  const filled = new Set(Object.keys(step.fill ?? {}));
  const simpler = [
    ...[...filled].map((at) => unfilled(step, at)),
    ...[...filled].flatMap((at) => fromEarlier(step, at)),
    ...plainerSteps(step, filled),
  ];
  return passed === undefined ? simpler : [usual, ...simpler.map((one) => ({ ...one, passed }))];
}

/** The step with a part written out that was taken from the state. */
function unfilled({ send, payload, fill }: SendStep, at: string): SendStep {
  const left = Object.fromEntries(Object.entries(fill ?? {}).filter(([place]) => place !== at));
  const plain: SendStep = payload === undefined ? { send } : { send, payload };
  return Object.keys(left).length === 0 ? plain : { ...plain, fill: left };
}

/** The step with a part that is taken from an earlier item of the same list: what came before may not be needed then. */
function fromEarlier(step: SendStep, at: string): readonly SendStep[] {
  const parts = (step.fill?.[at] ?? '').split('/');
  return parts.flatMap((part, i) => {
    const index = /^\d+$/.test(part) ? Number(part) : 0;
    return Array.from({ length: Math.min(index, mostEarlier) }, (_, earlier) => ({
      ...step,
      fill: { ...step.fill, [at]: parts.with(i, String(earlier)).join('/') },
    }));
  });
}

function plainerSteps(step: SendStep, filled: ReadonlySet<string>): readonly SendStep[] {
  return simplerValues(step.payload ?? null, '', filled).map(({ value, without }) => {
    const fill = Object.fromEntries(
      Object.entries(step.fill ?? {}).filter(([at]) => !isBelow(at, without)),
    );
    const { send } = step;
    return Object.keys(fill).length === 0
      ? { send, payload: value }
      : { send, payload: value, fill };
  });
}

function isBelow(pointer: string, parent: string | undefined): boolean {
  if (parent === undefined) return false;
  const [own, above] = [pointerParts(pointer), pointerParts(parent)];
  return above.every((part, i) => own[i] === part);
}

interface Simpler {
  readonly value: Json;
  /** The part that is gone from the payload, with what was filled in there. */
  readonly without?: string;
}

function simplerValues(value: Json, at: string, filled: ReadonlySet<string>): readonly Simpler[] {
  if (filled.has(at)) return [];
  if (typeof value === 'string')
    return ['', 'a', value.slice(0, value.length >> 1)]
      .filter((text) => rank(text) < rank(value))
      .map((text) => ({ value: text }));
  if (typeof value === 'number')
    return [0, 1, Math.trunc(value)]
      .filter((n) => numberRank(n) < numberRank(value))
      .map((n) => ({ value: n }));
  if (value === true) return [{ value: false }];
  if (typeof value !== 'object' || value === null) return [];
  const keys = Object.keys(value);
  const parts = value as Readonly<Record<string, Json>>;
  const fewer = keys.map((key): Simpler => {
    const left = Array.isArray(value)
      ? value.filter((_, i) => String(i) !== key)
      : Object.fromEntries(Object.entries(parts).filter(([own]) => own !== key));
    return { value: left as Json, without: `${at}/${escapePointer(key)}` };
  });
  const plainer = keys.flatMap((key) =>
    simplerValues(parts[key] ?? null, `${at}/${escapePointer(key)}`, filled).map(
      ({ value: part, without }): Simpler => {
        const whole = Array.isArray(value)
          ? value.with(Number(key), part)
          : { ...parts, [key]: part };
        return without === undefined ? { value: whole as Json } : { value: whole as Json, without };
      },
    ),
  );
  return [...(isObject(value) || filled.size === 0 ? fewer : []), ...plainer];
}

function rank(text: string): number {
  return text.length * 2 + (/^a*$/.test(text) ? 0 : 1);
}

function numberRank(n: number): number {
  if (n === 0) return 0;
  if (n === 1) return 1;
  return Number.isInteger(n) ? 2 + Math.min(Math.abs(n), 1e6) : 2e6 + Math.abs(n);
}
