import type { Break } from './broken.js';
import { annex, laterPromises } from './later-promises.js';
import { testContract } from './suite.js';

/** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
const breaks: Readonly<Record<string, Break>> = {
  'until it is attached it is null in the whole snapshot, and nothing is derived in it': [
    ['reducer', 'runtime/defined-stores.ts', 'this.commit({ ...this.states, [name]: null });', ''],
  ],
  'what is asked of it is refused': [
    [
      'reducer',
      'runtime/reducer.ts',
      "return { status: 'refused', reason: notAttached };",
      "return { status: 'done' };",
    ],
  ],
  'an action that runs one of its actions is refused as a whole': [
    ['atom', 'runtime/atoms.ts', 'if (!this.actions.has(name)) refuse(notAttached);', ''],
  ],
  'a start or an undo of it as a step comes to nothing, and nobody hears of it': [
    ['proxy', 'runtime/tasks.ts', 'if (!Object.hasOwn(this.plans, name)) return;', ''],
  ],
  'resets and cancels of several stores pass it over': [
    [
      'observable',
      'runtime/streams.ts',
      'stores.filter((name) => Object.hasOwn(this.initial, name))',
      'stores',
    ],
  ],
  'it reacts to nothing until then': [
    [
      'proxy',
      'runtime/defined-stores.ts',
      'this.definitions[name] = definition;\n    this.#deeds = new Map();',
      'this.definitions[name] = definition;',
    ],
  ],
  'its reactions stand in the order of the stores, whenever it came': [
    [
      'atom',
      'runtime/atom-lazy.ts',
      'this.#order.indexOf(a.store) - this.#order.indexOf(b.store)',
      '0',
    ],
  ],
  'others react to it as soon as it is there': [
    [
      'reducer',
      'runtime/reducer.ts',
      'of reactions) {',
      'of this.#lazy.has(store) ? [] : reactions) {',
    ],
  ],
  'attaching tells whoever watches what it changes': [
    [
      'reducer',
      'runtime/defined-stores.ts',
      'this.commit({ ...this.states, [name]: state });',
      'this.commit({ ...this.states });',
    ],
  ],
  'what is derived from it is never out of date': [
    ['atom', 'runtime/atoms.ts', 'for (const reading of this.readings) reading.tell();', ''],
  ],
  'the second time it is done without effect': [
    ['proxy', 'runtime/attaching.ts', 'if (isThere()) return attached;', ''],
    ['proxy', 'runtime/attaching.ts', 'if (isThere()) return false;', ''],
  ],
  'what starts by itself in it is at its creation then': [
    [
      'reducer',
      'runtime/following.ts',
      'const isFirst = !this.#begun.has(name);',
      'const isFirst = false;',
    ],
  ],
  'it begins with what is saved by then, and writes nothing': [
    ['observable', 'runtime/stored-fields.ts', 'return Object.fromEntries(found);', 'return {};'],
  ],
  'there is nothing to undo in it at first': [
    [
      'atom',
      'runtime/histories.ts',
      'this.#last.set(store, this.#keptOf(store, plan));',
      'this.states = { ...this.states, [store]: { past: [[1]], future: [], isRow: false } };\n    this.#last.set(store, this.#keptOf(store, plan));',
    ],
  ],
  'what does not fit it is refused as anywhere': [
    [
      'proxy',
      'runtime/defined-lazy.ts',
      'engine.checks[store.name] = store.checks ?? {};',
      'engine.checks[store.name] = {};',
    ],
  ],
  'a watcher that attaches waits for its turn': [
    [
      'observable',
      'runtime/transaction.ts',
      'if (this.#isBusy) {',
      "if (this.#isBusy && !action.endsWith('.attach')) {",
    ],
  ],
  'after closing it cannot be attached any more': [
    ['reducer', 'runtime/transaction.ts', 'if (this.#isClosed) return closed;', ''],
  ],
};

testContract({ of: 'stores that come later', schema: annex, promises: laterPromises, breaks });
