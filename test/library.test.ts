import { execFileSync } from 'node:child_process';
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, normalize } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import ts from 'typescript';
import { complaints } from './compiler.js';
import { root } from './helpers.js';

const project = fileURLToPath(root);

/** A project with the packed package in it, and with nothing else but what the package depends on. */
let folder: string;
let installed: string;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'leeshore-packed-'));
  const args = ['pack', '--silent', '--pack-destination', folder];
  execFileSync('npm', args, { cwd: project, stdio: ['ignore', 'ignore', 'pipe'] });
  const [archive = ''] = readdirSync(folder);
  installed = join(folder, 'node_modules/leeshore');
  mkdirSync(installed, { recursive: true });
  execFileSync('tar', ['-xzf', join(folder, archive), '-C', installed, '--strip-components=1']);
  const { dependencies } = JSON.parse(readFileSync(join(installed, 'package.json'), 'utf8')) as {
    dependencies: Record<string, string>;
  };
  for (const name of Object.keys(dependencies))
    symlinkSync(join(project, 'node_modules', name), join(folder, 'node_modules', name));
  writeFileSync(join(folder, 'package.json'), '{ "type": "module" }');
  cpSync(join(project, 'examples/skerry/ferry.stores.yaml'), join(folder, 'ferry.stores.yaml'));
});

afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

/** The example of the page on the library. */
const example = () =>
  /```ts\n([^]*?)```/.exec(readFileSync(new URL('docs/library.md', root), 'utf8'))?.[1] ?? '';

const run = (...args: readonly string[]) =>
  execFileSync(process.execPath, [...args], { cwd: folder, encoding: 'utf8' });

describe('the packed package', () => {
  test('exports at most 20 things, and the page lists each', () => {
    const text = readFileSync(join(installed, 'dist/types/index.d.ts'), 'utf8');
    const names = [...text.matchAll(/export (?:type )?\{([^}]*)\}/g)].flatMap(([, list = '']) =>
      list.split(',').flatMap((name) => name.replace('type ', '').trim() || []),
    );
    expect(names.length).toBeGreaterThan(10);
    expect(names.length).toBeLessThanOrEqual(20);
    const page = readFileSync(join(installed, 'docs/library.md'), 'utf8');
    const unnamed = names.filter((name) => !name.startsWith('Brought') && !page.includes(name));
    expect(unnamed).toEqual([]);
  });

  test('has types that pass the strictest compiler without any other package', () => {
    const path = join(folder, 'example.ts');
    const participant = join(folder, 'old.participant.ts');
    // The example uses Node; its types are no part of what is tested.
    const node = `declare module 'node:fs' { export function readFileSync(path: string, as: 'utf8'): string; export function writeFileSync(path: string, text: string): void; export function mkdirSync(path: string, options: object): void; }
declare module 'node:path' { export function join(...parts: string[]): string; export function dirname(path: string): string; }
declare const console: { log(text: string): void };\n`;
    writeFileSync(join(folder, 'node.d.ts'), node);
    writeFileSync(path, example());
    writeFileSync(
      participant,
      "import type { BroughtParticipant } from 'leeshore';\nexport default { name: 'old', create: () => ({ actions: {}, state: {} }) } satisfies BroughtParticipant;\n",
    );
    const found = complaints([path, participant, join(folder, 'node.d.ts')], {
      verbatimModuleSyntax: false,
      lib: ['lib.es2023.d.ts'],
      target: ts.ScriptTarget.ES2022,
      module: ts.ModuleKind.NodeNext,
      moduleResolution: ts.ModuleResolutionKind.NodeNext,
    });
    expect(found).toEqual([]);
  });

  test('runs the example of its page', () => {
    writeFileSync(join(folder, 'example.mjs'), example());
    expect(run('example.mjs')).toMatch(/^same: 2000 steps, \d+ of \d+ outcomes reached\n$/);
    expect(existsSync(join(folder, 'stores/index.ts'))).toBe(true);
  });

  test('runs its commands, and says what it needs for what it lacks', () => {
    const program = join(installed, 'bin/leeshore.js');
    expect(run(program, 'check', 'ferry.stores.yaml')).toContain('Skerry Sound');
    expect(
      run(program, 'generate', 'ferry.stores.yaml', '--style', 'proxy', '--out', 'made'),
    ).toContain('written');
    expect(
      run(
        program,
        'compare',
        'ferry.stores.yaml',
        '--style',
        'atom',
        '--steps',
        '200',
        '--jobs',
        '2',
      ),
    ).toContain('no difference');
    const js = ['generate', 'ferry.stores.yaml', '--style', 'atom', '--language', 'js'];
    expect(() => run(program, ...js)).toThrow(/npm install --save-dev typescript/);
  });

  test('is small: nothing is in it twice', () => {
    const sizeOf = (path: string): number => {
      const stats = statSync(path);
      if (!stats.isDirectory()) return stats.size;
      return readdirSync(path).reduce((sum, name) => sum + sizeOf(join(path, name)), 0);
    };
    expect(sizeOf(installed) / 2 ** 20).toBeLessThan(8);
  });

  test('has every file that its pages link to', () => {
    const pages = [
      'README.md',
      'CHANGELOG.md',
      'CONTRIBUTING.md',
      ...readdirSync(join(installed, 'docs'))
        .filter((name) => name.endsWith('.md'))
        .map((name) => `docs/${name}`),
    ];
    const broken = pages.flatMap((page) => {
      const text = readFileSync(join(installed, page), 'utf8');
      return [...text.matchAll(/\]\(([^)#:\s]+)(?:#[^)]*)?\)/g)]
        .map(([, link = '']) => normalize(join(dirname(page), link)))
        .filter((path) => !existsSync(join(installed, path)))
        .map((path) => `${page} -> ${path}`);
    });
    expect(broken).toEqual([]);
  });
});
