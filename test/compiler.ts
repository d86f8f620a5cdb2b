import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { basename, dirname, join, relative } from 'node:path';
import ts from 'typescript';

/** What most applications ask of the compiler. */
const usual: ts.CompilerOptions = {
  strict: true,
  exactOptionalPropertyTypes: true,
  noUncheckedIndexedAccess: true,
  verbatimModuleSyntax: true,
  target: ts.ScriptTarget.ES2023,
  module: ts.ModuleKind.ESNext,
  moduleResolution: ts.ModuleResolutionKind.Bundler,
  noEmit: true,
  types: [],
  // The compiler's own declarations need no check.
  skipDefaultLibCheck: true,
};

/** The strictest that applications ask of the compiler, and neither a browser's types nor a server's. */
const strictest: ts.CompilerOptions = {
  ...usual,
  noPropertyAccessFromIndexSignature: true,
  noImplicitOverride: true,
  noImplicitReturns: true,
  noFallthroughCasesInSwitch: true,
  noUnusedLocals: true,
  noUnusedParameters: true,
  allowUnreachableCode: false,
  erasableSyntaxOnly: true,
  isolatedModules: true,
  target: ts.ScriptTarget.ES2022,
};

/** The path that stands for each of some files: that of the first one with the same text that imports the same. */
function distinctFiles(files: readonly string[]): ReadonlyMap<string, string> {
  const texts = new Map(files.map((path) => [path, readFileSync(path, 'utf8')]));
  const importsOf = (path: string) =>
    [...(texts.get(path) ?? '').matchAll(/ from ["'](\.[^"']+)\.js["']/g)].map(([, name = '']) =>
      join(dirname(path), `${name}.ts`),
    );
  const contentOf = (path: string) => {
    const reached = new Set([path]);
    for (const one of reached) for (const imported of importsOf(one)) reached.add(imported);
    const parts = [...reached].map((one) => [relative(dirname(path), one), texts.get(one)]);
    const content = JSON.stringify([basename(path), parts.sort()]);
    return createHash('sha256').update(content).digest('hex');
  };
  const first = new Map<string, string>();
  return new Map(
    files.map((path) => {
      const content = contentOf(path);
      const known = first.get(content) ?? path;
      first.set(content, known);
      return [path, known];
    }),
  );
}

/** The compiler's complaints about some files, as `path:line message`. Files that are the same are compiled once. */
export function complaints(files: readonly string[], options: ts.CompilerOptions = {}): string[] {
  const all = { ...usual, ...options };
  const distinct = distinctFiles(files);
  const host = ts.createCompilerHost(all);
  const cache = ts.createModuleResolutionCache(host.getCurrentDirectory(), (name) => name, all);
  host.resolveModuleNameLiterals = (literals, from, _redirected, own) =>
    literals.map(({ text }) => {
      const found = ts.resolveModuleName(text, from, own, host, cache);
      const module = found.resolvedModule;
      const resolvedFileName = distinct.get(module?.resolvedFileName ?? '');
      return module === undefined || resolvedFileName === undefined
        ? found
        : { ...found, resolvedModule: { ...module, resolvedFileName } };
    });
  return complaintsOf(ts.createProgram([...new Set(distinct.values())], all, host));
}

/** The complaints about a project of the compiler, by the folder of its tsconfig.json. */
export function projectComplaints(folder: string): string[] {
  const { config } = ts.readConfigFile(join(folder, 'tsconfig.json'), ts.sys.readFile) as {
    config: unknown;
  };
  const { fileNames, options } = ts.parseJsonConfigFileContent(config, ts.sys, folder);
  return complaintsOf(ts.createProgram(fileNames, { ...options, noEmit: true }));
}

function complaintsOf(program: ts.Program): string[] {
  return ts.getPreEmitDiagnostics(program).map(({ messageText, file, start }) => {
    const line = file === undefined ? 0 : file.getLineAndCharacterOfPosition(start ?? 0).line + 1;
    return `${file?.fileName ?? ''}:${line} ${ts.flattenDiagnosticMessageText(messageText, ' ')}`;
  });
}

/** The same with the strictest options; the files may use what a version of ECMAScript has. */
export function strictComplaints(files: readonly string[], version: string): string[] {
  return complaints(files, { ...strictest, lib: [`lib.${version}.d.ts`] });
}
