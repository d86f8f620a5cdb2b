import { readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyPatch } from 'rfc6902';
import { same } from '../../../src/base/same.js';
import { patchBetween } from '../../../src/generation/runtime/patch.js';
import { applyChanges, PatchError } from '../../../src/logs/log/apply-changes.js';
import { judgeEntry } from '../../../src/logs/log/judge-entry.js';
import type { PatchOperation } from '../../../src/logs/log/log-lines.js';
import { LogError, readLog } from '../../../src/logs/log/read-log.js';
import { root } from '../../helpers.js';

async function read(...chunks: readonly string[]) {
  const entries: [number, string][] = [];
  let torn: number | undefined;
  for await (const some of readLog(chunks, { onTorn: (line) => void (torn = line) }))
    for (const { line, entry } of some) entries.push([line, 'do' in entry ? entry.do : 'head']);
  return { entries, torn };
}

describe('reading a log', () => {
  test('takes lines over several chunks, and knows their numbers', async () => {
    const text = '\uFEFF{"leeshoreLog":1}\n\n{"do":"deck.admit"}\r\n{"do":"deck.board"}';
    for (let cut = 0; cut <= text.length; cut += 7)
      expect(await read(text.slice(0, cut), text.slice(cut))).toEqual({
        entries: [
          [1, 'head'],
          [3, 'deck.admit'],
          [4, 'deck.board'],
        ],
        torn: undefined,
      });
  });

  test('passes over a last line that is cut off, and says which', async () => {
    expect(await read('{"do":"a"}\n{"do":"b","pay')).toEqual({ entries: [[1, 'a']], torn: 2 });
  });

  test.each([
    ['{"do":"a"}\n{"do" "b"}\n', 2, /not valid JSON/],
    ['[1]\n', 1, /a line is an object/],
    ['{"turn":1}\n', 1, /no 'do'/],
    ['{"do":"a","turn":-1}\n', 1, /'turn' is not a whole number/],
    ['{"leeshoreLog":2}\n', 1, /version 2/],
    ['{"do":"a","changes":[{"op":"move","path":"/x"}]}\n', 1, /'changes' is not a JSON Patch/],
    ['{"do":"a","by":"ghost"}\n', 1, /'by' is not one of outside, watcher/],
  ])('refuses %j with the line and the reason', async (text, line, detail) => {
    const error = await read(text).catch((thrown: unknown) => thrown);
    expect(error).toBeInstanceOf(LogError);
    expect([(error as LogError).line, (error as LogError).detail]).toEqual([
      line,
      expect.stringMatching(detail),
    ]);
  });

  test('takes what the published schema takes, and nothing that it refuses', () => {
    const path = new URL('schema/log-1.schema.json', root);
    const ajv = new Ajv2020({
      formats: { 'json-pointer': true, 'date-time': true },
      strictTypes: false,
    });
    const fits = ajv.compile(JSON.parse(readFileSync(path, 'utf8')) as object);
    for (const name of ['morning', 'old'])
      for (const line of readFileSync(
        new URL(`examples/skerry/logs/${name}.log.jsonl`, root),
        'utf8',
      )
        .trim()
        .split('\n'))
        expect([fits(JSON.parse(line)), fits.errors]).toEqual([true, null]);
    for (const odd of [
      { turn: 1 },
      { do: 'a', turn: 'x' },
      { do: 'a', by: 'ghost' },
      { leeshoreLog: 2 },
    ]) {
      expect(fits(odd)).toBe(false);
      expect(typeof judgeEntry(odd)).toBe('string');
    }
  });
});

/** Lists and objects of which some parts stay the same objects from one value to the next. */
const parts = [{ id: 'a' }, { id: 'b', n: [1, 2] }, { id: 'c', deep: { x: 1 } }, 'text', 4, null];
const value = fc.letrec<{ value: unknown }>((tie) => ({
  value: fc.oneof(
    { maxDepth: 3 },
    fc.constantFrom(...parts),
    fc.array(fc.oneof(fc.constantFrom(...parts), tie('value')), { maxLength: 7 }),
    fc.dictionary(fc.constantFrom('a', 'b', 'c/d', 'e~f', '0'), tie('value'), { maxKeys: 4 }),
  ),
})).value;
const object = fc.dictionary(fc.constantFrom('deck', 'wind', 'a/b'), value);

/** A copy, of the same kinds of objects and lists. */
const plain = <T>(of: T): T => JSON.parse(JSON.stringify(of)) as T;

describe('changes', () => {
  test('lead from one value to the other, as any JSON Patch does', () => {
    fc.assert(
      fc.property(object, object, (before, after) => {
        const changes = patchBetween(before, after) as readonly PatchOperation[];
        expect(same(applyChanges(before, changes), after)).toBe(true);
        const copy = plain(before);
        expect(applyPatch(copy, plain(changes) as never).every((error) => error === null)).toBe(
          true,
        );
        expect(same(copy, after)).toBe(true);
      }),
      { numRuns: 1500 },
    );
  });

  test('leave the value that they are for as it is, and keep what they do not touch', () => {
    const before = { deck: { cars: [{ id: 'a' }, { id: 'b' }] }, wind: { speed: 1 } };
    const copy = plain(before);
    const after = applyChanges(before, [{ op: 'remove', path: '/deck/cars/0' }]);
    expect(before).toEqual(copy);
    expect(after).toEqual({ deck: { cars: [{ id: 'b' }] }, wind: { speed: 1 } });
    expect(after.wind).toBe(before.wind);
    expect(after.deck.cars[0]).toBe(before.deck.cars[1]);
  });

  test('of the first item of a list are one operation', () => {
    const items = Array.from({ length: 1000 }, (_, id) => ({ id }));
    expect(patchBetween({ items }, { items: items.slice(1) })).toEqual([
      { op: 'remove', path: '/items/0' },
    ]);
  });

  test.each([
    ['to the beginning', 900, 0],
    ['to the end', 0, 999],
    ['a few places', 500, 503],
  ])('of an item that moves %s are two operations', (_, from, to) => {
    const items = Array.from({ length: 1000 }, (__, id) => ({ id }));
    const moved = items.toSpliced(from, 1).toSpliced(to, 0, items[from] as { id: number });
    expect(patchBetween({ items }, { items: moved })).toHaveLength(2);
  });

  test.each(['/deck/cars/5/id', '/ship/name', '/deck/cars/x'])(
    'that lead nowhere (%s) are refused',
    (path) => {
      const change: PatchOperation = { op: 'replace', path, value: 1 };
      expect(() => applyChanges({ deck: { cars: [] } }, [change])).toThrow(PatchError);
    },
  );
});
