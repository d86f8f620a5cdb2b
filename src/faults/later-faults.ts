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
    'proxies',
    ['if (this.#states[name] !== null) return attached;', ''],
    ['if (this.#states[name] !== null) return false;', ''],
  ],
  [
    'reaction of a store not attached',
    'proxy',
    'proxies',
    ['this.#liveOf(name, store);\n    this.#react();', 'this.#liveOf(name, store);'],
  ],
  [
    'reactions in the order of attaching',
    'atom',
    'attaching',
    ['all.splice(at < 0 ? all.length : at, 0, one);', 'all.push(one);'],
  ],
  ['out of date after attaching', 'atom', 'atoms', ['this.#there.tell();', '']],
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
    ['.filter((name) => Object.hasOwn(this.#initial, name))', ''],
  ],
];

/** What only stores that come later and keep something have. */
const rowsOfSaved: readonly Row[] = [
  [
    'attached with its defaults',
    'reducer',
    'reducer',
    ['beginnings.begun(name, store.initial)', 'store.initial'],
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
