import ts from 'typescript';
import type { ModuleText } from '../../base/module-text.js';
import { compiled, type Modules } from './program.js';

/** What the entry of the output is called, and the file if there is one only. */
const entry = 'index.ts';

/**
 * All modules of a style as one that exports what the entry did. Names that several modules have, or that would hide
 * something global, are changed; the rest stays as it is, comments included.
 */
export function inOneFile(files: readonly ModuleText[]): ModuleText[] {
  const modules = compiled(files, { noLib: true });
  const joining = new Joining(
    modules,
    files.map(({ path }) => path),
  );
  return [{ path: entry, text: joining.text() }];
}

/** A change of a piece of a text. */
interface Edit {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

/** A name for those who use the output. */
interface Public {
  readonly name: string;
  readonly symbol: ts.Symbol;
  readonly isType: boolean;
}

class Joining {
  readonly #checker: ts.TypeChecker;
  /** What each module declares at its top, in the order of the text. */
  readonly #declared: ReadonlyMap<ts.Symbol, string>;
  readonly #public: readonly Public[];
  readonly #names: ReadonlyMap<ts.Symbol, string>;

  constructor(
    readonly modules: Modules,
    readonly paths: readonly string[],
  ) {
    this.#checker = modules.program.getTypeChecker();
    this.#declared = new Map(
      this.#inOrder().flatMap((path) => this.#symbolsOf(path).map((symbol) => [symbol, path])),
    );
    this.#public = this.#publicNames();
    this.#names = this.#chooseNames();
  }

  text(): string {
    const parts = this.#inOrder().map((path) => this.#part(path));
    return [...parts, ...this.#closingExports()].filter((part) => part !== '').join('\n\n');
  }

  /** The modules so that each comes behind those whose values it uses; types first, the entry last. */
  #inOrder(): readonly string[] {
    const order = new Set<string>();
    const visit = (path: string): void => {
      if (order.has(path)) return;
      for (const statement of this.modules.source(path).statements)
        if (importsValues(statement)) visit(this.modules.imported(path, statement.moduleSpecifier));
      order.add(path);
    };
    const rank = (path: string) => (path === 'types.ts' ? 0 : path === entry ? 2 : 1);
    [...this.paths].sort((a, b) => rank(a) - rank(b) || (a < b ? -1 : 1)).forEach(visit);
    return [...order];
  }

  #symbolsOf(path: string): ts.Symbol[] {
    const found = new Set<ts.Symbol>();
    for (const statement of this.modules.source(path).statements)
      for (const name of declaredNames(statement)) {
        const symbol = this.#checker.getSymbolAtLocation(name);
        if (symbol !== undefined) found.add(symbol);
      }
    return [...found];
  }

  /** The declaration that an identifier stands for, through imports and exports. */
  #meant(name: ts.Identifier): ts.Symbol | undefined {
    const found = ts.isShorthandPropertyAssignment(name.parent)
      ? this.#checker.getShorthandAssignmentValueSymbol(name.parent)
      : this.#checker.getSymbolAtLocation(name);
    return found === undefined ? undefined : this.#unaliased(found);
  }

  #unaliased(symbol: ts.Symbol): ts.Symbol {
    return symbol.flags & ts.SymbolFlags.Alias ? this.#checker.getAliasedSymbol(symbol) : symbol;
  }

  #publicNames(): Public[] {
    const module = this.#checker.getSymbolAtLocation(this.modules.source(entry));
    if (module === undefined) return [];
    return this.#checker.getExportsOfModule(module).map((exported) => {
      const symbol = this.#unaliased(exported);
      const isType = (symbol.flags & ts.SymbolFlags.Value) === 0 || isExportedAsType(exported);
      return { name: exported.name, symbol, isType };
    });
  }

  #chooseNames(): Map<ts.Symbol, string> {
    const taken = new Set<string>();
    const globals = new Set<string>();
    for (const path of this.paths)
      this.#eachIdentifier(path, (name) => {
        taken.add(name.text);
        if (this.#meant(name) === undefined && !isPropertyName(name)) globals.add(name.text);
      });
    const names = new Map<ts.Symbol, string>();
    const given = new Set<string>();
    const own = new Set(this.#public.map(({ symbol }) => symbol));
    const all = [...this.#declared];
    // Names that the application sees are the last to be changed.
    for (const [symbol, path] of [
      ...all.filter(([s]) => own.has(s)),
      ...all.filter(([s]) => !own.has(s)),
    ]) {
      const isFree = !given.has(symbol.name) && !globals.has(symbol.name);
      const name = isFree ? symbol.name : freshName(symbol.name, path, taken);
      given.add(name);
      taken.add(name);
      names.set(symbol, name);
    }
    return names;
  }

  #eachIdentifier(path: string, tell: (name: ts.Identifier) => void): void {
    const visit = (node: ts.Node): void => {
      if (ts.isIdentifier(node)) tell(node);
      ts.forEachChild(node, visit);
    };
    visit(this.modules.source(path));
  }

  /** What a module has but for its imports and exports, with the names that are its own now. */
  #part(path: string): string {
    const source = this.modules.source(path);
    const edits: Edit[] = [];
    const gone = source.statements.filter(isImportOrExport);
    for (const statement of gone)
      edits.push({ start: statement.getStart(), end: statement.end, text: '' });
    for (const statement of source.statements) {
      const modifier = exportOf(statement);
      if (modifier !== undefined && !declaredNames(statement).some((name) => this.#isPublic(name)))
        edits.push({ start: modifier.getStart(), end: modifier.end, text: '' });
    }
    this.#eachIdentifier(path, (name) => {
      if (gone.some(({ pos, end }) => pos <= name.pos && name.end <= end)) return;
      const symbol = this.#meant(name);
      const text = symbol === undefined ? undefined : this.#names.get(symbol);
      if (text === undefined || text === name.text) return;
      const short = ts.isShorthandPropertyAssignment(name.parent) ? `${name.text}: ` : '';
      edits.push({ start: name.getStart(), end: name.end, text: short + text });
    });
    return edited(source.text, edits).trim();
  }

  /** True if a declaration is exported where it stands. */
  #isPublic(name: ts.Identifier): boolean {
    const symbol = this.#checker.getSymbolAtLocation(name);
    return this.#public.some((one) => one.symbol === symbol && this.#isInPlace(one));
  }

  #isInPlace({ name, symbol, isType }: Public): boolean {
    const hasValue = (symbol.flags & ts.SymbolFlags.Value) !== 0;
    return this.#names.get(symbol) === name && isType !== hasValue;
  }

  #closingExports(): string[] {
    const rest = this.#public.filter((one) => !this.#isInPlace(one));
    return [false, true].flatMap((isType) => {
      const names = rest
        .filter((one) => one.isType === isType)
        .map(({ name, symbol }) => {
          const own = this.#names.get(symbol) ?? name;
          return own === name ? own : `${own} as ${name}`;
        });
      return names.length === 0 ? [] : [`export ${isType ? 'type ' : ''}{ ${names.join(', ')} };`];
    });
  }
}

function importsValues(
  statement: ts.Statement,
): statement is ts.ImportDeclaration | (ts.ExportDeclaration & { moduleSpecifier: ts.Expression }) {
  if (ts.isImportDeclaration(statement))
    return statement.importClause?.phaseModifier !== ts.SyntaxKind.TypeKeyword;
  return (
    ts.isExportDeclaration(statement) &&
    !statement.isTypeOnly &&
    statement.moduleSpecifier !== undefined
  );
}

function isImportOrExport(statement: ts.Statement): boolean {
  return ts.isImportDeclaration(statement) || ts.isExportDeclaration(statement);
}

function exportOf(statement: ts.Statement): ts.Modifier | undefined {
  if (!ts.canHaveModifiers(statement)) return undefined;
  return ts.getModifiers(statement)?.find(({ kind }) => kind === ts.SyntaxKind.ExportKeyword);
}

/** The names that a statement declares. */
function declaredNames(statement: ts.Statement): ts.Identifier[] {
  if (ts.isVariableStatement(statement))
    return statement.declarationList.declarations.map(({ name }) => name).filter(ts.isIdentifier);
  const isNamed =
    ts.isFunctionDeclaration(statement) ||
    ts.isClassDeclaration(statement) ||
    ts.isInterfaceDeclaration(statement) ||
    ts.isTypeAliasDeclaration(statement);
  return isNamed && statement.name !== undefined ? [statement.name] : [];
}

/** `export type { X }` and `export type * from` give the type of a class, not the class. */
function isExportedAsType(exported: ts.Symbol): boolean {
  return (exported.declarations ?? []).some(
    (one) => ts.isExportSpecifier(one) && one.parent.parent.isTypeOnly,
  );
}

/** True if an identifier names a property, which nothing at the top of a file can hide. */
function isPropertyName(name: ts.Identifier): boolean {
  const { parent } = name;
  if (ts.isPropertyAccessExpression(parent)) return parent.name === name;
  if (ts.isQualifiedName(parent)) return parent.right === name;
  return 'name' in parent && parent.name === name;
}

function freshName(name: string, path: string, taken: ReadonlySet<string>): string {
  const module = path
    .replace(/\.ts$/, '')
    .replace(/\W+(\w)/g, (_, next: string) => next.toUpperCase());
  const wanted = `${name}In${module.charAt(0).toUpperCase()}${module.slice(1)}`;
  let fresh = wanted;
  for (let i = 2; taken.has(fresh); i++) fresh = `${wanted}${i}`;
  return fresh;
}

function edited(text: string, edits: readonly Edit[]): string {
  let result = text;
  for (const { start, end, text: put } of [...edits].sort((a, b) => b.start - a.start))
    result = result.slice(0, start) + put + result.slice(end);
  return result;
}
