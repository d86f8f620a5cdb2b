import type { Application } from '../model/application.js';
import type { CodeChange, Fault, FaultKind } from './fault.js';
import { asksTimeOnce } from './time-once.js';

type Row = readonly [
  kind: FaultKind,
  style: string,
  ...changes: readonly (readonly [file: string, from: string, to: string])[],
];

/** Faults in the engines of generated stores: what is written there, and what takes its place. */
const rows: readonly Row[] = [
  ...['reducer', 'atom', 'proxy', 'observable'].flatMap((style): Row[] => [
    [
      'watcher told twice',
      style,
      [
        'watchers.ts',
        'this.#changed(now, before);',
        'this.#changed(now, before); this.#changed(now, before);',
      ],
    ],
    ['watcher never told', style, ['watchers.ts', 'this.#changed(now, before);', '']],
    [
      'watcher told wrong',
      style,
      ['watchers.ts', 'this.#changed(now, before);', 'this.#changed(now, now);'],
    ],
    ['watcher told of nothing', style, ['watchers.ts', 'if (Object.is(now, before)) return;', '']],
    [
      'watcher not stopped',
      style,
      ['watchers.ts', 'this.#watchers = this.#watchers.filter((other) => other !== watcher);', ''],
      ['watchers.ts', 'watcher.isStopped = true;', ''],
    ],
    [
      'watcher stops others',
      style,
      ['watchers.ts', "this.#report({ kind: 'watcher', at: this.#name, error });", 'throw error;'],
    ],
    [
      'turns mixed up',
      style,
      ['transaction.ts', 'if (this.#busy) {', 'if (this.#busy && !action) {'],
    ],
    [
      'time passes',
      style,
      ['transaction.ts', '(this.#moment ??= this.#environment.now())', 'this.#environment.now()'],
    ],
  ]),
  [
    'half an action',
    'atom',
    ['runtime.ts', 'transaction.settle(false)', 'transaction.settle(true)'],
  ],
  ['half an action', 'proxy', ['runtime.ts', 'drafting.settle(false);', 'drafting.settle(true);']],
  [
    'value out of date',
    'atom',
    ['runtime.ts', 'for (const reader of this.readers) reader.invalidate();', ''],
  ],
  [
    'value out of date',
    'reducer',
    ['runtime.ts', 'if (!Object.is(reads[i]?.(state), memory.values[i])) return false;', ''],
  ],
  [
    'given out anew',
    'reducer',
    ['runtime.ts', 'given !== undefined && same(given.out, result) ? given.out : result', 'result'],
    [
      'runtime.ts',
      'last !== undefined && same(last.result, computed) ? last.result : computed',
      'computed',
    ],
  ],
  [
    'given out anew',
    'atom',
    ['cell.ts', 'if (!same(this.#out, value)) this.#out = value;', 'this.#out = value;'],
    [
      'runtime.ts',
      'last !== undefined && same(last.value, value) ? last :',
      'false ? last as never :',
    ],
  ],
  [
    'copied in vain',
    'reducer',
    [
      'runtime.ts',
      'state = keep(before, reduce(before, action, new Draw(environment)), guard, 3);',
      'state = structuredClone(reduce(before, action, new Draw(environment)));',
    ],
  ],
  ['copied in vain', 'atom', ['values.ts', 'if (equal) return before;', '']],
  ...['reducer', 'atom', 'observable'].map((style): Row => [
    'changed in place',
    style,
    [
      'changes.ts',
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
  return rows.map(([kind, style, ...changes]): Fault => ({
    kind,
    at: changes[0]?.[0] ?? '',
    equal: equal[kind],
    in: 'code',
    style,
    changes: changes.map(([file, from, to]): CodeChange => ({ file, from, to })),
  }));
}
