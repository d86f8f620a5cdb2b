import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect, test } from '@jest/globals';
import ts from 'typescript';
import type { ModuleText } from '../../src/base/module-text.js';
import { generatedInMemory } from '../../src/jobs/generate.js';
import { strictComplaints } from '../compiler.js';
import { allStyles, modelOf, root } from '../helpers.js';
import { someOf } from '../sweep.js';

/** The run time as the build has formatted it, as the program itself uses it. */
export const builtRuntime = (path: string) =>
  readFileSync(new URL(`dist/runtime/${path}`, root), 'utf8');

/** The nodes that a careful engineer would not write: `any`, `!`, comments that switch checks off. */
function cheats(path: string, text: string): string[] {
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    if (node.kind === ts.SyntaxKind.AnyKeyword || ts.isNonNullExpression(node))
      found.push(`${path}: ${node.getText()}`);
    ts.forEachChild(node, visit);
  };
  visit(source);
  if (/@ts-|eslint-|prettier-ignore/.test(text))
    found.push(`${path}: a comment that switches a check off`);
  return found;
}

/** Generated folders on disk, for the compiler. */
class WrittenFolders {
  readonly files: string[] = [];
  readonly #folder = mkdtempSync(join(tmpdir(), 'leeshore-emit-'));
  /** Texts that have been seen: most files of the run time are the same everywhere. */
  readonly #seen = new Set<string>();

  /** Writes the files of a folder, and looks at those that are new. */
  write(name: string, files: readonly ModuleText[]): void {
    const out = join(this.#folder, name);
    for (const file of files) {
      const path = join(out, file.path);
      mkdirSync(dirname(path), { recursive: true });
      writeFileSync(path, file.text);
      this.files.push(path);
      if (this.#seen.has(file.text)) continue;
      this.#seen.add(file.text);
      expect(cheats(file.path, file.text)).toEqual([]);
      const imported = [...file.text.matchAll(/from "([^"]+)"/g)].map(([, from = '']) => from);
      expect(imported.filter((from) => !/^\.\.?\//.test(from))).toEqual([]);
    }
  }

  complaints(version: string): string[] {
    return strictComplaints(this.files, version);
  }

  remove(): void {
    rmSync(this.#folder, { recursive: true, force: true });
  }
}

/**
 * Tests that the stores of some schemas are tidy TypeScript, and pass the compiler with what a version of ECMAScript has.
 * `most` of them are tried at a time, all in a soak. One program for all: reading the compiler's own libraries takes longer than all else.
 */
export function testGeneratedCode(
  schemas: readonly (readonly [name: string, text: string])[],
  version: string,
  most: number,
): void {
  const written = new WrittenFolders();
  // Formatting takes most of the time, and changes nothing that the compiler sees: it has a test of its own.
  test.each(someOf(schemas, most))(
    'are tidy TypeScript without imports from elsewhere: %s',
    async (name, text) => {
      const folders = await generatedInMemory(await modelOf(text), allStyles, builtRuntime);
      for (const { style, files } of folders) written.write(join(name, style), files);
    },
  );

  test(`pass the strictest compiler with ${version}, without types of a browser or a server`, () => {
    expect(written.files.length).toBeGreaterThan(100);
    expect(written.complaints(version)).toEqual([]);
    written.remove();
  });
}
