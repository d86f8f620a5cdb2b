import { isObject } from '../../base/json.js';
import {
  circumstancesOf,
  idKinds,
  isSend as isScriptSend,
  sentBy,
  waysToFollow,
  waysToPass,
  type IdKind,
  type Passed,
  type Script,
  type ScriptFile,
  type ScriptStep,
  type WayToFollow,
} from '../script.js';
import { targetsOf } from '../inputs/targets.js';
import type { Application } from '../../model/application.js';

/** A script as the text of a script file. */
export function scriptText(script: Script, schema: string, seed: number): string {
  const { steps, quiet, before } = script;
  const file: ScriptFile = {
    leeshoreScript: 1,
    schema,
    seed,
    ...(quiet === true ? { quiet } : {}),
    ...circumstancesOf(script),
    ...(before === undefined || before.length === 0 ? {} : { before }),
    steps,
  };
  return `${JSON.stringify(file, null, 2)}\n`;
}

/** Reads the text of a script file; a text that says what is wrong with it, if it is none. */
export function readScript(
  text: string,
): { readonly script: Script; readonly seed: number } | string {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return `it is not valid JSON: ${(error as Error).message}`;
  }
  if (!isObject(value) || value.leeshoreScript !== 1) return "it has no 'leeshoreScript': 1";
  const { seed, before = [] } = value;
  const script = scriptIn(value);
  if (typeof script === 'string') return script;
  if (!Array.isArray(before)) return "'before' is not a list of scripts";
  const earlier: Script[] = [];
  for (const [i, one] of (before as readonly unknown[]).entries()) {
    const read = isObject(one) ? scriptIn(one) : 'it is not an object';
    if (typeof read === 'string') return `script ${i + 1} of 'before': ${read}`;
    earlier.push(read);
  }
  return {
    script: earlier.length === 0 ? script : { ...script, before: earlier },
    seed: typeof seed === 'number' ? seed : 0,
  };
}

function scriptIn({
  steps,
  quiet,
  ids,
  beside,
}: Readonly<Record<string, unknown>>): Script | string {
  if (ids !== undefined && !idKinds.includes(ids as IdKind))
    return `'ids' is none of ${idKinds.join(', ')}`;
  if (!Array.isArray(steps)) return "it has no list of 'steps'";
  const odd = steps.findIndex((step) => !isStep(step));
  if (odd >= 0)
    return `step ${odd + 1} has no 'send' or 'start' of the form store.name, no 'watch' with 'as', and none of 'stop', 'cancel', 'answer', 'value', 'pass', 'undo', 'redo', 'attach', 'reopen', 'storage'`;
  for (const [i, step] of (steps as readonly Readonly<Record<string, unknown>>[]).entries()) {
    const wrong = wrongInWatcher(step);
    if (wrong !== undefined) return `step ${i + 1}: ${wrong}`;
  }
  return {
    steps: (steps as RawStep[]).map(plainStep),
    ...(quiet === true && { quiet }),
    ...(ids !== undefined && { ids: ids as IdKind }),
    ...(beside === true && { beside }),
  };
}

/** What is wrong with how a watcher follows; `undefined` if nothing is, or if the step adds none. */
function wrongInWatcher({ by, then }: Readonly<Record<string, unknown>>): string | undefined {
  if (by === undefined) return undefined;
  if (!waysToFollow.includes(by as WayToFollow))
    return `'by' is none of ${waysToFollow.join(', ')}`;
  const isIdle = by !== 'iteration' || then === undefined;
  return isIdle ? undefined : "a watcher with 'by': 'iteration' has no 'then'";
}

/** A name in a script that the schema does not have, if there is one. */
export function unknownIn(
  { steps, before = [] }: Script,
  application: Application,
): string | undefined {
  const actions = new Set(
    application.stores.flatMap((store) => store.actions.map(({ name }) => `${store.name}.${name}`)),
  );
  const targets = new Set(targetsOf(application));
  const lazy = new Set(application.stores.flatMap((store) => (store.lazy ? [store.name] : [])));
  const tasks = new Set(
    application.stores.flatMap((store) => store.tasks.map(({ name }) => `${store.name}.${name}`)),
  );
  for (const step of [...before.flatMap((one) => one.steps), ...steps]) {
    const send = isScriptSend(step) ? step : 'watch' in step ? sentBy(step) : undefined;
    const added = 'watch' in step && typeof step.then === 'object' ? step.then : undefined;
    if (added !== undefined && 'watch' in added && !targets.has(added.watch)) return added.watch;
    if ('watch' in step && !targets.has(step.watch)) return step.watch;
    if ('attach' in step && !lazy.has(step.attach)) return step.attach;
    const task = 'start' in step ? step.start : 'cancel' in step ? step.cancel : undefined;
    if (task !== undefined && !tasks.has(task)) return task;
    if (send !== undefined && !actions.has(send.send)) return send.send;
  }
  return undefined;
}

/** Steps as they may be written: what goes through a history is an action of its store. */
type RawStep = ScriptStep | { readonly undo: string } | { readonly redo: string };

function plainStep(step: RawStep): ScriptStep {
  if ('undo' in step) return { send: `${step.undo}.undo` };
  return 'redo' in step ? { send: `${step.redo}.redo` } : step;
}

function isStorageStep({ reopen, storage }: Readonly<Record<string, unknown>>): boolean {
  if (reopen !== undefined) return reopen === true;
  if (isObject(storage)) return typeof storage.key === 'string' && typeof storage.text === 'string';
  return ['works', 'full', 'denied'].includes(storage as string);
}

function isStep(value: unknown): boolean {
  if (!isObject(value)) return false;
  if (typeof (value.undo ?? value.redo ?? value.attach) === 'string') return true;
  if (value.reopen !== undefined || value.storage !== undefined) return isStorageStep(value);
  const { stop, watch, as, then } = value;
  if (stop !== undefined) return typeof stop === 'string';
  if (watch === undefined) return isSend(value) || isTaskStep(value);
  if (typeof watch !== 'string' || typeof as !== 'string') return false;
  return then === undefined || then === 'throw' || isSend(then) || isWatcherDeed(then);
}

function isWatcherDeed(then: unknown): boolean {
  if (!isObject(then)) return false;
  const { stop, watch, as } = then;
  return typeof stop === 'string' || (typeof watch === 'string' && typeof as === 'string');
}

function isTaskStep(value: Readonly<Record<string, unknown>>): boolean {
  const { start, cancel, answer, pass, value: of } = value;
  const isCall = (number: unknown) => Number.isInteger(number) && (number as number) >= 1;
  if (start !== undefined) return isSend({ ...value, send: start });
  if (cancel !== undefined) return typeof cancel === 'string';
  if (pass !== undefined) return pass === 'next' || (typeof pass === 'number' && pass >= 0);
  if (of !== undefined) return isCall(of) && value.result !== undefined;
  const answers = ['result', 'error', 'nothing'].filter((key) => value[key] !== undefined);
  return isCall(answer) && answers.length === 1;
}

function isSend(value: unknown): boolean {
  if (!isObject(value) || typeof value.send !== 'string' || !/^[^.]+\.[^.]+$/.test(value.send))
    return false;
  if (value.passed !== undefined && !waysToPass.includes(value.passed as Passed)) return false;
  return (
    value.fill === undefined ||
    (isObject(value.fill) && Object.values(value.fill).every((from) => typeof from === 'string'))
  );
}
