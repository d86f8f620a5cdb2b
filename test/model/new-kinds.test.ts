import { expect, test } from '@jest/globals';
import { relative } from 'node:path';
import ts from 'typescript';

/** What is added to the types of the sources, and the files in which the compiler then names a place. */
const added = {
  'a kind of step': {
    file: 'src/model/steps.ts',
    from: "  | (Node & { readonly kind: 'let';",
    to: "  | (Node & { readonly kind: 'heave' })\n  | (Node & { readonly kind: 'let';",
    named: [
      'src/language/check/lower-steps.ts',
      'src/generation/shared/reactions.ts',
      'src/generation/shared/value-steps.ts',
      'src/generation/styles/proxy/edit-steps.ts',
      'src/meaning/steps.ts',
      'src/model/step-kinds.ts',
      'src/model/stored-bounds.ts',
    ],
  },
  'a kind of expression': {
    file: 'src/model/expressions.ts',
    from: "  | (Node & { readonly kind: 'undefined' })",
    to: "  | (Node & { readonly kind: 'undefined' })\n  | (Node & { readonly kind: 'heave' })",
    named: [
      'src/language/check/infer/scope.ts',
      'src/generation/shared/print-expression.ts',
      'src/comparing/faults/model-faults.ts',
      'src/comparing/inputs/trails.ts',
      'src/meaning/compile-expression.ts',
      'src/model/expressions.ts',
    ],
  },
  'a style': {
    file: 'src/base/styles.ts',
    from: "'observable'] as const",
    to: "'observable', 'heave'] as const",
    named: [
      'src/base/styles.ts',
      'src/generation/style.ts',
      'src/participants/generated-participant.ts',
      'src/survey/names/instead.ts',
      'src/survey/new-stores/copied-out.ts',
    ],
  },
  'a framework': {
    file: 'src/base/styles.ts',
    from: "'angular'] as const",
    to: "'angular', 'heave'] as const",
    named: ['src/generation/readers/readers.ts'],
  },
};

const config = ts.getParsedCommandLineOfConfigFile(
  'tsconfig.json',
  {},
  {
    ...ts.sys,
    onUnRecoverableConfigFileDiagnostic: () => undefined,
  },
) as ts.ParsedCommandLine;

/** The files of the sources that the compiler complains of, once all of that is added. */
function filesNamed(): string[] {
  const host = ts.createCompilerHost(config.options);
  const changed: ts.CompilerHost = {
    ...host,
    getSourceFile(name, options) {
      let text = ts.sys.readFile(name) ?? '';
      for (const { file, from, to } of Object.values(added)) {
        if (relative('.', name) !== file) continue;
        expect(text).toContain(from);
        text = text.replace(from, to);
      }
      return ts.createSourceFile(name, text, options);
    },
  };
  const sources = config.fileNames.filter((name) => relative('.', name).startsWith('src/'));
  const program = ts.createProgram(sources, config.options, changed);
  return program
    .getSourceFiles()
    .filter((one) => program.getSemanticDiagnostics(one).length > 0)
    .map((one) => relative('.', one.fileName));
}

// One program for all: compiling the sources takes long.
test('the compiler names each place that a new kind of step or expression, a style or a framework needs', () => {
  const named = new Set(Object.values(added).flatMap((one) => one.named));
  expect(new Set(filesNamed())).toEqual(named);
}, 120_000);
