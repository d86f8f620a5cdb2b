import { posix } from 'node:path';
import ts from 'typescript';
import type { ModuleText } from '../../base/module-text.js';

const folder = '/generated/';

/** Modules as the compiler sees them. */
export interface Modules {
  readonly program: ts.Program;
  /** The source of a module, by its path as it was given. */
  source(path: string): ts.SourceFile;
  /** The path of a module that the one at `path` imports. */
  imported(path: string, specifier: ts.Expression): string;
}

/** Compiles modules that import only each other, and writes nothing; with `noLib` nothing global is known. */
export function compiled(files: readonly ModuleText[], options: ts.CompilerOptions): Modules {
  const texts = new Map(files.map(({ path, text }) => [folder + path, text]));
  const given: ts.CompilerOptions = {
    target: ts.ScriptTarget.ES2023,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    strict: true,
    exactOptionalPropertyTypes: true,
    types: [],
    lib: ['lib.es2023.d.ts'],
    ...options,
  };
  const disk = ts.createCompilerHost(given);
  const host: ts.CompilerHost = {
    ...disk,
    getCurrentDirectory: () => folder,
    directoryExists: () => true,
    fileExists: (name) => texts.has(name) || (!name.startsWith(folder) && disk.fileExists(name)),
    readFile: (name) => texts.get(name) ?? disk.readFile(name),
    getSourceFile: (name, version, onError, anew) => {
      const text = texts.get(name);
      return text === undefined
        ? disk.getSourceFile(name, version, onError, anew)
        : ts.createSourceFile(name, text, version, true);
    },
  };
  const program = ts.createProgram([...texts.keys()], given, host);
  const source = (path: string) => {
    const found = program.getSourceFile(folder + path);
    if (found === undefined) throw new Error(`there is no module '${path}'`);
    return found;
  };
  const imported = (path: string, specifier: ts.Expression) =>
    posix.join(posix.dirname(path), (specifier as ts.StringLiteral).text).replace(/\.js$/, '.ts');
  return { program, source, imported };
}

/** The path of a file that the compiler names. */
export function pathOf(fileName: string): string {
  return fileName.slice(folder.length);
}
