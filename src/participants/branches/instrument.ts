import { parse, type Node, type Program } from 'acorn';
import type { WayKind } from '../../model/way-told.js';

/** A way that code can go: `then` of a condition, the right side of `&&`, the body of a function. */
export interface Way {
  readonly kind: WayKind;
  /** Where the code begins that the way is told of. */
  readonly at: number;
  /** Where the code begins and ends that is run then; nothing if both are the same. */
  readonly start: number;
  readonly end: number;
}

/** Code in which it is counted which ways it goes. */
export interface Instrumented {
  readonly code: string;
  readonly ways: readonly Way[];
  /** The number of comparisons with numbers: for each it is noted how near it came. */
  readonly comparisons: number;
  /** The texts and numbers that stand in it. */
  readonly texts: readonly string[];
  readonly numbers: readonly number[];
}

/** Texts longer than that are messages: nobody compares with them. */
const longestText = 24;

/** The names by which instrumented code knows what counts. */
/** A part of a text: from a place up to another, which is not in it. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

export const counterNames = [
  'leeshore$seen',
  'leeshore$see',
  'leeshore$either',
  'leeshore$given',
  'leeshore$near',
] as const;

type AnyNode = Node & Readonly<Record<string, unknown>>;

const isNode = (value: unknown): value is AnyNode =>
  typeof value === 'object' && value !== null && typeof (value as Node).type === 'string';

const comparing: ReadonlySet<unknown> = new Set(['===', '!==', '==', '!=', '<', '<=', '>', '>=']);

/**
 * Puts counters into ECMAScript code: for each side of conditions, `&&`, `||`, `??`, cases, loops, `catch` and functions; and
 * for comparisons with numbers. What it does stays the same. Statements that begin in `spared` places are left as they are.
 * Throws a SyntaxError for code that cannot be parsed.
 */
export function instrument(
  text: string,
  sourceType: 'module' | 'script',
  spared: readonly Span[] = [],
): Instrumented {
  const program: Program = parse(text, {
    ecmaVersion: 'latest',
    sourceType,
    allowReturnOutsideFunction: true,
  });
  const instrumenting = new Instrumenting(text);
  for (const statement of program.body)
    if (!spared.some(({ start, end }) => statement.start >= start && statement.start < end))
      instrumenting.visit(statement as unknown as AnyNode);
  return instrumenting.done();
}

class Instrumenting {
  readonly #text: string;
  readonly #ways: Way[] = [];
  readonly #texts = new Set<string>();
  readonly #numbers = new Set<number>();
  /** What is put where: at one place what closes comes first. */
  readonly #added: { readonly at: number; readonly text: string; readonly isEnd: boolean }[] = [];
  #comparisons = 0;

  constructor(text: string) {
    this.#text = text;
  }

  done(): Instrumented {
    const added = this.#added
      .map((one, i) => ({ ...one, i }))
      // What closes at a place was opened last; what opens there, opens in the order in which it was met.
      .sort(
        (a, b) =>
          a.at - b.at || Number(b.isEnd) - Number(a.isEnd) || (a.isEnd ? b.i - a.i : a.i - b.i),
      );
    let code = '';
    let from = 0;
    for (const { at, text } of added) {
      code += this.#text.slice(from, at) + text;
      from = at;
    }
    return {
      code: code + this.#text.slice(from),
      ways: this.#ways,
      comparisons: this.#comparisons,
      texts: [...this.#texts],
      numbers: [...this.#numbers],
    };
  }

  visit(node: AnyNode): void {
    if (isOfBundler(node)) return;
    this.#instrument(node);
    for (const part of Object.values(node)) {
      if (isNode(part)) this.visit(part);
      else if (Array.isArray(part)) for (const one of part) if (isNode(one)) this.visit(one);
    }
  }

  #instrument(node: AnyNode): void {
    switch (node.type) {
      case 'IfStatement': {
        const { consequent, alternate } = node as unknown as Record<string, AnyNode | null>;
        // What closes last is noted first.
        if (alternate !== null && alternate !== undefined)
          this.#statement(alternate, 'condition false');
        else this.#end(node.end, ` else {${this.#way('condition false', node.start)}}`);
        this.#statement(consequent as AnyNode, 'condition true');
        return;
      }
      case 'ForStatement':
      case 'ForOfStatement':
      case 'ForInStatement':
      case 'WhileStatement':
        this.#statement(node['body'] as AnyNode, 'loop');
        return;
      case 'ConditionalExpression':
        this.#expression(node['consequent'] as AnyNode, 'condition true');
        this.#expression(node['alternate'] as AnyNode, 'condition false');
        return;
      case 'LogicalExpression':
        this.#logical(node);
        return;
      case 'BinaryExpression':
        if (comparing.has(node['operator'])) this.#comparison(node);
        return;
      case 'SwitchCase': {
        const [first] = node['consequent'] as readonly AnyNode[];
        if (first !== undefined)
          this.#start(first.start, `${this.#way('case', node.start, node)};`);
        return;
      }
      case 'CatchClause':
        this.#block(node['body'] as AnyNode, node, 'catch');
        return;
      case 'FunctionDeclaration':
      case 'FunctionExpression':
      case 'ArrowFunctionExpression':
        this.#function(node);
        return;
      case 'Literal': {
        const { value } = node;
        if (typeof value === 'string' && value.length <= longestText) this.#texts.add(value);
        if (typeof value === 'number') this.#numbers.add(value);
      }
    }
  }

  #function(node: AnyNode): void {
    const body = node['body'] as AnyNode;
    if (body.type === 'BlockStatement') this.#block(body, node, 'function');
    else this.#expression(body, 'function', node);
  }

  /** Notes a way at the beginning of a block, after its directives. */
  #block(block: AnyNode, told: AnyNode, kind: WayKind): void {
    const statements = block['body'] as readonly AnyNode[];
    const directives = statements.filter((one) => one['directive'] !== undefined);
    const at = directives.at(-1)?.end ?? block.start + 1;
    this.#start(at, `${directives.length > 0 ? ';' : ''}${this.#way(kind, told.start, told)};`);
  }

  #statement(statement: AnyNode, kind: WayKind): void {
    if (statement.type === 'BlockStatement') {
      this.#start(statement.start + 1, `${this.#way(kind, statement.start, statement)};`);
      return;
    }
    this.#start(statement.start, `{${this.#way(kind, statement.start, statement)};`);
    this.#end(statement.end, '}');
  }

  #expression(expression: AnyNode, kind: WayKind, told = expression): void {
    this.#start(expression.start, `(${this.#way(kind, told.start, told)},`);
    this.#end(expression.end, ')');
  }

  #logical(node: AnyNode): void {
    const left = node['left'] as AnyNode;
    const right = node['right'] as AnyNode;
    const operator = node['operator'] as '&&' | '||' | '??';
    const isGiven = operator === '??';
    const [one, other]: readonly WayKind[] = isGiven
      ? ['value given', 'value missing']
      : ['left true', 'left false'];
    const at = this.#ways.length;
    // The right side is run after one of the two, nothing after the other.
    this.#add(one as WayKind, right.start, operator === '&&' ? right : undefined);
    this.#add(other as WayKind, right.start, operator === '&&' ? undefined : right);
    // A comma would end a spread or an argument: it is one call.
    this.#start(left.start, `${isGiven ? 'leeshore$given' : 'leeshore$either'}(${at},(`);
    this.#end(left.end, '))');
  }

  /** How near a number came to the one that it is compared with. */
  #comparison(node: AnyNode): void {
    const sides = [node['left'] as AnyNode, node['right'] as AnyNode];
    const literal = sides.find(
      (side) => side.type === 'Literal' && typeof side['value'] === 'number',
    );
    const other = sides.find((side) => side !== literal);
    if (literal === undefined || other === undefined) return;
    this.#start(other.start, `leeshore$near(${this.#comparisons++},(`);
    this.#end(other.end, `),${String(literal['value'])})`);
  }

  /** The expression that notes a way. `run`: what is run then; nothing if not given. */
  #way(kind: WayKind, at: number, run?: AnyNode): string {
    const number = this.#add(kind, at, run);
    return `leeshore$seen[${number}]||leeshore$see(${number})`;
  }

  #add(kind: WayKind, at: number, run: AnyNode | undefined): number {
    return this.#ways.push({ kind, at, start: run?.start ?? at, end: run?.end ?? at }) - 1;
  }

  #start(at: number, text: string): void {
    this.#added.push({ at, text, isEnd: false });
  }

  #end(at: number, text: string): void {
    this.#added.push({ at, text, isEnd: true });
  }
}

/** True if esbuild has written a call, for what a module exports as a whole: that is nobody's code. */
function isOfBundler({ type, ...parts }: AnyNode): boolean {
  if (type !== 'CallExpression') return false;
  const { name } = parts['callee'] as { readonly name?: unknown };
  return typeof name === 'string' && /^__export\d*$/.test(name);
}
