import { describe, expect, test } from '@jest/globals';
import { same } from '../../src/base/same.js';
import type { Style } from '../../src/base/styles.js';
import { loadModules } from '../../src/participants/load-modules.js';
import { applyChanges } from '../../src/logs/log/apply-changes.js';
import { judgeEntry } from '../../src/logs/log/judge-entry.js';
import {
  isHead,
  type LogHead,
  type LoggedState,
  type LogLine,
} from '../../src/logs/log/log-lines.js';
import { allStyles, foldersOf, modelOf } from '../helpers.js';

const schema = `
leeshore: 1
title: Skerry Sound quay
types:
  Token: { type: string, minLength: 3, secret: true }
  Guest: { fields: { name: string, token: Token } }
services:
  office: { operations: { name: { payload: string, result: string }, key: { payload: string, result: Token } } }
stores:
  quay:
    state:
      lanes: { list: string }
      open: { type: boolean, default: true, setter: setOpen }
      at: { type: number, default: 0 }
      guests: { list: Guest, by: name }
      key: { maybe: Token }
    derived:
      count: "lanes.length"
    history: { of: [lanes] }
    actions:
      add:
        payload: string
        requires: [{ that: "open", otherwise: Shut. }]
        steps: [{ append: { to: lanes, value: "newId() + payload" } }, { set: { at: "now()" } }, { run: note, payload: "'added'" }]
      note: { payload: string, steps: [] }
      take: { payload: { type: integer }, accepts: text, steps: [{ set: { at: "payload" } }] }
      enter: { payload: Guest, steps: [{ append: { to: guests, value: "payload" } }] }
    tasks:
      load: { payload: string, operation: office.name, finish: [{ append: { to: lanes, value: "result" } }] }
      unlock: { payload: string, operation: office.key, finish: [{ set: { key: "result" } }] }
  tally:
    state: { notes: { type: integer, default: 0 } }
    reacts: [{ to: quay.note, steps: [{ set: { notes: "notes + 1" } }] }]
`;

interface Used {
  readonly entries: (LogHead | LogLine)[];
  readonly lines: () => LogLine[];
  send(name: string, payload?: unknown): void;
  readonly module: Readonly<Record<string, never>>;
}

type Handles = Readonly<Record<string, Readonly<Record<string, (payload?: unknown) => unknown>>>>;

/** The stores of a style, with a log in memory. */
async function logged(style: Style, more: object = {}): Promise<Used> {
  const [folder] = await foldersOf(await modelOf(schema), [style], { log: true });
  const module = loadModules(folder?.files ?? [], 'index.ts') as never as Used['module'] & {
    createStores: (options: object) => { stores?: Handles; dispatch?: (action: object) => unknown };
  };
  const entries: (LogHead | LogLine)[] = [];
  let [ids, time] = [0, 5000];
  const api = module.createStores({
    log: {
      write: (entry: LogHead | LogLine) => void entries.push(entry),
      clock: () => (time += 10),
    },
    newId: () => `n${(ids += 1)}`,
    now: () => 77,
    services: { office: { name: (of: string) => Promise.resolve(`${of}!`), key: () => 'sesame' } },
    ...more,
  });
  return {
    entries,
    module,
    lines: () => entries.filter((entry): entry is LogLine => !isHead(entry)),
    send(name, payload) {
      const [store = '', action = ''] = name.split('.');
      if (api.dispatch !== undefined) api.dispatch({ type: name, payload });
      else api.stores?.[store]?.[action]?.(payload);
    },
  };
}

const turn = () => new Promise((resume) => setTimeout(resume));

describe.each(allStyles)('the log of %s stores', (style) => {
  test('says what each turn was asked for, did and changed', async () => {
    const { send, lines, entries } = await logged(style);
    send('quay.add', 'a');
    send('quay.setOpen', false);
    send('quay.add', 'b');
    send('quay.undo');
    expect(entries[0]).toMatchObject({
      leeshoreLog: 1,
      schema: { name: 'Skerry Sound quay' },
      state: { quay: { lanes: [], open: true }, tally: { notes: 0 } },
    });
    expect(Object.keys((entries[0] as LogHead).schema ?? {})).toEqual(['name', 'sha256']);
    const [added, shut, refused, undone] = lines();
    expect(added).toEqual({
      turn: 1,
      at: expect.any(Number),
      kind: 'action',
      do: 'quay.add',
      payload: 'a',
      by: 'outside',
      outcome: 'done',
      included: ['quay.add', 'quay.note', 'tally after quay.note'],
      draws: { ids: ['n1'], now: 77 },
      changes: [
        { op: 'add', path: '/quay/lanes/0', value: 'n1a' },
        { op: 'replace', path: '/quay/at', value: 77 },
        { op: 'replace', path: '/tally/notes', value: 1 },
      ],
    });
    expect(shut).toMatchObject({ do: 'quay.setOpen', outcome: 'done' });
    expect(shut?.included).toBeUndefined();
    expect(refused).toMatchObject({ turn: 3, outcome: 'refused', reason: 'Shut.' });
    expect(refused?.changes).toBeUndefined();
    expect(undone).toMatchObject({ kind: 'undo', do: 'quay', outcome: 'done' });
  });

  test('names what set a turn off, and the run and the call of an answer', async () => {
    const { send, lines } = await logged(style);
    send('quay.load', 'x');
    await turn();
    send('quay.unlock', 'y');
    const [start, finish, , unlocked] = lines();
    expect(start).toMatchObject({
      kind: 'start',
      do: 'quay.load',
      run: 1,
      calls: [{ call: 1, operation: 'office.name' }],
    });
    expect(finish).toMatchObject({
      kind: 'finish',
      by: 'answer',
      cause: 1,
      run: 1,
      call: 1,
      payload: 'x!',
    });
    // The office gave this one while it was called.
    expect(unlocked).toMatchObject({ kind: 'finish', by: 'answer', cause: 3, call: 2, sync: true });
  });

  test('shows numbers in place of secrets, wherever they stand, the same for equal values', async () => {
    const { send, entries, lines } = await logged(style);
    send('quay.enter', { name: 'Inga', token: 'sesame' });
    send('quay.enter', { name: 'Tor', token: 'other' });
    send('quay.unlock', 'y');
    expect(JSON.stringify(entries)).not.toContain('sesame');
    expect(lines()[0]).toMatchObject({
      payload: { name: 'Inga', token: '•1' },
      changes: [{ value: { name: 'Inga', token: '•1' } }],
    });
    expect(lines()[1]).toMatchObject({ payload: { token: '•2' } });
    expect(lines()[3]).toMatchObject({
      payload: '•1',
      changes: [{ path: '/quay/key', value: '•1' }],
    });
  });

  test('keeps a text from a form as it came, and leaves out what is no data', async () => {
    const { send, lines } = await logged(style);
    send('quay.take', '12');
    send('quay.note', new Date(0));
    send('quay.setOpen', undefined);
    expect(lines().map(({ payload }) => payload)).toEqual(['12', undefined, undefined]);
  });

  test('has changes that lead from state to state, and lines that are well formed', async () => {
    const { entries, send } = await logged(style, { guard: true });
    for (const name of ['a', 'b', 'c']) send('quay.add', name);
    send('quay.undo');
    send('quay.redo');
    let state = (entries[0] as LogHead).state as LoggedState;
    for (const entry of entries) {
      expect(judgeEntry(JSON.parse(JSON.stringify(entry)))).toEqual(
        JSON.parse(JSON.stringify(entry)),
      );
      if (!isHead(entry)) state = applyChanges(state, entry.changes ?? []);
    }
    expect(state).toMatchObject({ quay: { lanes: ['n1a', 'n2b', 'n3c'] }, tally: { notes: 3 } });
  });

  test('a sink that throws is reported, and the action is kept', async () => {
    const problems: unknown[] = [];
    const log = {
      write: () => {
        throw new Error('the disk is full');
      },
    };
    const onProblem = ({ kind, at }: { kind: string; at: string }) => problems.push([kind, at]);
    const { send } = await logged(style, { log, onProblem });
    send('quay.add', 'a');
    expect(problems).toEqual([
      ['watcher', 'log'],
      ['watcher', 'log'],
    ]);
  });
});

test('the four styles write the same log, but for who was told', async () => {
  const logs = await Promise.all(
    allStyles.map(async (style) => {
      const { send, lines } = await logged(style);
      send('quay.add', 'a');
      send('quay.load', 'x');
      send('quay.load', 'y');
      await turn();
      send('quay.undo');
      return lines();
    }),
  );
  for (const log of logs) expect(same(log, logs[0])).toBe(true);
});

describe('sinks', () => {
  test('a memory log keeps the newest lines, and begins at a state', async () => {
    const { module } = await logged('atom');
    const { memoryLog } = module as unknown as {
      memoryLog: (options: object) => { entries: () => (LogHead | LogLine)[]; text: () => string };
    };
    const log = memoryLog({ limit: 20, clock: () => 0 });
    const { send } = await logged('atom', { log });
    for (let i = 0; i < 60; i++) send('quay.add', String(i));
    const [head, ...lines] = log.entries() as [LogHead, ...LogLine[]];
    expect(lines.length).toBeGreaterThanOrEqual(18);
    expect(lines.length).toBeLessThanOrEqual(22);
    let state = head.state as LoggedState;
    for (const line of lines) state = applyChanges(state, line.changes ?? []);
    expect(state).toMatchObject({ tally: { notes: 60 } });
    expect(log.text().trim().split('\n')).toHaveLength(lines.length + 1);
  });

  test('a live log sends each line, gives the lines so far when asked, and lets go when closed', async () => {
    const { module } = await logged('proxy');
    const { liveLog, allLogs } = module as unknown as {
      liveLog: (options: object) => object;
      allLogs: (...sinks: object[]) => object;
    };
    const sent: { entry?: LogLine; backlog?: unknown[] }[] = [];
    const channel = {
      onmessage: null as ((event: { data: unknown }) => void) | null,
      postMessage: (message: object) => void sent.push(message),
    };
    const plain: unknown[] = [];
    const log = allLogs(liveLog({ channel }), {
      write: (entry: unknown) => void plain.push(entry),
    });
    const { send } = await logged('proxy', { log });
    send('quay.add', 'a');
    channel.onmessage?.({ data: { asks: 'backlog' } });
    channel.onmessage?.({ data: 'something else' });
    expect(sent.map((message) => Object.keys(message)[0])).toEqual(['entry', 'entry', 'backlog']);
    expect(sent[2]?.backlog).toEqual(plain);
  });
});
