import { beforeAll, describe, expect, test } from '@jest/globals';
import { plainPaint as paint } from '../../../src/report/paint.js';
import { readFileSync } from 'node:fs';
import { overviewOf, type Overview } from '../../../src/language/reports/overview.js';
import { overviewDot, overviewMermaid } from '../../../src/language/reports/overview-graph.js';
import { overviewText } from '../../../src/language/reports/overview-text.js';
import { modelOf, root } from '../../helpers.js';

const schema = `leeshore: 1
title: The pier
types:
  Car: { fields: { id: string, lengthM: number } }
stores:
  deck:
    about: What is on deck
    state:
      cars: { list: Car, by: id }
      hold: { maybe: string }
    derived:
      usedM: "sum(cars, c => c.lengthM)"
      longerThan: { given: { metres: number }, value: "cars.filter(c => c.lengthM > metres)" }
    actions:
      board:
        payload: Car
        requires:
          - { that: "hold === null && !wind.strong", otherwise: On hold. }
        steps:
          - append: { to: cars, value: "payload" }
          - run: wind.measure
            payload: "longerThan(5).length"
      newDay:
        - reset: { stores: all, except: [deck] }
    reacts:
      - to: wind.measure
        steps:
          - set: { hold: "wind.strong ? 'wind' : hold" }
  wind:
    value: { type: number, default: 0 }
    derived: { strong: "value > 18" }
    actions:
      measure:
        payload: number
        steps:
          - set: { value: "payload" }
`;

let overview: Overview;
beforeAll(async () => {
  overview = overviewOf(await modelOf(schema));
});

describe('what the checker understood', () => {
  test('types are inferred, and names lead to their stores', () => {
    const [deck, wind] = overview.stores;
    expect(deck?.fields).toEqual([
      { name: 'cars', type: 'a list of Car', default: [] },
      { name: 'hold', type: 'text or null', default: null },
    ]);
    expect(deck?.derived).toEqual([
      { name: 'usedM', given: [], type: 'a number', reads: ['deck.cars'] },
      {
        name: 'longerThan',
        given: [{ name: 'metres', type: 'a number' }],
        type: 'a list of Car',
        reads: ['deck.cars'],
      },
    ]);
    expect(deck?.actions[0]).toEqual({
      name: 'board',
      moves: [],
      payload: 'Car',
      requires: ['On hold.'],
      reads: ['deck.hold', 'wind.strong', 'deck.longerThan'],
      stores: ['deck.cars'],
      runs: ['wind.measure'],
      causes: ['wind.measure', 'deck.reacts[0]'],
      starts: [],
      cancels: [],
    });
    expect(deck?.actions[1]?.stores).toEqual(['wind.value']);
    expect(deck?.reactions).toEqual([
      {
        to: ['wind.measure'],
        moves: [],
        reads: ['wind.strong', 'deck.hold'],
        stores: ['deck.hold'],
        runs: [],
        starts: [],
        cancels: [],
      },
    ]);
    expect(wind?.fields).toEqual([{ name: 'value', type: 'a number', default: 0 }]);
  });

  test('as text: own names are bare, others are not', () => {
    const lines = overviewText(overview, paint).split('\n');
    expect(lines[0]).toBe('The pier');
    expect(lines).toContain('deck  What is on deck');
    expect(lines).toContain('    longerThan  (metres) -> a list of Car');
    expect(lines).toContain('    board       Car needs 1');
    expect(lines).toContain('                sets off wind.measure, a reaction of deck');
    expect(lines).toContain('                reads    hold, wind.strong, longerThan');
    expect(lines).toContain('    wind.measure');
  });

  test('long lists of names are folded under each other', () => {
    const [deck] = overview.stores;
    if (deck === undefined) throw new Error('no store');
    const reads = Array.from({ length: 20 }, (_, i) => `wind.reading${i}`);
    const wide = { ...overview, stores: [{ ...deck, derived: [{ ...deck.derived[0], reads }] }] };
    const lines = overviewText(wide as Overview, paint).split('\n');
    expect(Math.max(...lines.map((line) => line.length))).toBeLessThanOrEqual(111);
    expect(lines.join(' ').match(/wind\.reading\d+/g)).toHaveLength(20);
  });

  test('as a graph for Graphviz', () => {
    const lines = overviewDot(overview).split('\n');
    expect(lines[0]).toBe('digraph stores {');
    expect(lines.at(-1)).toBe('}');
    expect(lines).toContain('  subgraph "cluster_deck" {');
    expect(lines).toContain('    "deck.cars" [label="cars", shape=box];');
    expect(lines).toContain('  "deck.cars" -> "deck.usedM" [style=solid];');
    expect(lines).toContain('  "deck.board" -> "deck.cars" [style=bold];');
    expect(lines).toContain('  "deck.board" -> "wind.measure" [style=dashed];');
    expect(lines).toContain('  "wind.measure" -> "deck.hold" [style=dotted];');
  });

  test('as a Mermaid flowchart, each node under one short name', () => {
    const text = overviewMermaid(overview);
    const ids = [...text.matchAll(/^ {4}(n\d+)[[(>]/gm)].map((match) => match[1]);
    expect(new Set(ids).size).toBe(ids.length);
    const idOf = (name: string) => new RegExp(`(n\\d+)[[(>]"${name}"`).exec(text)?.[1] ?? '?';
    expect(text).toContain(`  ${idOf('cars')} --> ${idOf('usedM')}`);
    expect(text).toContain(`  ${idOf('board')} ==> ${idOf('cars')}`);
    expect(text).toContain(`  ${idOf('measure')} -.-> ${idOf('hold')}`);
  });
});

describe('what the checker understood of tasks', () => {
  test('who calls what, what starts and cancels them, what they store to', async () => {
    const text = readFileSync(new URL('test/fixtures/loading.stores.yaml', root), 'utf8');
    const overview = overviewOf(await modelOf(text));
    const [timetable, wind] = overview.stores;
    expect(timetable?.tasks[0]).toEqual({
      name: 'loadSailings',
      payload: 'text',
      requires: ['Which day?'],
      calls: 'office.sailingsOn',
      result: 'a list of Sailing',
      overlap: 'latest',
      settings: { timeLimit: '5000', retry: '2' },
      startedBy: ['timetable.again'],
      cancelledBy: ['timetable.clear', 'timetable.leave'],
      moments: [
        { moment: 'start', stores: ['timetable.busy', 'timetable.problem', 'timetable.day'] },
        { moment: 'finish', stores: ['timetable.busy', 'timetable.sailings'] },
        { moment: 'fail', stores: ['timetable.busy', 'timetable.problem'] },
        { moment: 'cancel', stores: ['timetable.busy'] },
      ],
      reads: ['timetable.day'],
    });
    expect(wind?.tasks.find(({ name }) => name === 'ask')).toMatchObject({
      startedBy: ['while watched'],
      settings: { every: 'speed > 10 ? 1000 : 60000' },
    });
    expect(overview.services[1]?.operations[1]).toEqual({
      name: 'gusts',
      payload: 'a whole number',
      result: 'many: a number',
      calledBy: ['wind.listen'],
    });
    const drawn = overviewMermaid(overview);
    expect(drawn).toContain('[["loadSailings"]]');
    expect(overviewText(overview, { ...paint, columns: 100 })).toMatch(
      /calls office\.sailingsOn {3}overlap latest {3}timeLimit 5000 {3}retry 2\n +started by again {3}cancelled by/,
    );
  });
});
