import type { Break } from './broken.js';
import { cabin, keptPromises } from './kept-promises.js';
import { testContract } from './suite.js';

const saved = 'runtime/saved.ts';
const stored = 'runtime/stored-fields.ts';
const toldOnly = (style: 'reducer' | 'atom' | 'proxy' | 'observable'): Break => [
  [style, saved, 'at: `${store}.saved`, error', "at: '', error"],
];
const rest = 'all defaults, it is told, and the data stays until the next write';

/** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
const breaks: Readonly<Record<string, Break>> = {
  'what is saved is written with its version when it has changed': [
    ['reducer', saved, '{ version, fields }', 'fields'],
  ],
  'a store without a version is written as its fields alone, each in schema order': [
    [
      'atom',
      saved,
      'of this.#plans) {\n      const [before',
      'of [...this.#plans].reverse()) {\n      const [before',
    ],
  ],
  'nothing is written when no saved field has changed': [
    ['proxy', saved, 'if (!now.every((value, i) => Object.is(value, before[i])))', ''],
  ],
  'an undo is written too': [
    [
      'observable',
      saved,
      'if (!changed || this.#isTaking) return false;',
      "if (!changed || this.#isTaking || _action.endsWith('undo')) return false;",
    ],
  ],
  'what watchers see is written already': [
    [
      'reducer',
      'runtime/transaction.ts',
      /(for \(const capability of this\.capabilities\)\s+if \(capability\.keep[^;]+;)\s+if \(changed\) this\.#notify\(\);/,
      'if (changed) this.#notify();\n    $1',
    ],
  ],
  'stores begin with what was saved, and write nothing then': [
    ['atom', stored, 'return Object.fromEntries(found);', 'return {};'],
  ],
  'a reset goes back to the defaults, not to what was saved': [
    [
      'atom',
      'runtime/atoms.ts',
      'this.#value = this.graph.guarded(value);',
      'this.#initial = this.#value = value;',
    ],
  ],
  'what was saved cannot be undone': [
    [
      'proxy',
      'runtime/histories.ts',
      'this.#last.set(store, this.#keptOf(store, plan));',
      'this.#last.set(store, []);\n this.states = { [store]: { past: [[18]], future: [], isRow: false } };',
    ],
  ],
  'a missing field begins with its default, an unknown one is passed over': [
    [
      'reducer',
      stored,
      'const found = Object.entries(types)',
      "if (Object.keys(fields).length > Object.keys(types).length) throw new TypeError('too many');\n const found = Object.entries(types)",
    ],
  ],
  'data without a version is of version 0': [
    ['atom', saved, ': [0, data]', ': [version ?? 0, data]'],
  ],
  'an earlier version is made into the present one directly': [
    ['proxy', saved, '{ ...fields, ...make(fields) }', 'make(fields)'],
  ],
  [`text that is no JSON: ${rest}`]: toldOnly('observable'),
  [`something else than fields: ${rest}`]: [
    [
      'reducer',
      saved,
      'if (make === undefined || !isObject(fields))',
      'if (!isObject(fields)) return {};\n  if (make === undefined)',
    ],
  ],
  [`null: ${rest}`]: [
    [
      'atom',
      saved,
      'const text = read(key);',
      "let text = read(key);\n if (text === 'null') text = null;",
    ],
  ],
  [`a value that does not fit: ${rest}`]: [
    ['observable', stored, 'if (taken instanceof Misfit)', 'if (taken === type)'],
  ],
  [`two items of one key: ${rest}`]: [
    [
      'reducer',
      stored,
      'if (taken instanceof Misfit)',
      "if (taken instanceof Misfit && taken.at === '/1') return [[field, value] as const];\n    if (taken instanceof Misfit)",
    ],
  ],
  [`an item with a property too many: ${rest}`]: [
    [
      'atom',
      stored,
      'if (taken instanceof Misfit)',
      "if (taken instanceof Misfit && taken.at === '/0/x') return [[field, value] as const];\n    if (taken instanceof Misfit)",
    ],
  ],
  [`an earlier version that throws: ${rest}`]: [
    [
      'proxy',
      saved,
      'make(fields) }',
      '(() => { try { return make(fields); } catch { return {}; } })() }',
    ],
  ],
  [`an earlier version that does not fit: ${rest}`]: [
    ['observable', stored, 'if (taken instanceof Misfit)', 'if (taken === type)'],
  ],
  'data of a later version is told once, and is never written over': [
    ['proxy', saved, 'if (this.#spared.has(store)) return;', ''],
  ],
  'without a storage nothing is said': [
    [
      'reducer',
      saved,
      'this.#storage()?.setItem',
      '(this.#storage() as never as { setItem(key: string, text: string): void }).setItem',
    ],
  ],
  'a storage that is full is told, and changes nothing else': [
    [
      'atom',
      saved,
      /const failed = \(error: unknown\): void => \{\s+this\.#engine\.turns\.report\([^;]+;/,
      'const failed = (error: unknown): void => {\n throw error;',
    ],
  ],
  'a storage that throws when it is read is told for each store': toldOnly('proxy'),
  'what follows a value with first sees what was saved': [
    ['observable', stored, 'return Object.fromEntries(found);', 'return {};'],
  ],
  'stores begin from a state that is given; what was saved comes after it': [
    ['reducer', 'runtime/engine.ts', '...begins.map', '...[...begins].reverse().map'],
  ],
  'a state to begin from is judged as saved data is, store by store': [
    [
      'atom',
      'runtime/beginnings.ts',
      'state as Fields | undefined)?.[store]',
      "state as Fields | undefined)?.[store === 'tone' ? '' : store]",
    ],
  ],
};

testContract({
  of: 'what is saved',
  schema: cabin,
  promises: keptPromises,
  breaks,
  output: { begin: 'state' },
});
