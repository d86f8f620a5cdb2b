import { readFileSync } from 'node:fs';
import { describe } from '@jest/globals';
import { root } from '../helpers.js';
import { testGeneratedCode } from './written-folders.js';

const fixture = (name: string) =>
  readFileSync(new URL(`test/fixtures/${name}.stores.yaml`, root), 'utf8');

/** One task, with a setting of it: each needs other parts of the run time. */
const withTask = (setting: string) => `
leeshore: 1
types: { Crossing: { fields: { id: string, to: string } } }
services:
  office: { operations: { crossingsOn: { payload: string, result: { list: Crossing } }, hear: { payload: string, results: string } } }
stores:
  timetable:
    state:
      crossings: { list: Crossing }
      busy: { type: boolean, default: false }
      problem: { maybe: string }
      day: { maybe: string, setter: look }
    tasks:
      load:
        payload: string
        operation: office.crossingsOn
        start: [{ set: { busy: true, problem: null } }]
        finish: [{ set: { busy: false, crossings: result } }]
        fail: [{ set: { busy: false, problem: error.message } }]
        cancel: [{ set: { busy: false } }]
        ${setting}
`;

/** What can be undone, where nothing takes its time. */
const lanes = `
leeshore: 1
stores:
  lanes:
    state: { cars: { type: integer, default: 0 }, open: { type: boolean, default: true } }
    derived: { hint: "canUndo ? 'undo' : 'nothing'" }
    history: { of: [cars], limit: 3 }
    actions:
      put: { payload: integer, steps: [{ set: { cars: payload } }] }
      again: [{ run: redo }]
      clear: [{ reset: all }, { reset: history }]
  gate:
    value: { type: boolean, default: false }
    history: {}
    actions: { turn: [{ set: { value: "!value" } }] }
`;

/** A store that comes later, and nothing else. */
const later = `
leeshore: 1
stores:
  deck:
    state: { usedM: { type: number, default: 0 } }
    derived: { fee: "usedM * (tariff?.perM ?? 0)" }
    actions: { load: { payload: number, steps: [{ set: { usedM: payload } }] } }
  tariff:
    lazy: true
    state: { perM: { type: number, default: 2 } }
    derived: { double: "perM * 2 + deck.fee" }
    actions: { raise: [{ set: { perM: "double" } }] }
    reacts: [{ to: deck.load, steps: [{ set: { perM: "perM + 1" } }] }]
`;

const settings = [
  'timeLimit: 500',
  'retry: { times: 2 }',
  'every: 50',
  'wait: 20',
  'wait: "payload.length * 10"',
  'auto: { follows: day }',
  'overlap: queue',
  'per: payload',
];

describe('the stores of every style that need no more than ES2022', () => {
  testGeneratedCode(
    [
      ['across stores', fixture('across')],
      ['optional parts', fixture('optional-parts')],
      ['little', fixture('little')],
      ['tasks', fixture('loading')],
      ['a store that comes later, alone', later],
      ['what can be undone', lanes],
      ['a history', lanes.replace(/ +again: .*\n/, '').replace(', { reset: history }', '')],
      ['a task', withTask('')],
      ...settings.map(
        (setting) => [`a task with ${setting.replace(/\W+/g, ' ')}`, withTask(setting)] as const,
      ),
      [
        'a delay',
        withTask('')
          .replace('operation: office.crossingsOn', 'wait: 20')
          .replace(', crossings: result', ''),
      ],
      [
        'a stream',
        withTask('')
          .replace('office.crossingsOn', 'office.hear')
          .replace(', crossings: result', ''),
      ],
    ],
    'es2022',
    8,
  );
});
