import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import type { ScriptStep } from '../src/comparing/script.js';
import { inFolder, leeshore } from './cli/run.js';
import { TideWorld } from './contract/tide-world.js';
import { loadModules } from '../src/participants/load-modules.js';
import { strictComplaints } from './compiler.js';
import { foldersOf, modelOf, root } from './helpers.js';
import { participantNames, start } from './participants.js';
import { isSoak } from './sweep.js';

const text = readFileSync(new URL('docs/tasks.md', root), 'utf8');
const schema = /```yaml\n(leeshore: 1\n[\s\S]*?)```/.exec(text)?.[1] ?? '';

/** Does the steps of a script, as far as the page has them. */
async function play(world: TideWorld, steps: readonly ScriptStep[]): Promise<void> {
  for (const step of steps) {
    if ('start' in step) expect(world.start(step.start, step.payload).status).toBe('done');
    else if ('pass' in step) await world.pass(step.pass as number);
    else if ('error' in step) await world.fail(step.answer, step.error);
    else if ('result' in step && 'answer' in step) await world.answer(step.answer, step.result);
    await world.rest();
  }
}

describe('the scripts of docs/tasks.md', () => {
  const scripts = [
    ...text.matchAll(/```json script\n([\s\S]*?)```\n\n```json after\n([\s\S]*?)```/g),
  ].map(([, script = '', after = '']) => [script, after] as const);

  test('there are some', () => {
    expect(scripts.length).toBeGreaterThanOrEqual(3);
  });

  test.each(participantNames)('show what the page says, in %s', async (name) => {
    const application = await modelOf(schema);
    for (const [script, after] of scripts) {
      const world = await TideWorld.begin(application, (change) => start(schema, name, change));
      await play(world, JSON.parse(script) as readonly ScriptStep[]);
      expect(world.state('timetable')).toEqual(JSON.parse(after));
    }
  });
});

test('what a reducer has recorded is what the page says, and gives the same state again', async () => {
  const application = await modelOf(schema);
  const [folder] = await foldersOf(application, ['reducer']);
  const code = /```ts replay\n([\s\S]*?)```/.exec(text)?.[1] ?? '';
  const use = `
import { createReplay, createStores, timetableActions, type AppState, type AppValue, type DoneAction } from './index.js';
const services = { office: { crossingsOn: () => [] } };
${code}
export { recorded, snapshot, value, replay };
`;
  const files = [...(folder?.files ?? []), { path: 'use.ts', text: use }];
  const { recorded, snapshot, value, replay } = loadModules(files, 'use.ts') as unknown as {
    recorded: readonly unknown[];
    snapshot: () => unknown;
    value: { readonly app: unknown };
    replay: (of: unknown, action: unknown) => unknown;
  };
  const said = /```json recorded\n([\s\S]*?)```/.exec(text)?.[1] ?? '';
  expect(recorded).toEqual(JSON.parse(said));
  expect(value.app).toEqual(snapshot());
  expect(() => replay(value, { type: 'timetable.sink' })).toThrow(TypeError);
  const refused = { type: 'timetable.load', payload: '', run: 2 };
  expect(() => replay(value, refused)).toThrow("'timetable.load' is refused: Which day?");
  const unseen = { type: 'timetable.load.finish', run: 9, given: { result: [] }, ends: true };
  expect(replay(value, unseen)).toEqual(value);
});

/** A soak searches for as long as a user does. */
const budget = isSoak ? [] : ['--steps', '1000', '--style', 'reducer'];

/** What the page says of the old store, in its order: commands, what they print, and changes of the old code. */
const blocks = [...text.matchAll(/```(console|text|diff)\n([^]*?)```/g)].map(
  ([, kind = '', content = '']) => ({ kind, lines: content.trimEnd().split('\n') }),
);

const side = (lines: readonly string[], mark: string) =>
  lines
    .filter((line) => line.startsWith(mark))
    .map((line) => line.slice(1))
    .join('\n');

test('the old store that calls fetch is mended as the page says', () =>
  inFolder(async (folder) => {
    cpSync(fileURLToPath(new URL('examples/skerry', root)), folder, { recursive: true });
    const path = join(folder, 'old/office.ts');
    let printed = '';
    const codes: (number | null)[] = [];
    for (const { kind, lines } of blocks) {
      if (kind === 'console') {
        const args = (lines[0] ?? '').split(' ').slice(1);
        const { code, out } = await leeshore(folder, ...args, ...budget);
        printed = out;
        codes.push(code);
      } else if (kind === 'text') {
        for (const line of lines) expect(printed).toContain(line);
      } else {
        const before = readFileSync(path, 'utf8');
        expect(before.split(side(lines, '-'))).toHaveLength(2);
        writeFileSync(
          path,
          before.replace(side(lines, '-'), () => side(lines, '+')),
        );
      }
    }
    expect(codes).toEqual([1, 1, 0]);
    expect(printed.split('\n')[0]).toMatch(/^no difference/);
  }));

test('the code of the page passes the compiler', async () => {
  const application = await modelOf(schema);
  const out = mkdtempSync(join(tmpdir(), 'leeshore-docs-'));
  try {
    const write = (path: string, content: string) => {
      mkdirSync(dirname(join(out, path)), { recursive: true });
      writeFileSync(join(out, path), content);
      return join(out, path);
    };
    for (const { name, files } of await foldersOf(application))
      for (const file of files) write(`${name}/${file.path}`, file.text);
    const code = (kind: string) =>
      [...text.matchAll(new RegExp(`\`\`\`${kind}\\n([\\s\\S]*?)\`\`\``, 'g'))].map(
        ([, own = '']) => own,
      );
    const [inApplication] = code('ts');
    const [replaying] = code('ts replay');
    const globals = `declare const fetch: (url: string, more: { signal: unknown }) => Promise<{ json(): Promise<Crossing[]> }>;
declare const console: { log(what: unknown): void };
`;
    const uses = (['atom', 'proxy', 'observable'] as const).map((style) =>
      write(
        `use-${style}.ts`,
        `import { createStores, type Crossing } from './${style}/index.js';\n${globals}${inApplication ?? ''}`,
      ),
    );
    uses.push(
      write(
        'use-reducer.ts',
        `import { createReplay, createStores, timetableActions, type AppState, type AppValue, type DoneAction, type Services } from './reducer/index.js';
declare const services: Services;
${replaying ?? ''}
const started = dispatch(timetableActions.load('today'));
if (started.status === 'done') void started.ended.then(({ status }) => status);
dispatch(timetableActions.load.cancel());
// @ts-expect-error: only the start of a task has an end
void dispatch(timetableActions.leave()).ended;
// @ts-expect-error: services are needed
createStores();
`,
      ),
    );
    expect(uses.map((path) => readFileSync(path, 'utf8').length > 200)).toEqual([
      true,
      true,
      true,
      true,
    ]);
    expect(
      strictComplaints(uses, 'es2022').filter((one) => !one.includes('is declared but')),
    ).toEqual([]);
  } finally {
    rmSync(out, { recursive: true, force: true });
  }
});
