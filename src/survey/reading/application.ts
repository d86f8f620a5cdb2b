import { createRequire } from 'node:module';
import { dirname, extname, join, relative } from 'node:path';
import ts from 'typescript';
import { MissingImports } from './missing-imports.js';
import { WholeFiles } from './whole-files.js';
import type { NotRead } from '../survey-result.js';
import type { ComponentModule, ReadComponent } from './single-file/single-file.js';
import { svelteReader, type SvelteCompiler } from './single-file/svelte.js';
import { vueReader, type VueCompiler } from './single-file/vue.js';

/** The modules of an application as the compiler sees them. */
export interface ReadApplication {
  readonly program: ts.Program;
  readonly checker: ts.TypeChecker;
  /** The modules that were asked for, in the order of their paths. */
  readonly modules: readonly ts.SourceFile[];
  /** The path of a file as the user sees it: relative to `folder`. */
  readonly pathOf: (file: ts.SourceFile) => string;
  /** Where an offset stands, in the file that the user wrote; `undefined` for what was added for the compiler. */
  readonly placeOf: (file: ts.SourceFile, offset: number) => LinePlace | undefined;
  /** A line of the file that the user wrote, from 1. */
  readonly lineOf: (file: ts.SourceFile, line: number) => string;
  /** The text of a single-file component as the user wrote it; empty for other modules. */
  readonly componentText: (file: ts.SourceFile) => string;
  /** The names of modules that a file imports, and that are not found; packages that the application names in its `package.json` are no loss. */
  readonly missingImports: (file: ts.SourceFile) => ReadonlySet<string>;
  /** Files that could not be read, with the reason. */
  readonly notRead: readonly NotRead[];
}

/** A place in a file: line and column count from 1. */
export interface LinePlace {
  readonly line: number;
  readonly column: number;
}

const scripts = /\.[cm]?[jt]sx?$/;
const componentKinds: Readonly<Record<string, readonly [compiler: string, framework: string]>> = {
  '.vue': ['vue/compiler-sfc', 'Vue'],
  '.svelte': ['svelte/compiler', 'Svelte'],
};

/** A component as the compiler knows it: `Lanes.vue.ts`. */
interface Component {
  readonly path: string;
  readonly source: string;
  readonly module: ComponentModule;
}

/**
 * Reads the modules of an application. `paths` are absolute, `also` are files that are looked at beside them; nothing is
 * written and nothing of the application runs, but for the compilers of its frameworks.
 */
export async function readApplication(
  paths: readonly string[],
  also: readonly string[],
  folder: string,
): Promise<ReadApplication> {
  const notRead: NotRead[] = [];
  const shown = (path: string) => relative(folder, path).replaceAll('\\', '/');
  const components = new Map<string, Component>();
  const readers = new Map<string, ReadComponent | undefined>();
  for (const path of paths.filter((one) => extname(one) in componentKinds)) {
    const [compiler = '', framework = ''] = componentKinds[extname(path)] ?? [];
    if (!readers.has(compiler)) readers.set(compiler, await readerOf(compiler, path));
    const read = readers.get(compiler);
    const source = ts.sys.readFile(path) ?? '';
    if (read === undefined)
      notRead.push({
        path: shown(path),
        reason: `${framework} is not installed here`,
        framework,
      });
    else
      try {
        const module = read(source, path);
        components.set(`${path}.ts${module.hasJsx ? 'x' : ''}`, { path, source, module });
      } catch (error) {
        notRead.push({
          path: shown(path),
          reason: `${framework} cannot read it: ${firstLine(error)}`,
        });
      }
  }
  const roots = [...paths.filter((path) => scripts.test(path)), ...also, ...components.keys()];
  const { options, problem } = optionsFor(paths[0] ?? also[0] ?? folder);
  if (problem !== undefined) notRead.push({ path: shown(problem.path), reason: problem.reason });
  const missing = new MissingImports();
  const whole = new WholeFiles();
  const program = ts.createProgram(roots, options, hostFor(options, components, missing, whole));
  const checker = program.getTypeChecker();
  const wanted = new Set([...paths, ...components.keys()]);
  const modules = program
    .getSourceFiles()
    .filter(({ fileName }) => wanted.has(fileName) && whole.reasonOf(fileName) === undefined)
    .sort((a, b) => (a.fileName < b.fileName ? -1 : 1));
  const read = new Set(program.getSourceFiles().map(({ fileName }) => fileName));
  for (const path of paths.filter((one) => scripts.test(one) && !read.has(one)))
    notRead.push({ path: shown(path), reason: 'cannot be read' });
  for (const [path, reason] of whole.all)
    notRead.push({ path: shown(components.get(path)?.path ?? path), reason });
  return {
    program,
    checker,
    modules,
    pathOf: ({ fileName }) => shown(components.get(fileName)?.path ?? fileName),
    placeOf: (file, offset) => placeIn(file, components.get(file.fileName), offset),
    missingImports: ({ fileName }) => missing.of(fileName),
    componentText: ({ fileName }) => components.get(fileName)?.source ?? '',
    lineOf: (file, line) => {
      const text = components.get(file.fileName)?.source ?? file.text;
      return text.split('\n')[line - 1]?.trim() ?? '';
    },
    notRead,
  };
}

async function readerOf(compiler: string, path: string): Promise<ReadComponent | undefined> {
  try {
    const found = createRequire(path).resolve(compiler);
    const loaded = (await import(found)) as { readonly default?: object };
    const module = { ...loaded.default, ...loaded } as unknown;
    return compiler.startsWith('vue')
      ? vueReader(module as VueCompiler)
      : svelteReader(module as SvelteCompiler);
  } catch {
    return undefined;
  }
}

const firstLine = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? '';

function placeIn(
  file: ts.SourceFile,
  component: Component | undefined,
  offset: number,
): LinePlace | undefined {
  if (component === undefined) {
    const { line, character } = file.getLineAndCharacterOfPosition(offset);
    return { line: line + 1, column: character + 1 };
  }
  const origin = component.module.originOf(offset);
  if (origin === undefined) return undefined;
  const before = component.source.slice(0, origin).split('\n');
  return { line: before.length, column: (before.at(-1)?.length ?? 0) + 1 };
}

/** The options of the nearest `tsconfig.json`, as far as they say how modules are found and what their syntax is. */
function optionsFor(path: string): {
  readonly options: ts.CompilerOptions;
  readonly problem: NotRead | undefined;
} {
  const usual: ts.CompilerOptions = {
    target: ts.ScriptTarget.ESNext,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    jsx: ts.JsxEmit.Preserve,
    strict: true,
  };
  const config = ts.findConfigFile(dirname(path), (name) => ts.sys.fileExists(name));
  const read =
    config === undefined ? undefined : ts.readConfigFile(config, (name) => ts.sys.readFile(name));
  const given =
    config === undefined || read?.config === undefined
      ? usual
      : ts.parseJsonConfigFileContent(
          { ...(read.config as object), files: [], include: [] },
          ts.sys,
          dirname(config),
        ).options;
  const reason = read?.error && ts.flattenDiagnosticMessageText(read.error.messageText, ' ');
  return {
    options: {
      ...usual,
      ...given,
      allowJs: true,
      checkJs: false,
      noEmit: true,
      skipLibCheck: true,
      types: [],
      composite: false,
      incremental: false,
      declaration: false,
    },
    problem: config === undefined || reason === undefined ? undefined : { path: config, reason },
  };
}

function hostFor(
  options: ts.CompilerOptions,
  components: ReadonlyMap<string, Component>,
  missing: MissingImports,
  whole: WholeFiles,
): ts.CompilerHost {
  const disk = ts.createCompilerHost(options);
  const cache = ts.createModuleResolutionCache(disk.getCurrentDirectory(), (name) => name, options);
  const bundled = {
    ...options,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    module: ts.ModuleKind.ESNext,
  };
  const bundledCache = ts.createModuleResolutionCache(
    disk.getCurrentDirectory(),
    (name) => name,
    bundled,
  );
  const byPath = new Map([...components].map(([name, { path }]) => [path, name]));
  const host: ts.CompilerHost = {
    ...disk,
    // Comments say something of types in JavaScript only.
    jsDocParsingMode: ts.JSDocParsingMode.ParseForTypeInfo,
    fileExists: (name) => components.has(name) || disk.fileExists(name),
    readFile: (name) => components.get(name)?.module.text ?? disk.readFile(name),
    getSourceFile: whole.wrap((name, version, onError, anew) => {
      const component = components.get(name);
      return component === undefined
        ? disk.getSourceFile(name, version, onError, anew)
        : ts.createSourceFile(name, component.module.text, version);
    }),
    resolveModuleNameLiterals: (literals, from, redirected, given, file) =>
      literals.map((literal) => {
        const component = byPath.get(join(dirname(from), literal.text));
        if (component !== undefined)
          return {
            resolvedModule: {
              resolvedFileName: component,
              extension: extname(component),
              isExternalLibraryImport: false,
            },
          };
        const mode = ts.getModeForUsageLocation(file, literal, given);
        const found = ts.resolveModuleName(
          literal.text,
          from,
          given,
          host,
          cache,
          redirected,
          mode,
        );
        if (found.resolvedModule !== undefined) return found;
        // What no bundler would mind is found too: an ending that is left out, for one.
        const other = ts.resolveModuleName(literal.text, from, bundled, host, bundledCache);
        if (other.resolvedModule === undefined) missing.add(from, literal.text);
        return other;
      }),
  };
  return host;
}
