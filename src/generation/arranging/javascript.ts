import { transform } from 'sucrase';
import ts from 'typescript';
import type { ModuleText } from '../../base/module-text.js';
import { compiled, pathOf } from './program.js';

/** TypeScript modules as JavaScript, each with a file of declarations beside it; comments and blank lines stay. */
export function asJavaScript(files: readonly ModuleText[]): ModuleText[] {
  const scripts = files.flatMap(({ path, text }) => {
    const script = withoutTypes(path, text);
    return script === undefined ? [] : [{ path: path.replace(/\.ts$/, '.js'), text: script }];
  });
  return [...scripts, ...declarationsOf(files)].sort((a, b) => (a.path < b.path ? -1 : 1));
}

function declarationsOf(files: readonly ModuleText[]): ModuleText[] {
  const { program } = compiled(files, {
    declaration: true,
    emitDeclarationOnly: true,
    noCheck: true,
  });
  const declared: ModuleText[] = [];
  const { emitSkipped } = program.emit(undefined, (name, text) => {
    declared.push({ path: pathOf(name), text: spaced(name, text) });
  });
  if (emitSkipped) throw new Error('the compiler wrote no declarations');
  return declared;
}

/** With an empty line between declarations: the compiler leaves none. */
function spaced(name: string, text: string): string {
  const { statements } = ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true);
  const isLine = (statement: ts.Statement | undefined) =>
    statement !== undefined &&
    (ts.isImportDeclaration(statement) || ts.isExportDeclaration(statement));
  return statements
    .map((statement, i) => {
      const gap = isLine(statement) && isLine(statements[i - 1]) ? '\n' : '\n\n';
      return `${i === 0 ? '' : gap}${statement.getFullText().trim()}`;
    })
    .join('');
}

/** The script in a module; `undefined` if there is nothing in it but types. */
function withoutTypes(path: string, text: string): string | undefined {
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const [types, values] = split(source.statements, isTypeOnly);
  if (values.length === 0) return undefined;
  let script = text;
  // From the end: offsets before a cut stay what they are.
  for (const statement of [...types].reverse())
    script =
      script.slice(0, startWithComment(statement, text)) +
      script.slice(statement.end).replace(/^[ \t]*\n/, '');
  const { code } = transform(script, {
    transforms: ['typescript'],
    disableESTransforms: true,
    keepUnusedImports: true,
    filePath: path,
  });
  // What stood over several lines between parameters leaves empty ones behind.
  return code
    .replace(/\((?:[ \t]*\n){2,}/g, '(\n')
    .replace(/,(?:[ \t]*\n){2,}(?=[ \t]*\))/g, ',\n');
}

function split<T>(items: readonly T[], goesFirst: (item: T) => boolean): [T[], T[]] {
  return [items.filter(goesFirst), items.filter((item) => !goesFirst(item))];
}

function isTypeOnly(statement: ts.Statement): boolean {
  if (ts.isInterfaceDeclaration(statement) || ts.isTypeAliasDeclaration(statement)) return true;
  if (ts.isImportDeclaration(statement)) {
    const clause = statement.importClause;
    const names = clause?.namedBindings;
    const every =
      names !== undefined &&
      ts.isNamedImports(names) &&
      names.elements.every((one) => one.isTypeOnly);
    return clause?.phaseModifier === ts.SyntaxKind.TypeKeyword || every;
  }
  return ts.isExportDeclaration(statement) && statement.isTypeOnly;
}

/** Where a statement begins, the comment right above it included; one that stands by itself is not its own. */
function startWithComment(statement: ts.Statement, text: string): number {
  const start = statement.getStart();
  const above = ts.getLeadingCommentRanges(text, statement.getFullStart())?.at(-1);
  return above !== undefined && !text.slice(above.end, start).includes('\n\n') ? above.pos : start;
}
