import { execFileSync, spawnSync } from 'node:child_process';
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
import { isBuiltin } from 'node:module';
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
  test('exports at most 20 things beside the parts of a participant file, and the page lists each', () => {
    const text = readFileSync(join(installed, 'dist/types/index.d.ts'), 'utf8');
    const names = [...text.matchAll(/export (?:type )?\{([^}]*)\}/g)].flatMap(([, list = '']) =>
      list.split(',').flatMap((name) => name.replace('type ', '').trim() || []),
    );
    expect(names.length).toBeGreaterThan(10);
    const own = names.filter((name) => !name.startsWith('External'));
    expect(own.length).toBeLessThanOrEqual(20);
    const page = readFileSync(join(installed, 'docs/library.md'), 'utf8');
    const unnamed = own.filter((name) => !page.includes(name));
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
      "import type { ExternalParticipant } from 'leeshore';\nexport default { name: 'old', create: () => ({ actions: {}, state: {} }) } satisfies ExternalParticipant;\n",
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

  test('has what users need, with the licence of each package that is built in', () => {
    const files = readdirSync(installed, { recursive: true, encoding: 'utf8' });
    expect(files.filter((name) => /\.png$|CONTRIBUTING/.test(name))).toEqual([]);
    expect(files.filter((name) => name.endsWith('.d.ts')).length).toBeLessThan(120);
    const text = readFileSync(join(installed, 'dist/LICENCES-OF-PACKAGES.txt'), 'utf8');
    const titles = [...text.matchAll(/^(\S+) \d\S* \((.+)\)\n-+\n/gm)].map(([, name]) => name);
    // Those of the packages whose code is known to stand in the program by its own words.
    for (const name of [
      'yargs',
      'yaml',
      'js-yaml',
      'ajv',
      'prettier',
      'acorn',
      'picocolors',
      'diff',
      'cli-table3',
    ])
      expect(titles).toContain(name);
    const { devDependencies } = JSON.parse(readFileSync(new URL('package.json', root), 'utf8')) as {
      devDependencies: Record<string, string>;
    };
    const code = files
      .filter((name) => /^dist\/[^/]*\.js$/.test(name))
      .map((name) => readFileSync(join(installed, name), 'utf8'));
    // No package is asked for that is neither built in nor one of the user's own.
    const asked = code.flatMap((one) =>
      [...one.matchAll(/(?:from|import\()\s*["']([a-z@][^"']*)["']/g)].map(
        ([, name]) => name ?? '',
      ),
    );
    const known = new Set(['esbuild', 'typescript', 'typescript-6', 'jsdom']);
    const odd = asked.filter(
      (name) => !isBuiltin(name) && !known.has(name) && name in devDependencies,
    );
    expect(odd).toEqual([]);
    expect(readFileSync(join(installed, 'LICENSE'), 'utf8')).toContain('Generated code');
  });

  test('works beside a compiler that has no functions for others, with another one under its name', () => {
    const modules = join(folder, 'node_modules');
    const generated = () => {
      const args = [join(installed, 'bin/leeshore.js'), 'generate', 'berth.stores.yaml'];
      const options = ['--language', 'js', '--style', 'atom', '--out', 'beside'];
      const { status, stderr } = spawnSync(process.execPath, [...args, ...options], {
        cwd: folder,
        encoding: 'utf8',
      });
      return [status, stderr];
    };
    cpSync(new URL('examples/start/berth.stores.yaml', root), join(folder, 'berth.stores.yaml'));
    const own = join(modules, 'typescript');
    mkdirSync(own);
    writeFileSync(
      join(own, 'package.json'),
      '{ "name": "typescript", "version": "7.0.2", "main": "index.js" }',
    );
    writeFileSync(join(own, 'index.js'), "module.exports = { version: '7.0.2' };");
    try {
      expect(generated()).toEqual([
        2,
        expect.stringContaining('npm install --save-dev typescript-6@npm:typescript@6'),
      ]);
      symlinkSync(join(project, 'node_modules/typescript'), join(modules, 'typescript-6'));
      expect(generated()).toEqual([0, '']);
    } finally {
      rmSync(join(modules, 'typescript-6'), { force: true });
      rmSync(own, { recursive: true });
    }
  });

  test('has every file that its pages link to, but for pictures', () => {
    const pages = [
      'README.md',
      'CHANGELOG.md',
      ...readdirSync(join(installed, 'docs'))
        .filter((name) => name.endsWith('.md'))
        .map((name) => `docs/${name}`),
    ];
    const broken = pages.flatMap((page) => {
      const text = readFileSync(join(installed, page), 'utf8');
      return [...text.matchAll(/\]\(([^)#:\s]+)(?:#[^)]*)?\)/g)]
        .map(([, link = '']) => normalize(join(dirname(page), link)))
        .filter((path) => !/^docs\/screenshots\/|^CONTRIBUTING/.test(path))
        .filter((path) => !existsSync(join(installed, path)))
        .map((path) => `${page} -> ${path}`);
    });
    expect(broken).toEqual([]);
  });
});
