import { parseExpressionAt, type AnyNode, type Expression } from 'acorn';
import type { Problems } from '../problems/problem.js';
import { refusalOf } from './allowed-syntax.js';
import { isTooDeep } from './depth.js';
import type { ScalarText } from './scalar-text.js';
import { cutByComment, reportTrap } from './yaml-traps.js';

/**
 * Parses ECMAScript expressions and checks them against the list of what the language allows. Each text is parsed
 * once, however often it is written: a third of the expressions of a schema are such as `payload` or `null`.
 */
export class ExpressionParser {
  readonly #trees = new Map<string, Expression>();

  constructor(readonly problems: Problems) {}

  /** The tree of an expression, whose offsets count in `text.value`; `undefined`, with problems, if it has none. */
  parse(text: ScalarText): Expression | undefined {
    const known = this.#trees.get(text.value);
    if (known !== undefined) return known;
    const before = this.problems.count;
    const tree = parseSyntax(text, this.problems);
    if (tree === undefined) return undefined;
    refuseOutside(tree, text, this.problems);
    if (this.problems.count > before) return undefined;
    this.#trees.set(text.value, tree);
    return tree;
  }
}

function parseSyntax(text: ScalarText, problems: Problems): Expression | undefined {
  const source = text.value;
  const fail = (start: number, end: number, detail: string) => {
    const cut = cutByComment(text);
    if (cut !== undefined) reportTrap(cut, problems);
    else problems.add('not-an-expression', text.spanOf(start, end), { detail });
    return undefined;
  };
  if (isTooDeep(source)) return fail(0, source.length, 'it is nested too deeply.');
  if (source.trim() === '') return fail(0, 0, 'it is empty.');
  try {
    let comment: number | undefined;
    const tree = parseExpressionAt(source, 0, {
      ecmaVersion: 2023,
      // Without them the end of an expression in parentheses would be the end of what is in them.
      preserveParens: true,
      onComment: (_block, _text, start) => void (comment ??= start),
    });
    if (comment !== undefined)
      return fail(comment, comment + 2, 'comments go into the YAML, with #.');
    const rest = source.slice(tree.end).search(/\S/);
    if (rest >= 0) {
      const at = tree.end + rest;
      return fail(at, at + 1, `it should end before '${source.slice(at, at + 12)}'.`);
    }
    return withoutParens(tree) as Expression;
  } catch (error) {
    const { pos, message } = error as { pos?: number; message: string };
    if (pos === undefined) throw error;
    return fail(pos, pos + 1, `${message.replace(/ \(\d+:\d+\)$/, '')}.`);
  }
}

function refuseOutside(node: AnyNode, text: ScalarText, problems: Problems): void {
  const refusal = refusalOf(node);
  if (refusal !== undefined) {
    problems.add(
      'not-in-language',
      text.spanOf(refusal.start ?? node.start, refusal.end ?? node.end),
      refusal,
    );
    return;
  }
  for (const child of childrenOf(node)) refuseOutside(child, text, problems);
}

/** The tree with parentheses taken away: they have done their work. */
function withoutParens(node: AnyNode): AnyNode {
  const inner = node.type === 'ParenthesizedExpression' ? withoutParens(node.expression) : node;
  if (leaves.has(inner.type)) return inner;
  const parts = inner as unknown as Record<string, unknown>;
  for (const key in parts) {
    const value = parts[key];
    if (Array.isArray(value))
      parts[key] = value.map((item: unknown) => (isNode(item) ? withoutParens(item) : item));
    else if (isNode(value)) parts[key] = withoutParens(value);
  }
  return inner;
}

const leaves: ReadonlySet<string> = new Set(['Literal', 'Identifier', 'TemplateElement']);

function childrenOf(node: AnyNode): readonly AnyNode[] {
  const children: AnyNode[] = [];
  if (leaves.has(node.type)) return children;
  const parts = node as unknown as Record<string, unknown>;
  for (const key in parts) {
    const value = parts[key];
    for (const one of Array.isArray(value) ? (value as readonly unknown[]) : [value])
      if (isNode(one)) children.push(one);
  }
  return children;
}

function isNode(value: unknown): value is AnyNode {
  return typeof value === 'object' && value !== null && 'type' in value && 'start' in value;
}
