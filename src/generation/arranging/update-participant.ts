import ts from 'typescript';

/** A line that a participant file should have. */
export interface WantedLine {
  readonly table: string;
  readonly store: string;
  /** `undefined` for the state of a store that is one value. */
  readonly name: string | undefined;
  /** The line itself, with a comma at its end. */
  readonly text: string;
}

/** The outcome of a participant file. */
export interface UpdatedParticipant {
  readonly text: string;
  /** What was added, and what it has that the schema does not: `actions.deck.admit`. */
  readonly added: readonly string[];
  readonly gone: readonly string[];
}

/**
 * Adds what is missing to the tables of a participant file, and leaves all else as it is; `undefined` if the file does
 * not return its tables as one object literal.
 */
export function updateParticipant(
  path: string,
  text: string,
  wanted: readonly WantedLine[],
): UpdatedParticipant | undefined {
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const tables = tablesIn(source);
  if (tables === undefined) return undefined;
  const added: string[] = [];
  const insertions: { readonly at: number; readonly text: string }[] = [];
  const missing = wanted.filter(({ table, store, name }) => {
    const own = objectAt(tables, table);
    if (own === undefined) return true;
    return name === undefined ? !has(own, store) : !hasIn(own, store, name);
  });
  for (const [table, lines] of groupedBy(missing, (line) => line.table)) {
    const own = objectAt(tables, table);
    const blocks: string[] = [];
    for (const [store, ofStore] of groupedBy(lines, (line) => line.store)) {
      const inside = own === undefined ? undefined : objectAt(own, store);
      const body = ofStore.map((line) => line.text).join('\n');
      if (inside !== undefined) insertions.push(insertionInto(inside, body, text));
      else blocks.push(ofStore[0]?.name === undefined ? body : block(store, body));
      for (const { name } of ofStore)
        added.push([table, store, ...(name === undefined ? [] : [name])].join('.'));
    }
    if (blocks.length === 0) continue;
    const all = blocks.join('\n');
    insertions.push(
      own === undefined
        ? insertionInto(tables, block(table, all), text)
        : insertionInto(own, all, text),
    );
  }
  const known = new Set(
    wanted.flatMap(({ table, store, name }) => [
      `${table}.${store}`,
      `${table}.${store}.${name ?? ''}`,
    ]),
  );
  const gone = ['actions', 'tasks', 'state', 'derived'].flatMap((table) =>
    namesIn(objectAt(tables, table))
      .map((name) => `${table}.${name}`)
      .filter((name) => !known.has(name)),
  );
  let result = text;
  for (const { at, text: inserted } of insertions.toSorted((a, b) => b.at - a.at))
    result = result.slice(0, at) + inserted + result.slice(at);
  return { text: result, added, gone };
}

/** Lines as an object under a name. */
function block(name: string, lines: string): string {
  return `${name}: {\n${indent(lines, 2)}\n},`;
}

/** The object literal that the function `create` returns. */
function tablesIn(source: ts.SourceFile): ts.ObjectLiteralExpression | undefined {
  let found: ts.ObjectLiteralExpression | undefined;
  const visit = (node: ts.Node): void => {
    if (ts.isObjectLiteralExpression(node) && has(node, 'actions') && has(node, 'state'))
      found ??= node;
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

function nameOf(property: ts.ObjectLiteralElementLike): string | undefined {
  const { name } = property;
  if (name === undefined) return undefined;
  return ts.isIdentifier(name) || ts.isStringLiteral(name) ? name.text : undefined;
}

function has(node: ts.ObjectLiteralExpression, name: string): boolean {
  // What is spread may have it.
  return node.properties.some((one) => ts.isSpreadAssignment(one) || nameOf(one) === name);
}

function hasIn(node: ts.ObjectLiteralExpression, store: string, name: string): boolean {
  const inside = objectAt(node, store);
  // A table that is no literal may have anything.
  return inside === undefined ? has(node, store) : has(inside, name);
}

function objectAt(
  node: ts.ObjectLiteralExpression,
  name: string,
): ts.ObjectLiteralExpression | undefined {
  for (const property of node.properties)
    if (ts.isPropertyAssignment(property) && nameOf(property) === name)
      return ts.isObjectLiteralExpression(property.initializer) ? property.initializer : undefined;
  return undefined;
}

/** The names in a table: `deck.admit`, or `berth` for one that is no table of functions. */
function namesIn(table: ts.ObjectLiteralExpression | undefined): readonly string[] {
  return (table?.properties ?? []).flatMap((property) => {
    const store = nameOf(property);
    if (store === undefined || table === undefined) return [];
    const inside = objectAt(table, store);
    if (inside === undefined) return [store];
    return inside.properties.flatMap((one) => {
      const name = nameOf(one);
      return name === undefined ? [] : [`${store}.${name}`];
    });
  });
}

/** Text at the end of an object literal, indented as what stands there. */
function insertionInto(node: ts.ObjectLiteralExpression, lines: string, text: string) {
  const last = node.properties.at(-1);
  const lineStart = text.lastIndexOf('\n', node.getStart()) + 1;
  const [outer = ''] = /^\s*/.exec(text.slice(lineStart)) ?? [];
  const needsComma = last !== undefined && !node.properties.hasTrailingComma;
  const at = last === undefined ? node.getStart() + 1 : node.properties.end;
  const end = last === undefined ? `\n${outer}` : '';
  const body = indent(lines, outer.length + 2);
  return { at, text: `${needsComma ? ',' : ''}\n${body}${end}` };
}

function indent(text: string, by: number): string {
  return text.replace(/^(?=.)/gm, ' '.repeat(by));
}

function groupedBy<T>(items: readonly T[], keyOf: (item: T) => string): ReadonlyMap<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) groups.set(keyOf(item), [...(groups.get(keyOf(item)) ?? []), item]);
  return groups;
}
