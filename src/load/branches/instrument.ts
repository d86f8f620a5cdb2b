import { parse, type Node, type Program } from 'acorn';

/** A way that code can go: `then` of a condition, the right side of `&&`, the body of a function. */
export interface Way {
  /** Where the code begins and ends that is run then. */
  readonly start: number;
  readonly end: number;
  /** What is so if the way is gone, as people say it. */
  readonly says: string;
}

/** Code in which it is counted which ways it goes. */
export interface Instrumented {
  readonly code: string;
  readonly ways: readonly Way[];
  /** How many comparisons with numbers there are: for each it is noted how near it came. */
  readonly comparisons: number;
  /** The texts and numbers that stand in it. */
  readonly texts: readonly string[];
  readonly numbers: readonly number[];
}

/** Texts longer than that are messages: nobody compares with them. */
const longestText = 24;

/** The names by which instrumented code knows what counts. */
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
 * for comparisons with numbers. What it does stays the same. Throws a SyntaxError for code that cannot be parsed.
 */
export function instrument(text: string, sourceType: 'module' | 'script'): Instrumented {
  const program: Program = parse(text, {
    ecmaVersion: 'latest',
    sourceType,
    allowReturnOutsideFunction: true,
  });
  const instrumenting = new Instrumenting(text);
  instrumenting.visit(program as unknown as AnyNode);
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
          this.#statement(alternate, 'the condition does not hold');
        else this.#end(node.end, ` else {${this.#way(node, 'the condition does not hold', true)}}`);
        this.#statement(consequent as AnyNode, 'the condition holds');
        return;
      }
      case 'ForStatement':
      case 'ForOfStatement':
      case 'ForInStatement':
      case 'WhileStatement':
        this.#statement(node['body'] as AnyNode, 'the loop has something to do');
        return;
      case 'ConditionalExpression':
        this.#expression(node['consequent'] as AnyNode, 'the condition holds');
        this.#expression(node['alternate'] as AnyNode, 'the condition does not hold');
        return;
      case 'LogicalExpression':
        this.#logical(node);
        return;
      case 'BinaryExpression':
        if (comparing.has(node['operator'])) this.#comparison(node);
        return;
      case 'SwitchCase': {
        const [first] = node['consequent'] as readonly AnyNode[];
        if (first !== undefined) this.#start(first.start, `${this.#way(node, 'it is this case')};`);
        return;
      }
      case 'CatchClause':
        this.#block(node['body'] as AnyNode, node, 'something is thrown');
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
    if (body.type === 'BlockStatement') this.#block(body, node, 'it is called');
    else this.#expression(body, 'it is called', node);
  }

  /** Notes a way at the beginning of a block, after its directives. */
  #block(block: AnyNode, told: AnyNode, says: string): void {
    const statements = block['body'] as readonly AnyNode[];
    const directives = statements.filter((one) => one['directive'] !== undefined);
    const at = directives.at(-1)?.end ?? block.start + 1;
    this.#start(at, `${directives.length > 0 ? ';' : ''}${this.#way(told, says)};`);
  }

  #statement(statement: AnyNode, says: string): void {
    if (statement.type === 'BlockStatement') {
      this.#start(statement.start + 1, `${this.#way(statement, says)};`);
      return;
    }
    this.#start(statement.start, `{${this.#way(statement, says)};`);
    this.#end(statement.end, '}');
  }

  #expression(expression: AnyNode, says: string, told = expression): void {
    this.#start(expression.start, `(${this.#way(told, says)},`);
    this.#end(expression.end, ')');
  }

  #logical(node: AnyNode): void {
    const left = node['left'] as AnyNode;
    const right = node['right'] as AnyNode;
    const isGiven = node['operator'] === '??';
    const [first, second] = isGiven
      ? ['there is a value', 'there is none']
      : ['the left side holds', 'the left side does not hold'];
    const at = this.#ways.length;
    for (const says of [first, second])
      this.#ways.push({ start: right.start, end: right.end, says: says ?? '' });
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

  /** The expression that notes a way; `isNowhere`: no code is run then. */
  #way({ start, end }: AnyNode, says: string, isNowhere = false): string {
    const number = this.#ways.push({ start, end: isNowhere ? start : end, says }) - 1;
    return `leeshore$seen[${number}]||leeshore$see(${number})`;
  }

  #start(at: number, text: string): void {
    this.#added.push({ at, text, isEnd: false });
  }

  #end(at: number, text: string): void {
    this.#added.push({ at, text, isEnd: true });
  }
}
