import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { Random } from '../../../src/base/random.js';
import { agreeingParts } from '../../../src/comparing/inputs/agreeing-parts.js';
import { trailsOf, type Stop, type Trail } from '../../../src/comparing/inputs/trails.js';
import type { Application } from '../../../src/model/application.js';
import { ferryText, modelOf, root } from '../../helpers.js';

let floor: Application;
beforeAll(async () => {
  floor = await modelOf(
    readFileSync(new URL('test/planted/domains/floor.stores.yaml', root), 'utf8'),
  );
});

/** A trail as a person would write it: `floor.tables[/table by id].seats[/seat]`. */
const written = ({ root: field, stops, equals }: Trail) => {
  const text = (stop: Stop) => {
    if (stop.kind === 'property') return `.${stop.name}`;
    if (stop.kind === 'any') return '[*]';
    return `[${stop.part}${stop.by === undefined ? '' : ` by ${stop.by}`}]`;
  };
  return `${field.slice(1).replace('/', '.')}${stops.map(text).join('')}${equals === undefined ? '' : ` = ${equals}`}`;
};

describe('the trails of an action', () => {
  test.each([
    ['card.count', ['card.dishes[/code by code]']],
    ['card.strike', ['card.dishes[ by code]']],
    [
      'floor.assign',
      ['floor.tables[/table by id]', 'floor.staff[*] = /waiter', 'floor.tables[/waiter by waiter]'],
    ],
    ['floor.sit', ['floor.tables[/table by id]', 'floor.tables[/table by id].seats[/seat]']],
    [
      'floor.fire',
      [
        'floor.tables[/table by id]',
        'floor.tables[/table by id].seats[/seat]',
        'floor.tables[/table by id].seats[/seat].lines[/line]',
      ],
    ],
    [
      'floor.order',
      [
        'card.dishes[/dish by code]',
        'floor.tables[/table by id]',
        'floor.tables[/table by id].seats[/seat]',
      ],
    ],
    [
      'floor.move',
      [
        'floor.tables[/from by id]',
        'floor.tables[/from by id].seats[/seat]',
        'floor.tables[/to by id]',
        'floor.tables[/to by id].seats[/place]',
      ],
    ],
    ['floor.pay', ['floor.tables[ by id]']],
    ['floor.lay', []],
  ])('%s', (name, expected) => {
    const found = trailsOf(floor, name).map(written).toSorted();
    for (const one of expected) expect(found).toContain(one);
    expect(found.length > 0).toBe(expected.length > 0);
  });

  test('those that bind most come first', () => {
    const [first] = trailsOf(floor, 'floor.fire');
    expect(first && written(first)).toBe('floor.tables[/table by id].seats[/seat].lines[/line]');
  });

  test('are read off the steps of another schema too', async () => {
    const ferry = await modelOf(ferryText);
    expect(trailsOf(ferry, 'deck.rename').map(written)).toEqual(['deck.vehicles[/id by id]']);
  });
});

describe('parts that agree', () => {
  const line = { dish: 'soup', count: 2, state: 'noted' };
  const state = {
    card: { dishes: [{ code: 'soup', name: 'Soup', course: 'starter', cents: 900, left: null }] },
    floor: {
      tables: [
        { id: 't1', waiter: null, opened: false, seats: [] },
        {
          id: 't2',
          waiter: 'Ada',
          opened: true,
          seats: [
            { no: 1, guest: null, lines: [] },
            { no: 2, guest: 'Bo', lines: [line] },
          ],
        },
      ],
      staff: ['Ada'],
      served: 0,
    },
  };

  test('lead to the one line that is there, wherever the walk begins', () => {
    for (let seed = 0; seed < 20; seed++) {
      const parts = agreeingParts(floor, 'floor.fire', state, new Random(seed));
      expect(Object.fromEntries([...parts].map(([part, { value }]) => [part, value]))).toEqual({
        '/table': 't2',
        '/seat': 1,
        '/line': 0,
      });
      expect(parts.get('/table')?.from).toBe('/floor/tables/1/id');
    }
  });

  test('bind what can be bound where a trail does not lead to its end', () => {
    const empty = { ...state, floor: { ...state.floor, tables: state.floor.tables.slice(0, 1) } };
    const parts = agreeingParts(floor, 'floor.fire', empty, new Random(1));
    expect([...parts.keys()]).toEqual(['/table']);
  });

  test('are none in an empty state, and none of a store that is not attached', () => {
    const none = { card: null, floor: { tables: [], staff: [], served: 0 } };
    expect(agreeingParts(floor, 'floor.order', none, new Random(1)).size).toBe(0);
  });
});
