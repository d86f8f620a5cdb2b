import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { TextStorage } from '../src/base/text-storage.js';
import type { Script, ScriptStep } from '../src/comparing/script.js';
import { readScript } from '../src/comparing/reports/script-file.js';
import { TideWorld } from './contract/tide-world.js';
import { loadModules } from '../src/participants/load-modules.js';
import { foldersOf, modelOf, root } from './helpers.js';
import { participantNames, start } from './participants.js';
import { strictComplaints } from './compiler.js';

const text = readFileSync(new URL('docs/state.md', root), 'utf8');
const schema = /```yaml\n(leeshore: 1\n[\s\S]*?)```/.exec(text)?.[1] ?? '';
const scripts = [
  ...text.matchAll(/```json script\n([\s\S]*?)```\n\n```json after\n([\s\S]*?)```/g),
].map(([, script = '', after = '']) => [scriptOf(script), JSON.parse(after) as object] as const);

function scriptOf(steps: string): Script {
  const read = readScript(`{ "leeshoreScript": 1, "steps": ${steps} }`);
  if (typeof read === 'string') throw new Error(read);
  return read.script;
}

describe('the scripts of docs/state.md', () => {
  test('there is one of each part', () => {
    const steps = scripts.flatMap(([script]) => script.steps);
    const has = (is: (step: ScriptStep) => boolean) => steps.some(is);
    expect([
      has((step) => 'send' in step && step.send === 'lanes.undo'),
      has((step) => 'reopen' in step),
      has((step) => 'attach' in step),
    ]).toEqual([true, true, true]);
  });

  test.each(participantNames)('show what the page says, in %s', async (name) => {
    const application = await modelOf(schema);
    for (const [{ steps }, after] of scripts) {
      const storage = new TextStorage();
      const begin = () =>
        TideWorld.begin(application, (change) => start(schema, name, change), { storage });
      let world = await begin();
      for (const step of steps) {
        if ('send' in step) expect(world.send(step.send, step.payload).status).toBe('done');
        else if ('attach' in step)
          expect(world.running.attach?.(step.attach)).toEqual({ status: 'done' });
        else if ('reopen' in step) {
          world.running.close?.();
          world = await begin();
        } else if ('storage' in step && typeof step.storage === 'object') {
          storage.setItem(step.storage.key, step.storage.text);
        } else throw new Error(`This test does not know ${JSON.stringify(step)}.`);
      }
      expect(world.running.read()).toMatchObject(after);
    }
  });
});

test('the code of docs/state.md passes the compiler', async () => {
  const [folder] = await foldersOf(await modelOf(schema), ['atom'], { begin: 'state' });
  const out = mkdtempSync(join(tmpdir(), 'leeshore-docs-'));
  try {
    const write = (path: string, content: string) => {
      mkdirSync(dirname(join(out, path)), { recursive: true });
      writeFileSync(join(out, path), content);
      return join(out, path);
    };
    for (const file of folder?.files ?? []) write(`stores/atom/${file.path}`, file.text);
    const blocks = [...text.matchAll(/```ts\n([\s\S]*?)```/g)].map(([, code = '']) => code);
    const own = [...text.matchAll(/```ts session\n([\s\S]*?)```/g)].map(([, code = '']) => code);
    expect(own.length).toBe(1);
    expect(blocks.length).toBe(4);
    const uses = blocks.map((code, i) => {
      const prelude = `import { createStores } from './stores/atom/index.js';
declare const localStorage: { getItem(key: string): string | null; setItem(key: string, text: string): void };
declare const sessionStorage: { getItem(key: string): string | null; setItem(key: string, text: string): void };
void sessionStorage;
`;
      return write(`use${i}.ts`, `${prelude}${code}`);
    });
    uses.push(write('session.ts', own[0] ?? ''));
    const serious = strictComplaints(uses, 'es2022').filter(
      (one) => !one.includes('is declared but'),
    );
    expect(serious).toEqual([]);
  } finally {
    rmSync(out, { recursive: true, force: true });
  }
});

test('behind a development server the stores go on, but for one whose fields no longer fit', async () => {
  const code = /```ts session\n([\s\S]*?)```/.exec(text)?.[1] ?? '';
  const problems: unknown[] = [];
  /** The module of the page, replaced in place of one that has left some data; the server stands in `import.meta`. */
  const load = async (own: string, data: object) => {
    const [folder] = await foldersOf(await modelOf(own), ['atom'], { begin: 'state' });
    let leave = (_data: object): void => undefined;
    const use = code
      .replace('import.meta as', 'globalThis as')
      .replace(
        'createStores({',
        'createStores({ onProblem: (problem) => problemsOfPage.push(problem),',
      );
    const globals = globalThis as Record<string, unknown>;
    globals['hot'] = {
      data,
      accept: () => undefined,
      dispose: (own_: typeof leave) => (leave = own_),
    };
    globals['problemsOfPage'] = problems;
    const { app } = loadModules(
      [
        ...(folder?.files ?? []).map((file) => ({ ...file, path: `stores/atom/${file.path}` })),
        { path: 'session.ts', text: use },
      ],
      'session.ts',
    ) as unknown as {
      app: {
        stores: { lanes: Record<string, (payload?: unknown) => unknown> };
        state: { get(): Record<string, object> };
      };
    };
    return { app, leave };
  };
  const first = await load(schema, {});
  first.app.stores.lanes['call']?.('port');
  const left = {};
  first.leave(left);
  expect(first.app.stores.lanes['call']?.('centre')).toMatchObject({ reason: 'closed' });
  const second = await load(schema, left);
  expect(second.app.state.get()['lanes']).toMatchObject({ called: ['port'] });
  const shorter = schema.replace('uniqueItems: true', 'uniqueItems: true, maxItems: 0');
  const third = await load(shorter, left);
  expect(third.app.state.get()['lanes']).toMatchObject({ called: [] });
  expect(problems).toEqual([expect.objectContaining({ kind: 'storage', at: 'lanes.state' })]);
});
