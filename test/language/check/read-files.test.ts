import { posix } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { checkSchemas } from '../../../src/jobs/check.js';

/** Checks files that stand in memory, by their paths. */
async function check(files: Readonly<Record<string, string>>, ...named: readonly string[]) {
  const { application, problems } = await checkSchemas(
    named.map((path) => ({ path, text: files[posix.normalize(path)] ?? '' })),
    {
      resolve: (from, to) => posix.join(posix.dirname(from), to),
      identity: (path) => posix.normalize(path),
      read: (path) => files[posix.normalize(path)],
    },
  );
  return {
    stores: application?.stores.map(({ name }) => name),
    title: application?.title,
    problems: problems
      .filter(({ severity }) => severity === 'error')
      .map(({ code, span, related }) => {
        const place = (at: typeof span) => `${at.source.path}:${at.source.placeOf(at.start).line}`;
        return [place(span), code, ...related.map((other) => place(other.span))].join(' ');
      }),
  };
}

const store = (name: string, more = '') =>
  `leeshore: 1\n${more}stores:\n  ${name}:\n    state: { open: { type: boolean, default: true } }\n`;

describe('several files', () => {
  test('those that are used come behind the one that uses them, depth first, each once', async () => {
    const files = {
      'a.yaml': store('a', 'use: [parts/b.yaml, parts/c.yaml]\n'),
      'parts/b.yaml': store('b', 'use: [d.yaml]\n'),
      'parts/c.yaml': store('c', 'use: [./d.yaml, ../a.yaml]\n'),
      'parts/d.yaml': store('d'),
    };
    expect((await check(files, 'a.yaml')).stores).toEqual(['a', 'b', 'd', 'c']);
    expect((await check(files, 'parts/c.yaml', './a.yaml')).stores).toEqual(['c', 'd', 'a', 'b']);
  });

  test('one file under two paths is one file', async () => {
    const files = { 'a.yaml': store('a'), 'b.yaml': store('b', 'use: [./x/../a.yaml]\n') };
    const { stores, problems } = await check(files, './a.yaml', 'a.yaml', 'b.yaml');
    expect([stores, problems]).toEqual([['a', 'b'], []]);
  });

  test('types, functions and stores of one file are known in the others', async () => {
    const files = {
      'types.yaml': 'leeshore: 1\ntitle: Pier\ntypes:\n  Lane: { enum: [port] }\n',
      'functions.yaml':
        'leeshore: 1\nfunctions:\n  isPort: { given: { lane: Lane }, value: "lane === \'port\'" }\n',
      'a.yaml': `leeshore: 1\nuse: [types.yaml, functions.yaml]\nstores:\n  a:\n    state: { lane: { $ref: '#/types/Lane', default: port } }\n    derived: { left: "isPort(lane)" }\n`,
    };
    expect(await check(files, 'a.yaml')).toEqual({ stores: ['a'], title: 'Pier', problems: [] });
  });

  test('two definitions of one name are shown with both places, whatever they are', async () => {
    const types = 'leeshore: 1\ntypes:\n  Lane: string\n';
    const functions = 'leeshore: 1\nfunctions:\n  one: { value: "1" }\n';
    const files = {
      'a.yaml': store('a'),
      'b.yaml': `\n${store('a')}`,
      'c.yaml': types,
      'd.yaml': `\n\n${types}`,
      'e.yaml': functions,
      'f.yaml': functions,
      'g.yaml': store('one'),
    };
    expect((await check(files, 'a.yaml', 'b.yaml')).problems).toEqual([
      'b.yaml:4 name-taken a.yaml:3',
    ]);
    expect((await check(files, 'a.yaml', 'c.yaml', 'd.yaml')).problems).toEqual([
      'd.yaml:5 name-taken c.yaml:3',
    ]);
    expect((await check(files, 'a.yaml', 'e.yaml', 'f.yaml')).problems).toEqual([
      'f.yaml:3 name-taken e.yaml:3',
    ]);
    expect((await check(files, 'e.yaml', 'g.yaml')).problems).toEqual([
      'g.yaml:3 name-taken e.yaml:3',
    ]);
  });

  test('a file that is not there, and slips in two files, are told at their places', async () => {
    const files = {
      'a.yaml': store('a', 'use:\n  - ./gone.yaml\n  - ./b.yaml\n'),
      'b.yaml': store('b').replace('state', 'stat'),
    };
    expect((await check(files, 'a.yaml')).problems).toEqual([
      'a.yaml:3 no-such-file',
      'b.yaml:4 wrong-structure',
    ]);
  });

  test('files without any store make no application', async () => {
    const files = { 'a.yaml': 'leeshore: 1\ntypes: { Lane: string }\n' };
    expect((await check(files, 'a.yaml')).problems).toEqual(['a.yaml:1 wrong-structure']);
  });

  test("what a file is about is the first file's that says so", async () => {
    const files = {
      'a.yaml': store('a', 'use: [b.yaml]\n'),
      'b.yaml': store('b', 'title: The pier\n'),
      'c.yaml': store('c', 'title: The deck\n'),
    };
    expect((await check(files, 'a.yaml', 'c.yaml')).title).toBe('The pier');
  });
});
