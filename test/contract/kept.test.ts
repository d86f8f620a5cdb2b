import type { Break } from './broken.js';
import { cabin, keptPromises } from './kept-promises.js';
import { testContract } from './suite.js';

const beginnings = 'runtime/beginnings.ts';
const toldOnly = (style: 'reducer' | 'atom' | 'proxy' | 'observable'): Break => [
  [style, beginnings, "kind: 'storage', at, error", "kind: 'storage', at: '', error"],
];
const rest = 'all defaults, it is told, and the data stays until the next write';

/** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
const breaks: Readonly<Record<string, Break>> = {
  'what is saved is written with its version when it has changed': [
    ['reducer', beginnings, '{ version, fields: kept }', 'kept'],
  ],
  'a store without a version is written as its fields alone, each in schema order': [
    [
      'atom',
      beginnings,
      'of this.#plans) {\n      const [before',
      'of [...this.#plans].reverse()) {\n      const [before',
    ],
  ],
  'nothing is written when no saved field has changed': [
    [
      'proxy',
      beginnings,
      'if (now.every((value, i) => Object.is(value, before[i]))) continue;',
      '',
    ],
  ],
  'an undo is written too': [
    [
      'observable',
      'runtime/transaction.ts',
      'if (changed) this.saving?.save();',
      "if (changed && !action.endsWith('undo')) this.saving?.save();",
    ],
  ],
  'what watchers see is written already': [
    [
      'reducer',
      'runtime/transaction.ts',
      /if \(changed\) this\.saving\?\.save\(\);([^]*?)if \(changed\) this\.#notify\(\);/,
      '$1if (changed) this.#notify(); if (changed) this.saving?.save();',
    ],
  ],
  'stores begin with what was saved, and write nothing then': [
    ['atom', beginnings, 'return Object.fromEntries(found);', 'return {};'],
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
      beginnings,
      'const found = Object.entries(types)',
      "if (Object.keys(fields).length > Object.keys(types).length) throw new TypeError('too many');\n const found = Object.entries(types)",
    ],
  ],
  'data without a version is of version 0': [
    ['atom', beginnings, ': [0, data]', ': [version, data]'],
  ],
  'an earlier version is made into the present one directly': [
    ['proxy', beginnings, '{ ...fields, ...make(fields) }', 'make(fields)'],
  ],
  [`text that is no JSON: ${rest}`]: toldOnly('observable'),
  [`something else than fields: ${rest}`]: [
    [
      'reducer',
      beginnings,
      'if (make === undefined || !isObject(fields))',
      'if (!isObject(fields)) return {};\n  if (make === undefined)',
    ],
  ],
  [`null: ${rest}`]: [
    [
      'atom',
      beginnings,
      'const text = this.#storage()?.getItem(plan.key) ?? null;',
      "let text = this.#storage()?.getItem(plan.key) ?? null;\n if (text === 'null') text = null;",
    ],
  ],
  [`a newer version: ${rest}`]: [
    [
      'proxy',
      beginnings,
      'if (own === version) return fields;',
      'if (own >= version) return fields;',
    ],
  ],
  [`a value that does not fit: ${rest}`]: [
    [
      'observable',
      beginnings,
      'if (misfit(taken, type) !== undefined)',
      'if (misfit(taken, type) === type)',
    ],
  ],
  [`two items of one key: ${rest}`]: [
    [
      'reducer',
      beginnings,
      'if (misfit(taken, type) !== undefined)',
      "if ((misfit(taken, type) ?? '/1') !== '/1')",
    ],
  ],
  [`an item with a property too many: ${rest}`]: [
    [
      'atom',
      beginnings,
      'if (misfit(taken, type) !== undefined)',
      "if ((misfit(taken, type) ?? '/0/x') !== '/0/x')",
    ],
  ],
  [`an earlier version that throws: ${rest}`]: [
    [
      'proxy',
      beginnings,
      'make(fields) }',
      '(() => { try { return make(fields); } catch { return {}; } })() }',
    ],
  ],
  [`an earlier version that does not fit: ${rest}`]: [
    [
      'observable',
      beginnings,
      'if (misfit(taken, type) !== undefined)',
      'if (misfit(taken, type) === type)',
    ],
  ],
  'without a storage nothing is said': [
    [
      'reducer',
      beginnings,
      'this.#storage()?.setItem',
      '(this.#storage() as never as { setItem(key: string, text: string): void }).setItem',
    ],
  ],
  'a storage that is full is told, and changes nothing else': [
    [
      'atom',
      beginnings,
      "this.#turns.report({ kind: 'storage', at: `${store}.saved`, error });",
      'throw error;',
    ],
  ],
  'a storage that throws when it is read is told for each store': toldOnly('proxy'),
  'what follows a value with first sees what was saved': [
    ['observable', beginnings, 'return Object.fromEntries(found);', 'return {};'],
  ],
  'stores begin from a state that is given; what was saved comes after it': [
    [
      'reducer',
      beginnings,
      /return \{ \.\.\.given, \.\.\.([^]*?) \};/,
      'return { ...$1, ...given };',
    ],
  ],
  'a state to begin from is judged as saved data is, store by store': [
    [
      'atom',
      beginnings,
      'this.#options.state as Fields | undefined)?.[store]',
      "this.#options.state as Fields | undefined)?.[store === 'tone' ? '' : store]",
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
