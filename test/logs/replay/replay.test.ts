import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { atPointer, escapePointer, withPointer } from '../../../src/base/json.js';
import { Random } from '../../../src/base/random.js';
import type { Style } from '../../../src/base/styles.js';
import { referenceParticipant } from '../../../src/meaning/reference.js';
import { generatedParticipant } from '../../../src/participants/generated-participant.js';
import { loadModules } from '../../../src/participants/load-modules.js';
import { namesOf } from '../../../src/participants/names.js';
import { LogMapping } from '../../../src/logs/log/mapping.js';
import { LogError, readLog } from '../../../src/logs/log/read-log.js';
import type { Application } from '../../../src/model/application.js';
import { InconsistentLog } from '../../../src/logs/log/groups.js';
import { Replay, type ReplayOptions } from '../../../src/logs/replay/replay.js';
import { foldersOf, harbourModel, modelOf, root } from '../../helpers.js';
import { howMany } from '../../sweep.js';

const example = (path: string) => readFileSync(new URL(`examples/skerry/${path}`, root), 'utf8');

async function replay(
  application: Application,
  lines: readonly unknown[],
  { styles = [], ...options }: ReplayOptions & { styles?: readonly Style[] } = {},
) {
  const folders = await foldersOf(application, styles, { begin: 'state' });
  const names = namesOf(application);
  const made = new Replay(
    application,
    [
      referenceParticipant(application),
      ...folders.map(({ name, style, files }) => generatedParticipant(name, style, files, names)),
    ],
    options,
  );
  const text = lines.map((line) => JSON.stringify(line)).join('\n');
  for await (const entries of readLog([text])) await made.feed(entries);
  return made.end();
}

const linesOf = (path: string): unknown[] =>
  example(path)
    .trim()
    .split('\n')
    .map((line): unknown => JSON.parse(line));

const rounds = howMany(12, 1250);

const firstOf = (result: Awaited<ReturnType<typeof replay>>) =>
  result.participants[0]?.mismatches[0]?.first;

describe('the log of a morning', () => {
  const morning = linesOf('logs/morning.log.jsonl');

  test('is replayed by the reference and the stores without a difference', async () => {
    const result = await replay(await harbourModel(), morning, {
      styles: ['reducer', 'observable'],
    });
    expect(result.participants.map(({ name, mismatches }) => [name, mismatches])).toEqual([
      ['reference', []],
      ['reducer', []],
      ['observable', []],
    ]);
    expect(result).toMatchObject({ lines: morning.length - 1, sessions: 1, passedOver: {} });
  });

  test('that was changed in one place is reported at that line', async () => {
    const application = await harbourModel();
    let tried = 0;
    for (const [at, line] of morning.entries()) {
      const { changes, outcome } = line as {
        changes?: readonly { path: string; value?: unknown }[];
        outcome?: string;
      };
      const scalar =
        changes?.findIndex(({ value }) => typeof value === 'number' || typeof value === 'string') ??
        -1;
      if (at % 9 !== 4 || (scalar < 0 && outcome !== 'refused')) continue;
      const old = changes?.[scalar]?.value;
      const bad =
        scalar < 0
          ? { ...(line as object), reason: 'For another reason.' }
          : withPointer(
              line,
              `/changes/${scalar}/value`,
              typeof old === 'number' ? old + 1 : `${String(old)}?`,
            );
      const lines = morning.with(at, bad);
      const first = firstOf(await replay(application, lines));
      expect([first?.line, first?.what]).toEqual([at + 1, scalar < 0 ? 'outcome' : 'state']);
      tried += 1;
    }
    expect(tried).toBeGreaterThan(8);
  });

  test('can be replayed from one turn to another', async () => {
    const result = await replay(await harbourModel(), morning, { from: 100, to: 140 });
    expect(result.participants[0]?.mismatches).toEqual([]);
    expect(result.lines).toBeGreaterThan(35);
    expect(result.lines).toBeLessThanOrEqual(41);
  });

  test('whose changes lead nowhere contradicts itself', async () => {
    const lines = morning.with(
      13,
      withPointer(morning[13], '/changes', [{ op: 'remove', path: '/deck/nothing' }]),
    );
    const error = await replay(await harbourModel(), lines).catch((thrown: unknown) => thrown);
    expect(error).toBeInstanceOf(InconsistentLog);
    expect((error as InconsistentLog).number).toBe(14);
  });
});

const quay = `
leeshore: 1
types: { Token: { type: string, minLength: 8, secret: true } }
stores:
  quay:
    state:
      cars: { list: { fields: { id: string, at: number } }, by: id }
      key: { maybe: Token }
      open: { type: boolean, default: true, setter: setOpen }
    actions:
      add: [{ append: { to: cars, value: { id: "newId()", at: "now()" } } }]
      enter: { payload: Token, steps: [{ set: { key: "payload" } }] }
      leave: { payload: string, steps: [{ remove: { from: cars, key: "payload", none: No such car. } }] }
`;

describe('a log of another application', () => {
  test('needs names and states only: what was drawn is found in them', async () => {
    const car = (id: string, at: number) => ({ id, at });
    const lines = [
      { do: 'quay.add', state: { quay: { cars: [car('x7', 5)] } } },
      { do: 'quay.add', state: { quay: { cars: [car('x7', 5), car('x9', 8)] } } },
      { do: 'quay.leave', payload: 'x7', state: { quay: { cars: [car('x9', 8)] } } },
      {
        do: 'quay.leave',
        payload: 'x8',
        outcome: 'refused',
        state: { quay: { cars: [car('x9', 8)] } },
      },
    ];
    const result = await replay(await modelOf(quay), lines, { styles: ['atom'] });
    expect(result.participants.map(({ mismatches }) => mismatches)).toEqual([[], []]);
    expect(result).toMatchObject({ lines: 4, unknownNames: [] });
  });

  test('is told by a mapping what its names and shapes are', async () => {
    const mapping = new LogMapping({
      actions: {
        plus: 'quay.add',
        minus: { is: 'quay.leave', payload: (old: { n: string }) => old.n },
        hum: null,
      },
      state: { quay: { cars: (old: { all: unknown }) => old.all } },
    });
    const lines = [
      { leeshoreLog: 1, state: { all: [{ id: 'a', at: 1 }] } },
      { do: 'hum', state: { all: [{ id: 'a', at: 1 }] } },
      { do: 'minus', payload: { n: 'a' }, state: { all: [] } },
      { do: 'minus', payload: { n: 'a' }, outcome: 'done', state: { all: [] } },
      { do: 'who', state: { all: [] } },
    ];
    const result = await replay(await modelOf(quay), lines, { mapping });
    expect(firstOf(result)).toMatchObject({
      line: 4,
      do: 'quay.leave',
      what: 'outcome',
      shown: { reason: 'No such car.' },
    });
    expect(result).toMatchObject({ unmapped: 1 });
  });

  test('may have one name for several actions, which its payload tells apart', async () => {
    const mapping = new LogMapping({
      actions: {
        change: (old: { drop?: string; open?: boolean }) =>
          old.open === undefined
            ? { is: 'quay.leave', payload: (one: { drop: string }) => one.drop }
            : { is: 'quay.setOpen', payload: (one: { open: boolean }) => one.open },
        odd: () => 7 as never,
      },
      state: { quay: { cars: (old: { all: unknown }) => old.all } },
    });
    const head = { leeshoreLog: 1, state: { all: [{ id: 'a', at: 1 }] } };
    const lines = [
      head,
      { do: 'change', payload: { open: false }, state: { all: [{ id: 'a', at: 1 }] } },
      { do: 'change', payload: { drop: 'a' }, outcome: 'done', state: { all: [] } },
    ];
    const result = await replay(await modelOf(quay), lines, { mapping });
    expect(result.participants.map(({ mismatches }) => mismatches)).toEqual(
      result.participants.map(() => []),
    );
    expect(result).toMatchObject({ unmapped: 0, unknownNames: [] });
    const odd = replay(await modelOf(quay), [head, { do: 'odd', state: { all: [] } }], { mapping });
    await expect(odd).rejects.toThrow('log.actions.odd gives no name');
  });

  test('of which a name is unknown says so, and goes on', async () => {
    const result = await replay(await modelOf(quay), [
      { do: 'ship.sink' },
      { do: 'quay.setOpen', payload: false, state: { quay: { open: false } } },
    ]);
    expect(result).toMatchObject({
      unknownNames: ['ship.sink'],
      passedOver: { 'unknown name': 1 },
    });
    expect(result.participants[0]?.mismatches).toEqual([]);
  });
});

test('a mismatch of one cause is told once, with the lines where it shows again', async () => {
  const line = (at: number) => ({
    do: 'quay.setOpen',
    payload: false,
    turn: at,
    changes: [{ op: 'replace', path: '/quay/open', value: at % 2 === 0 }],
  });
  const lines = [
    { leeshoreLog: 1, state: { quay: { cars: [], key: null, open: true } } },
    ...[1, 2, 3, 4, 5].map(line),
  ];
  const result = await replay(await modelOf(quay), lines, { differences: 5 });
  expect(result.participants[0]?.mismatches).toEqual([
    expect.objectContaining({
      times: 2,
      lines: [5],
      window: { from: 3, to: 3 },
      first: expect.objectContaining({ line: 3, at: '/quay/open', logged: true, shown: false }),
    }),
  ]);
});

test('secrets are replayed by stand-ins that fit, anything matches there, and they are counted', async () => {
  const application = await modelOf(quay);
  const [folder] = await foldersOf(application, ['proxy'], { log: true });
  const { createStores } = loadModules(folder?.files ?? [], 'index.ts') as {
    createStores: (options: object) => { stores: { quay: { enter: (token: string) => void } } };
  };
  const entries: unknown[] = [];
  const { stores } = createStores({ log: { write: (entry: unknown) => void entries.push(entry) } });
  stores.quay.enter('open sesame');
  stores.quay.enter('short');
  expect(JSON.stringify(entries)).not.toMatch(/sesame|short/);
  const result = await replay(application, entries, { styles: ['reducer'] });
  expect(result.participants[0]?.mismatches.map(({ first }) => first.what)).toEqual(['outcome']);
  expect(result.masked).toBeGreaterThan(1);
});

describe('odd lines', () => {
  test.each([
    [{ turn: 1, do: 'deck', kind: 'undo' }, 'undo of deck'],
    [{ turn: 1, do: 'deck.admit', kind: 'start' }, 'start of deck.admit'],
    [{ do: 'deck' }, 'deck'],
    [{ turn: 1, do: 'wind', kind: 'attach' }, 'attach of wind'],
    [
      { turn: 1, do: 'deck.admit', kind: 'finish', by: 'answer', run: 1, call: 1 },
      'finish of deck.admit',
    ],
  ])('a name of another kind is unknown: %j', async (line, name) => {
    const result = await replay(await harbourModel(), [line], { styles: ['atom'] });
    expect(result.unknownNames).toEqual([name]);
    expect(result.passedOver).toEqual({ 'unknown name': 1 });
  });

  test.each([
    [{ do: 'deck.admit', kind: 'finish' }, "'operation' is missing: deck.admit is an action"],
    [{ do: 'load', kind: 'finish' }, 'load is no task of the schema'],
    [{ do: 'load', kind: 'fail', operation: 'crossings' }, 'crossings is no operation'],
    [{ do: 'plan.write', kind: 'cancel' }, 'plan.write is an action, which cannot be cancelled'],
    [{ do: 'deck', kind: 'undo' }, "deck is no store for 'undo'"],
  ])('what is missing in a line of an old log is named: %j', async (line, missing) => {
    const result = await replay(await harbourModel(), [line, line]);
    expect(result.incomplete).toEqual([
      { line: 1, missing: expect.stringContaining(missing), times: 2 },
    ]);
    expect(result.passedOver).toEqual({ incomplete: 2 });
  });

  test(
    'a log with a value exchanged anywhere is replayed, or refused as a log',
    async () => {
      const application = await harbourModel();
      const random = new Random(7);
      const odd = [null, '', 'x', -1, 0.5, 1e308, true, [], {}, 'deck.hold', '/deck'];
      let refused = 0;
      for (let round = 0; round < rounds; round += 1) {
        const lines = linesOf('logs/morning.log.jsonl').slice(0, 60);
        const at = 1 + random.below(lines.length - 1);
        const place = random.pick(placesIn(lines[at]));
        // Half of the time of the type that was there: then it is no fault of the line.
        const type = typeof atPointer(lines[at], place);
        const like = odd.filter((value) => typeof value === type);
        lines[at] = withPointer(lines[at], place, random.pick(random.chance(0.5) ? like : odd));
        try {
          const result = await replay(application, lines, { styles: ['proxy'], differences: 99 });
          expect(result.participants).toHaveLength(2);
        } catch (error) {
          refused += 1;
          expect(error instanceof LogError || error instanceof InconsistentLog ? '' : error).toBe(
            '',
          );
        }
      }
      expect(refused).toBeLessThan(rounds);
    },
    rounds * 1000 + 60_000,
  );
});

/** Pointers to everything in a value. */
function placesIn(value: unknown, at = ''): readonly string[] {
  if (typeof value !== 'object' || value === null) return [];
  return Object.entries(value).flatMap(([key, part]) => {
    const place = `${at}/${escapePointer(key)}`;
    return [place, ...placesIn(part, place)];
  });
}

describe('identifiers that an old log does not say', () => {
  const nests = `
leeshore: 1
services:
  keeper: { operations: { look: { payload: string, result: string } } }
stores:
  nests:
    state: { all: { list: { fields: { id: string, kind: string } }, by: id }, busy: { type: boolean, default: false } }
    actions:
      add: { payload: string, steps: [{ append: { to: all, value: { id: "newId()", kind: "payload" } } }] }
      drop: { payload: string, steps: [{ remove: { from: all, key: "payload", none: No such nest. } }] }
    tasks:
      find:
        payload: string
        operation: keeper.look
        start: [{ set: { busy: "true" } }]
        finish: [{ set: { busy: "false" } }, { append: { to: all, value: { id: "newId()", kind: "result" } } }]
  tower:
    lazy: true
    state: { owls: { type: integer, default: 0 } }
    actions: { spot: { steps: [{ set: { owls: "owls + 1" } }] } }
`;
  const state = (...all: readonly (readonly [string, string])[]) => ({
    nests: { all: all.map(([id, kind]) => ({ id, kind })), busy: false },
    tower: null,
  });

  test('are learned while a lazy store is not attached, and when an answer made them', async () => {
    const lines = [
      { leeshoreLog: 1, state: state() },
      { do: 'nests.add', payload: 'owl', state: state(['k-1', 'owl']) },
      { do: 'nests.find', payload: 'roof' },
      {
        do: 'nests.find',
        kind: 'finish',
        payload: 'stork',
        state: state(['k-1', 'owl'], ['k-2', 'stork']),
      },
      { do: 'nests.drop', payload: 'k-2', outcome: 'done', state: state(['k-1', 'owl']) },
      { do: 'nests.drop', payload: 'k-1', outcome: 'done', state: state() },
      { do: 'nests.drop', payload: 'k-9', outcome: 'refused', state: state() },
    ];
    const application = await modelOf(nests);
    const right = await replay(application, lines, { styles: ['atom'] });
    expect(right.participants.map(({ mismatches }) => mismatches)).toEqual([[], []]);
    const wrong = lines.with(4, { ...lines[4], state: state(['k-2', 'stork']) } as never);
    const found = await replay(application, wrong);
    expect(found.participants[0]?.mismatches[0]?.first.line).toBe(5);
  });
});
