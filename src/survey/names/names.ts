import ts from 'typescript';
import { ownerOf, textOf, type Members } from '../old-store/members.js';

/** What something of the old store is called in the schema. */
export interface NewName {
  /** `deck.admit`; of data `deck.vehicles[].plate`. */
  readonly is: string;
  /** The properties of the payload, in the order of the old parameters. */
  readonly arguments: readonly string[];
}

/** What declarations of the old store are called in the schema. */
export class Names {
  readonly #byDeclaration: ReadonlyMap<ts.Declaration, NewName>;

  constructor(
    byDeclaration: ReadonlyMap<ts.Declaration, NewName>,
    /** Names that the old store does not have. */
    readonly unknown: readonly string[],
  ) {
    this.#byDeclaration = byDeclaration;
  }

  /** The name of a declaration; of `officer.name` the participant file may say only what `officer` is. */
  of(declaration: ts.Declaration): NewName | undefined {
    const own = this.#byDeclaration.get(declaration);
    if (own !== undefined) return own;
    const owner = ownerOf(declaration);
    const outer = owner && this.#byDeclaration.get(owner);
    return outer && { is: `${outer.is}.${textOf(declaration)}`, arguments: [] };
  }

  /** All names of the schema that the participant file has. */
  get new(): readonly string[] {
    return [...this.#byDeclaration.values()].map(({ is }) => is);
  }
}

/** Where there is no participant file. */
export const noNames = new Names(new Map(), []);

/** Something in the participant file that cannot be used. */
export class NamesError extends Error {
  constructor(
    message: string,
    readonly file: ts.SourceFile,
    readonly offset: number,
  ) {
    super(message);
  }
}

/** The names in a participant file: read, not run. Throws {@link NamesError} for those that are not written out. */
export function namesIn(file: ts.SourceFile): ReadonlyMap<string, NewName> {
  const table = tableIn(file);
  const names = new Map<string, NewName>();
  for (const property of table?.properties ?? []) {
    const name = property.name;
    if (
      name === undefined ||
      !(ts.isStringLiteralLike(name) || ts.isIdentifier(name)) ||
      !ts.isPropertyAssignment(property)
    )
      throw new NamesError(
        "'names' has something else than written out names",
        file,
        property.getStart(),
      );
    names.set(name.text, newNameIn(property.initializer, file));
  }
  return names;
}

function newNameIn(value: ts.Expression, file: ts.SourceFile): NewName {
  if (ts.isStringLiteralLike(value)) return { is: value.text, arguments: [] };
  if (ts.isObjectLiteralExpression(value)) {
    const is = textsIn(value, 'is');
    if (is?.length === 1 && is[0] !== undefined)
      return { is: is[0], arguments: textsIn(value, 'arguments') ?? [] };
  }
  throw new NamesError(
    "a name is a text, or { is: '...', arguments: ['...'] }",
    file,
    value.getStart(),
  );
}

/** The texts that a property has: one, or a list. */
function textsIn(object: ts.ObjectLiteralExpression, name: string): readonly string[] | undefined {
  const property = object.properties.find((one) => one.name?.getText() === name);
  if (property === undefined || !ts.isPropertyAssignment(property)) return undefined;
  const { initializer } = property;
  const all = ts.isArrayLiteralExpression(initializer) ? initializer.elements : [initializer];
  const texts = [...all].filter((one) => ts.isStringLiteralLike(one));
  return texts.length === all.length ? texts.map(({ text }) => text) : undefined;
}

/** The table `names` of what a participant file exports by default. */
function tableIn(file: ts.SourceFile): ts.ObjectLiteralExpression | undefined {
  for (const statement of file.statements) {
    if (!ts.isExportAssignment(statement)) continue;
    let { expression } = statement;
    while (
      ts.isSatisfiesExpression(expression) ||
      ts.isAsExpression(expression) ||
      ts.isParenthesizedExpression(expression)
    )
      ({ expression } = expression);
    if (ts.isCallExpression(expression) && expression.arguments[0] !== undefined)
      [expression] = expression.arguments;
    if (!ts.isObjectLiteralExpression(expression)) continue;
    const names = expression.properties.find((one) => one.name?.getText() === 'names');
    if (names === undefined) continue;
    if (ts.isPropertyAssignment(names) && ts.isObjectLiteralExpression(names.initializer))
      return names.initializer;
    throw new NamesError("'names' is not written out as an object", file, names.getStart());
  }
  return undefined;
}

/** Connects names with what they mean in the old store: `Terminal.cars[].number` is a property of its cars. */
export function resolveNames(
  names: ReadonlyMap<string, NewName>,
  members: Members,
  checker: ts.TypeChecker,
): Names {
  const byDeclaration = new Map<ts.Declaration, NewName>();
  const unknown: string[] = [];
  for (const [name, own] of names) {
    const declaration = declarationOf(name, members, checker);
    if (declaration === undefined) unknown.push(name);
    else byDeclaration.set(declaration, own);
  }
  return new Names(byDeclaration, unknown);
}

function declarationOf(
  name: string,
  members: Members,
  checker: ts.TypeChecker,
): ts.Declaration | undefined {
  const [first = '', ...path] = name.match(/[\w$#]+|\[\]|\(\)/g) ?? [];
  const start = members.exports.find((one) => one.name === first);
  let symbol =
    start !== undefined && start.flags & ts.SymbolFlags.Alias
      ? checker.getAliasedSymbol(start)
      : start;
  if (symbol === undefined) return undefined;
  const isType =
    symbol.flags & (ts.SymbolFlags.Class | ts.SymbolFlags.Interface | ts.SymbolFlags.TypeAlias);
  let type = isType ? checker.getDeclaredTypeOfSymbol(symbol) : checker.getTypeOfSymbol(symbol);
  for (const part of path) {
    type = checker.getNonNullableType(type);
    if (part === '[]') {
      const item =
        checker.getIndexTypeOfType(type, ts.IndexKind.Number) ??
        checker.getIndexTypeOfType(type, ts.IndexKind.String);
      if (item === undefined) return undefined;
      type = item;
    } else if (part === '()') {
      const result = type.getCallSignatures()[0]?.getReturnType();
      if (result === undefined) return undefined;
      type = result;
    } else {
      const [returned] = type.getCallSignatures();
      symbol = type.getProperty(part) ?? returned?.getReturnType().getProperty(part);
      if (symbol === undefined) return undefined;
      type = checker.getTypeOfSymbol(symbol);
    }
  }
  return members.declarationIn(symbol);
}
