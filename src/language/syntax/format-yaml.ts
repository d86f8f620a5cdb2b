import { isMap, isPair, isScalar, isSeq, parseDocument, Scalar, visit, type Node } from 'yaml';

/** How wide a line of a tidy file may be. */
const width = 110;

/** The keys whose values are expressions wherever they stand in steps, requirements and derived values. */
const expressionKeys = new Set([
  'value',
  'values',
  'that',
  'where',
  'when',
  'key',
  'at',
  'payload',
  'per',
]);
/** The keys whose values are mappings from names or paths to expressions. */
const mappingKeys = new Set(['set', 'let']);

/** A schema file in one tidy form: comments kept, expressions in double quotes, long ones folded. The file must be fine YAML. */
export function formatYaml(text: string): string {
  const once = formatOnce(text);
  const again = formatOnce(once);
  return again === once ? once : formatOnce(again);
}

function formatOnce(text: string): string {
  const document = parseDocument(text, { version: '1.2', uniqueKeys: false });
  visitFile(document.contents);
  const written = document.toString({
    indent: 2,
    indentSeq: true,
    lineWidth: width,
    minContentWidth: 0,
    flowCollectionPadding: true,
    doubleQuotedMinMultiLineLength: 4 * width,
  });
  return withoutPadding(written);
}

/** Takes the blanks within the brackets of lists, which the writer puts there as it does for braces. */
function withoutPadding(text: string): string {
  const blanks: number[] = [];
  visit(parseDocument(text, { version: '1.2', uniqueKeys: false }), {
    Seq(_key, { flow, range, items }) {
      if (flow !== true || !range || items.length === 0) return;
      const [start, end] = range;
      if (text.startsWith('[ ', start)) blanks.push(start + 1);
      if (text.slice(end - 2, end) === ' ]') blanks.push(end - 2);
    },
  });
  let left = text;
  for (const at of blanks.sort((a, b) => b - a)) left = left.slice(0, at) + left.slice(at + 1);
  return left;
}

function entriesOf(node: unknown): readonly (readonly [string, Node])[] {
  if (!isMap(node)) return [];
  return node.items.flatMap((pair) =>
    isPair(pair) && isScalar(pair.key) && pair.value !== null
      ? [[String(pair.key.value), pair.value as Node] as const]
      : [],
  );
}

function at(node: unknown, key: string): Node | undefined {
  return entriesOf(node).find(([name]) => name === key)?.[1];
}

function visitFile(root: unknown): void {
  for (const [, fn] of entriesOf(at(root, 'functions'))) quote(at(fn, 'value'));
  for (const [, store] of entriesOf(at(root, 'stores'))) {
    for (const [, derived] of entriesOf(at(store, 'derived')))
      quote(isMap(derived) ? at(derived, 'value') : derived);
    for (const [, action] of entriesOf(at(store, 'actions'))) visitAction(action);
    for (const [, task] of entriesOf(at(store, 'tasks'))) visitTask(task);
    for (const reaction of itemsOf(at(store, 'reacts'))) visitAction(reaction as Node);
    visitSaved(at(store, 'saved'));
  }
}

function itemsOf(node: unknown): readonly unknown[] {
  return isSeq(node) ? node.items : [];
}

function visitAction(action: Node): void {
  if (isSeq(action)) return visitSteps(action);
  for (const requirement of itemsOf(at(action, 'requires'))) {
    quote(at(requirement, 'that'));
    for (const [, value] of entriesOf(at(requirement, 'let'))) quote(value);
  }
  for (const [, value] of entriesOf(at(action, 'let'))) quote(value);
  visitSteps(at(action, 'steps'));
}

/** The keys of a task that are expressions. */
const taskKeys = ['with', 'wait', 'per', 'timeLimit', 'every'];

function visitTask(task: Node): void {
  visitAction(task);
  for (const key of taskKeys) quote(at(task, key));
  for (const key of ['wait', 'when']) quote(at(at(task, 'retry'), key));
  for (const key of ['follows', 'while']) quote(at(at(task, 'auto'), key));
  for (const key of ['start', 'each', 'finish', 'fail', 'cancel']) visitSteps(at(task, key));
}

/** Fields are made of what was kept before: of earlier versions, and by the application before it had a schema. */
function visitSaved(saved: Node | undefined): void {
  const versions = entriesOf(at(saved, 'from')).map(([, fields]) => fields);
  for (const fields of [...versions, at(at(saved, 'old'), 'fields')])
    for (const [, value] of entriesOf(fields)) quote(value, isInFlow(fields));
}

const isInFlow = (node: unknown): boolean => isMap(node) && node.flow === true;

function visitSteps(steps: unknown): void {
  for (const step of itemsOf(steps)) {
    for (const [key, value] of entriesOf(step)) {
      if (key === 'then' || key === 'else') visitSteps(value);
      else if (mappingKeys.has(key)) entriesOf(value).forEach(([, inner]) => quote(inner));
      else if (key === 'when' || key === 'payload') quote(value);
      else if (isMap(value)) visitStep(key, value);
    }
  }
}

function visitStep(kind: string, step: Node): void {
  const inFlow = isInFlow(step);
  for (const [key, value] of entriesOf(step)) {
    const isTarget = key === 'to' && kind === 'move';
    const isExpression = expressionKeys.has(key) && !(kind === 'drop' && isName(value));
    if (mappingKeys.has(key)) entriesOf(value).forEach(([, inner]) => quote(inner, inFlow));
    else if (isTarget || isExpression) quote(value, inFlow);
  }
}

/** The name of an optional property stands bare where `drop` takes it. */
function isName(node: Node): boolean {
  return isScalar(node) && node.type === Scalar.PLAIN;
}

/** Puts the texts of an expression in double quotes; what is built of several is done part by part. */
function quote(node: unknown, inFlow = false): void {
  const within = inFlow || ((isMap(node) || isSeq(node)) && node.flow === true);
  if (isMap(node)) for (const [, value] of entriesOf(node)) quote(value, within);
  else if (isSeq(node)) node.items.forEach((item) => quote(item, within));
  else if (isScalar(node) && typeof node.value === 'string') {
    const isFolded = node.type === Scalar.BLOCK_FOLDED || node.type === Scalar.BLOCK_LITERAL;
    const isLong = node.value.length > width - 30;
    if (isFolded && isLong) return;
    node.value = node.value.trim();
    node.type = isLong && !inFlow ? Scalar.BLOCK_FOLDED : Scalar.QUOTE_DOUBLE;
  }
}
