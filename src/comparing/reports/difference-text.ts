import type { Json } from '../../base/json.js';
import type { Paint } from '../../report/paint.js';
import {
  isSend,
  type Passed,
  type Script,
  type ScriptStep,
  type SendStep,
  type StorageStep,
  type TaskStep,
  type WatcherDeed,
} from '../script.js';
import type { ObservedClass } from '../../model/observed-class.js';
import type { ComparisonJson, DifferenceJson } from './comparison-json.js';
import { onlyDiffering } from '../../report/only-differing.js';
import { sideBySide } from '../../report/side-by-side.js';
import { counted, countText, valueText } from '../../report/value-text.js';

export interface ComparisonTextOptions {
  readonly paint: Paint;
  /** Where each participant comes from, by its name. */
  readonly origins: ReadonlyMap<string, string>;
  /** The commands that do the scripts of the differences again, the first one first. */
  readonly replayCommands?: readonly string[];
  /** True if only the result itself is told, not how it was searched; false if not given. */
  readonly isBrief?: boolean;
}

/** A difference as people read it: the script, both sides, where to look and how to see it again. */
export function differenceText(
  difference: DifferenceJson,
  { verdict, participants, seed }: ComparisonJson,
  { paint, replayCommands: [replayCommand] = [] }: ComparisonTextOptions,
): string {
  const { script, step, action, place, savedAs } = difference;
  const reference = participants[0]?.name ?? '';
  const after = action === '' ? '' : ` (${action})`;
  const head = `${paint.red(verdict)}  ${paint.bold(difference.participant)} differs from the ${reference} after step ${step}${after}.`;
  const steps = script.steps.map((one, i) => stepText(one, i, i === step - 1, paint));
  const { expected, actual, alike } = onlyDiffering(difference.expected, difference.actual);
  const at = difference.at === '' ? '' : ` at ${difference.at}`;
  return [
    head,
    ...(verdict === 'not repeatable' ? [notRepeatable] : []),
    '',
    ...beforeText(script.before ?? [], paint),
    `The script (seed ${seed}, ${foundText(difference)})${script.quiet === true ? quietly : ''}${circumstancesText(script)}:`,
    ...steps,
    '',
    `What differs: ${paint.bold(difference.what)}${at}${meaningOf(difference)}`,
    sideBySide([reference, expected], [difference.participant, actual], paint),
    ...(alike === 0
      ? []
      : [
          paint.dim(
            `${alike === 1 ? 'One part that is alike is' : `${alike} parts that are alike are`} left out.`,
          ),
        ]),
    ...(place === null
      ? ['']
      : ['', `In the schema: ${place.file}:${place.line}:${place.column}  ${action}`]),
    ...(savedAs === null ? [] : [`Saved as:      ${savedAs}`]),
    ...(replayCommand === undefined ? [] : [`Replay it:     ${paint.cyan(replayCommand)}`]),
  ].join('\n');
}

/** Where in the search it was found, and how long the script is now. */
function foundText({ script, foundAfter, stepsBefore }: DifferenceJson): string {
  const { length } = script.steps;
  const now = counted(length, 'step');
  if (length >= foundAfter && stepsBefore === 0) return now;
  const found = `found in step ${countText(stepsBefore + foundAfter)} of the search`;
  return length < foundAfter
    ? `${found}, shrunk from ${foundAfter} steps to ${length}`
    : `${found}, ${now}`;
}

/** What has to be done first. */
function beforeText(before: readonly Script[], paint: Paint): readonly string[] {
  if (before.length === 0) return [];
  const runs = before.map(({ steps }) => [
    'First, on stores of their own:',
    ...steps.map((one, i) => stepText(one, i, false, paint)),
  ]);
  const why =
    'The difference depends on what was done earlier, on other instances of the stores: the code keeps\nsomething outside of them, such as a default object that all instances share.';
  return [why, '', ...runs.flatMap((lines) => [...lines, '']), 'Then, on new stores:'];
}

const notRepeatable =
  'Done again, the same script did not show the same: the participant does not always give the same answer.';

/** What is special about a quiet script. */
const quietly = ', looked at now and then only';

/** Under which circumstances a script was done. */
function circumstancesText({ ids, beside }: Script): string {
  const alike = ids === 'alike' ? ', with identifiers that begin and end alike' : '';
  const numbers = ids === 'numbers' ? ', with numbers for identifiers' : '';
  const second = beside === true ? ', with a second instance that does each action before' : '';
  return `${alike}${numbers}${second}`;
}

/** What a difference means that shows by an open protocol, by the beginning of its place. */
const openProtocols = {
  '/iterated': ': the values that a watcher got by for await',
  '/as JSON': ': what JSON.stringify gives',
} as const;

/** What a difference means, where that is not plain. */
function meaningOf({ what, at }: Pick<DifferenceJson, 'what' | 'at'>): string {
  const [, by] = Object.entries(openProtocols).find(([place]) => at.startsWith(place)) ?? [];
  return by ?? meanings[what];
}

/** What a difference of a class means, where that is not plain. */
const meanings: Readonly<Record<ObservedClass, string>> = {
  outcome: '',
  state: '',
  derived: '',
  notices: ': the calls of watchers',
  tasks: ': calls, aborted calls, how runs ended, what goes on',
  storage: ': what is kept in storage',
  problems: ': what went wrong where no caller is told',
  identity: ': parts that are equal to what they were, and yet other objects',
  snapshots:
    '\nWhat was read before has changed since. A store that changes its data in place does that; if this one\nmay, say keepsSnapshots: false in its participant file, or leave them out with --ignore snapshots.',
};

function stepText(step: ScriptStep, i: number, isLast: boolean, paint: Paint): string {
  const mark = isLast ? paint.red('>') : ' ';
  return `${mark} ${String(i + 1).padStart(2)}  ${doneText(step, paint)}`.trimEnd();
}

function doneText(step: ScriptStep, paint: Paint): string {
  if ('stop' in step) return `stop ${step.stop}`;
  if (isSend(step)) return sendText(step, paint);
  if ('attach' in step) return `attach ${step.attach}`;
  if ('reopen' in step) return 'reopen  the stores are closed and made anew';
  if ('storage' in step) return storageText(step);
  if (!('watch' in step)) return taskText(step, paint);
  const { watch, as, by, then } = step;
  const doing = by === undefined ? 'watch' : followingTexts[by];
  const watching = `${doing} ${watch} as ${as}`;
  return then === undefined ? watching : `${watching}, which ${watcherText(then, paint)}`;
}

const followingTexts = { observer: 'subscribe to', iteration: 'iterate over' } as const;

function watcherText(then: WatcherDeed, paint: Paint): string {
  if (then === 'throw') return 'throws';
  if ('stop' in then) return `stops ${then.stop}`;
  if ('watch' in then) return `watches ${then.watch} as ${then.as}`;
  return `sends ${sendText(then, paint)}`;
}

function storageText({ storage }: StorageStep): string {
  if (storage === 'works') return 'storage  works';
  if (typeof storage === 'string')
    return `storage  ${storage === 'full' ? 'is full: what is written there throws' : 'denies everything: what is read or written there throws'}`;
  return `storage  ${storage.key}: ${valueText(storage.text, mostOfPayload)}`;
}

function taskText(step: TaskStep, paint: Paint): string {
  const value = (of: Json) => valueText(of, mostOfPayload);
  if ('start' in step) {
    const { start, ...given } = step;
    return `start  ${sendText({ send: start, ...given }, paint)}`;
  }
  if ('cancel' in step)
    return `cancel ${step.cancel}${step.per === undefined ? '' : ` per ${value(step.per)}`}`;
  if ('pass' in step)
    return step.pass === 'next' ? 'time passes, to the next timer' : `${step.pass} ms pass`;
  if ('value' in step) return `call ${step.value} gives ${value(step.result)}`;
  if ('error' in step) return `call ${step.answer} fails with ${value(step.error)}`;
  return `call ${step.answer} answers ${'result' in step ? value(step.result) : 'nothing'}`;
}

function sendText({ send, payload, fill, passed }: SendStep, paint: Paint): string {
  const from = Object.values(fill ?? {}).map((pointer) => paint.dim(` from ${pointer}`));
  const value = payload === undefined ? '' : valueText(payload, mostOfPayload);
  const how = passed === undefined ? '' : paint.dim(` (${passings[passed]})`);
  return `${send.padEnd(18)} ${value}${from.join('')}${how}`;
}

/** How much of a payload is shown in a script, in characters. */
const mostOfPayload = 300;

/** How a payload is passed. */
const passings: Readonly<Record<Passed, string>> = {
  frozen: 'frozen',
  'with undefined': 'with absent properties given as undefined',
  'changed after': 'the caller changes it afterwards',
};
