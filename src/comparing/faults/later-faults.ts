import type { CodeChange, Fault, FaultKind } from './fault.js';

type Row = readonly [
  kind: FaultKind,
  style: string,
  file: string,
  ...changes: (readonly [from: string, to: string])[],
];

/** Faults in what attaches stores: what is written there, and what takes its place. */
const rows: readonly Row[] = [
  [
    'attached twice',
    'proxy',
    'attaching',
    ['if (isThere()) return attached;', ''],
    ['if (isThere()) return false;', ''],
  ],
  [
    'reaction of a store not attached',
    'proxy',
    'defined-stores',
    [
      'this.definitions[name] = definition;\n    this.#deeds = new Map();',
      'this.definitions[name] = definition;',
    ],
  ],
  [
    'reactions in the order of attaching',
    'atom',
    'atom-lazy',
    ['this.#order.indexOf(a.store) - this.#order.indexOf(b.store)', '0'],
  ],
  ['out of date after attaching', 'atom', 'atom-lazy', ['graph.renew();', '']],
  [
    'answers before it is attached',
    'reducer',
    'reducer',
    ["return { status: 'refused', reason: notAttached };", "return { status: 'done' };"],
  ],
  [
    'reset before it is attached',
    'observable',
    'streams',
    ['stores.filter((name) => Object.hasOwn(this.initial, name))', 'stores'],
  ],
];

/** What only stores that come later and keep something have. */
const rowsOfSaved: readonly Row[] = [
  [
    'attached with its defaults',
    'reducer',
    'defined-stores',
    ['begun(this.begins, name, initial, isValue)', 'initial'],
  ],
];

/** The faults that can be planted in what attaches stores; `isSaved`: whether some of an application's are saved. */
export function laterCodeFaults(isSaved: boolean): readonly Fault[] {
  return [...rows, ...(isSaved ? rowsOfSaved : [])].map(([kind, style, name, ...changes]) => {
    const file = `runtime/${name}.ts`;
    const made = changes.map(([from, to]): CodeChange => ({ file, from, to }));
    return { kind, at: `${name}.ts`, in: 'code', style, changes: made };
  });
}
