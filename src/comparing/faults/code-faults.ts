import { styles } from '../../base/styles.js';
import {
  hasHistory,
  hasLazy,
  hasSaved,
  hasTasks,
  type Application,
} from '../../model/application.js';
import type { CodeChange, Fault, FaultKind } from './fault.js';
import { historyCodeFaults } from './history-faults.js';
import { laterCodeFaults } from './later-faults.js';
import { savedCodeFaults } from './saved-faults.js';
import { taskCodeFaults } from './task-faults.js';
import { asksTimeOnce } from './time-once.js';

type Row = readonly [
  kind: FaultKind,
  style: string,
  ...changes: readonly (readonly [file: string, from: string, to: string])[],
];

/** Faults in the engines of generated stores: what is written there, and what takes its place. */
const rows: readonly Row[] = [
  ...styles.flatMap((style): Row[] => [
    [
      'watcher told twice',
      style,
      [
        'watchers.ts',
        'changed(last, before);',
        'changed(last, before);\n        changed(last, before);',
      ],
    ],
    ['watcher never told', style, ['watchers.ts', 'changed(last, before);', '']],
    [
      'watcher told wrong',
      style,
      ['watchers.ts', 'changed(last, before);', 'changed(last, last);'],
    ],
    [
      'watcher told of nothing',
      style,
      ['watchers.ts', 'if (Object.is(last, before)) return true;', ''],
    ],
    [
      'watcher not stopped',
      style,
      ['watchers.ts', 'this.#watchers.delete(listener);', ''],
      ['watchers.ts', 'listener.isStopped = true;', ''],
    ],
    ['watcher stops others', style, ['watchers.ts', "report('watcher', error);", 'throw error;']],
    [
      'turns mixed up',
      style,
      ['transaction.ts', 'if (this.#isBusy) {', 'if (this.#isBusy && !action) {'],
    ],
    [
      'time passes',
      style,
      ['transaction.ts', "(this.#now ??= this.#outside('now', now))", "this.#outside('now', now)"],
    ],
  ]),
  ['half an action', 'atom', ['atoms.ts', 'atom.drop();', 'atom.commit();']],
  ['half an action', 'proxy', ['transaction.ts', 'work.drop?.();', 'work.commit();']],
  [
    'value out of date',
    'atom',
    ['atoms.ts', 'for (const reader of this.readers) reader.invalidate();', ''],
  ],
  ...['reducer', 'proxy'].map((style): Row => [
    'value out of date',
    style,
    ['derived.ts', 'if (!Object.is(of(at), seen)) return false;', ''],
  ]),
  ...['reducer', 'proxy'].map((style): Row => [
    'given out anew',
    style,
    ['derived.ts', 'given !== undefined && same(given.value, memory.value)', 'false'],
  ]),
  [
    'given out anew',
    'atom',
    ['atoms.ts', 'last !== undefined && same(last.out, value) ? last.out : value', 'value'],
    ['atoms.ts', 'last !== undefined && same(last.value, value)', 'last === null'],
  ],
  [
    'copied in vain',
    'reducer',
    [
      'reducer.ts',
      'return this.states !== before;',
      'this.states = structuredClone(this.states);\n        return this.states !== before;',
    ],
  ],
  ['copied in vain', 'atom', ['settling.ts', 'if (isEqual) return before;', '']],
  ...['reducer', 'atom', 'observable'].map((style): Row => [
    'changed in place',
    style,
    [
      'lists.ts',
      'const next = [...list];\n  next[place] = item;',
      'const next = list as T[];\n  next[place] = item;',
    ],
  ]),
];

/** The faults that can be planted in the generated code of an application. */
export function codeFaults(application: Application): readonly Fault[] {
  const equal: Partial<Record<FaultKind, string>> = asksTimeOnce(application)
    ? { 'time passes': 'no action asks for the time twice' }
    : {};
  const inTasks = hasTasks(application) ? taskCodeFaults(styles) : [];
  const inEngines = rows.map(([kind, style, ...changes]): Fault => ({
    kind,
    at: changes[0]?.[0] ?? '',
    equal: equal[kind],
    in: 'code',
    style,
    changes: changes.map(([file, from, to]): CodeChange => ({ file: `runtime/${file}`, from, to })),
  }));
  const inHistories = hasHistory(application) ? historyCodeFaults(styles) : [];
  const inSaved = hasSaved(application) ? savedCodeFaults(styles) : [];
  const inLater = hasLazy(application) ? laterCodeFaults(hasSaved(application)) : [];
  return [...inEngines, ...inTasks, ...inHistories, ...inSaved, ...inLater];
}
