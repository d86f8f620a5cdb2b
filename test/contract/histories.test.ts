import type { Break } from './broken.js';
import { berths, historyPromises } from './history-promises.js';
import { testContract } from './suite.js';

const histories = 'runtime/histories.ts';

/** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
const breaks: Readonly<Record<string, Break>> = {
  'undo and redo put the tracked fields back, one change at a time': [
    ['reducer', histories, '[...to, this.#keptOf(store, plan)]', '[this.#keptOf(store, plan)]'],
  ],
  'at either end there is nothing to undo or to redo, and nothing happens': [
    ['atom', histories, 'nothing to ${move}', 'nothing'],
  ],
  'what does not change a tracked field adds nothing': [
    ['proxy', histories, 'now.some((value, i) => !Object.is(value, last[i]))', 'now.length > 0'],
  ],
  'a change clears what could be redone': [
    ['observable', histories, 'future: [], isRow };', 'future: [last], isRow };'],
  ],
  'a refused action adds nothing and clears nothing': [
    [
      'reducer',
      'runtime/transaction.ts',
      'const { reason, at } = error;',
      'const { reason, at } = error;\n for (const one of this.capabilities) Object.assign(one, { states: {} });',
    ],
  ],
  'the limit counts what can be undone; the oldest goes': [
    ['atom', histories, '.slice(-limit)', '.slice(-limit - 1)'],
  ],
  'several in a row that belong together are undone at once': [
    ['proxy', histories, 'together.includes(action)', 'action === together[0]'],
  ],
  'a row ends with another change, and with an undo': [
    [
      'observable',
      histories,
      '{ past: more, future: left, isRow: false }',
      '{ past: more, future: left, isRow: true }',
    ],
  ],
  'undo touches no other store, and nothing reacts to it': [
    ['reducer', histories, 'this.#moved?.store === store', 'this.#moved !== undefined'],
  ],
  'a change counts wherever it began: by run, by a reaction, by the end of a task': [
    [
      'atom',
      histories,
      'else if (action !== takenIn && now',
      "else if (action.split('.').length === 2 && action !== 'crane.book' && now",
    ],
  ],
  'as a step an undo comes after the transaction, like a start': [
    [
      'proxy',
      histories,
      'const go = (): void => {',
      "const go = (): void => {\n      name += ' ';",
    ],
  ],
  'a refused transaction undoes nothing': [
    ['observable', 'runtime/transaction.ts', 'if (this.asked.length > 0) this.asked = [];', ''],
  ],
  'several undos join the queue in order; one that is refused stops nobody': [
    [
      'reducer',
      'runtime/transaction.ts',
      'this.asked.splice(0))',
      'this.asked.splice(0).slice(0, 1))',
    ],
  ],
  'reset: history forgets all, what the same transaction adds included': [
    [
      'atom',
      histories,
      'if (this.#emptied.has(store)) next = empty;',
      'if (this.#emptied.has(store) && next === old) next = empty;',
    ],
  ],
  'reset: history ends a row': [
    [
      'proxy',
      histories,
      'if (this.#emptied.has(store)) next = empty;',
      'if (this.#emptied.has(store)) next = { ...empty, isRow: old.isRow };',
    ],
  ],
  'what can be undone is watched, and told with the change': [
    ['observable', histories, 'if (this.states === before) return false;', 'return false;'],
  ],
  'what is derived from it is never out of date': [
    ['reducer', 'runtime/derived.ts', 'memory.beside === at.beside', 'true'],
  ],
  'what an undo does not change stays the same object': [
    [
      'atom',
      histories,
      'this.#engine.put(store, field, kept[i])',
      'this.#engine.put(store, field, structuredClone(kept[i]))',
    ],
    ['atom', 'runtime/settling.ts', 'i < before.length && same(before[i], item)', 'i < 0'],
  ],
  'an undo that a watcher asks for waits for its turn': [
    [
      'proxy',
      'runtime/transaction.ts',
      'if (this.#isBusy) {',
      "if (this.#isBusy && !action.endsWith('.undo')) {",
    ],
  ],
  'after closing there is nothing to be undone any more': [
    ['observable', 'runtime/transaction.ts', 'if (this.#isClosed) return closed;', ''],
  ],
};

testContract({ of: 'histories', schema: berths, promises: historyPromises, breaks });
