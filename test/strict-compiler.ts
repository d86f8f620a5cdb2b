import ts from 'typescript';

/** The strictest that applications ask of the compiler, and neither a browser's types nor a server's. */
const strictest: ts.CompilerOptions = {
  strict: true,
  exactOptionalPropertyTypes: true,
  noPropertyAccessFromIndexSignature: true,
  noUncheckedIndexedAccess: true,
  noImplicitOverride: true,
  noImplicitReturns: true,
  noFallthroughCasesInSwitch: true,
  noUnusedLocals: true,
  noUnusedParameters: true,
  allowUnreachableCode: false,
  erasableSyntaxOnly: true,
  isolatedModules: true,
  verbatimModuleSyntax: true,
  target: ts.ScriptTarget.ES2022,
  module: ts.ModuleKind.ESNext,
  moduleResolution: ts.ModuleResolutionKind.Bundler,
  noEmit: true,
  types: [],
};

/** The compiler's complaints about some files, which may use what a version of ECMAScript has. */
export function complaints(files: readonly string[], version: string): string[] {
  const options = { ...strictest, lib: [`lib.${version}.d.ts`] };
  const program = ts.createProgram([...files], options);
  return ts.getPreEmitDiagnostics(program).map(({ messageText, file, start }) => {
    const line = file === undefined ? 0 : file.getLineAndCharacterOfPosition(start ?? 0).line + 1;
    return `${file?.fileName ?? ''}:${line} ${ts.flattenDiagnosticMessageText(messageText, ' ')}`;
  });
}
