import type { AnyNode, ArrayExpression, ObjectExpression, TemplateLiteral } from 'acorn';
import { Problems } from '../../problems/problem.js';
import type { Span } from '../../../base/source.js';
import type { Arrow, Expr, ListPart, ObjectPart } from '../../../model/expressions.js';
import { typeText } from '../../../model/type-text.js';
import {
  literal,
  membersOf,
  never,
  nothing,
  text,
  union,
  unknown,
  type Type,
} from '../../../model/types.js';
import type { ScalarText } from '../../syntax/scalar-text.js';
import type { Declarations } from '../declarations.js';
import { inferAccess, inferChain } from './access.js';
import { inferCall } from './calls.js';
import { soleKind, type Inference, type Results } from './inference.js';
import { inferName } from './names.js';
import { checkLocalName } from './local-names.js';
import { objectOf } from './objects.js';
import { partsOf, type BoundPart } from './patterns.js';
import { inferBinary, inferConditional, inferLogical, inferUnary } from './operators.js';
import { insideArrow, withLocals, type Scope } from './scope.js';

/** Infers one parsed expression: resolves its names, types its nodes, reports what is wrong. */
export class ExpressionInference implements Inference {
  /** What stands right behind a `...` in a list. */
  readonly #spread = new WeakSet<AnyNode>();

  constructor(
    readonly declarations: Declarations,
    readonly text: ScalarText,
    readonly textFits: boolean,
    readonly results: Results,
    readonly problems: Problems = declarations.problems,
  ) {}

  get types() {
    return this.declarations.types;
  }

  quietly(): Inference {
    return new ExpressionInference(
      this.declarations,
      this.text,
      this.textFits,
      this.results,
      new Problems(),
    );
  }

  spanOf(node: AnyNode): Span {
    return this.text.spanOf(node.start, node.end);
  }

  infer(node: AnyNode, scope: Scope): Expr {
    const span = this.spanOf(node);
    switch (node.type) {
      case 'Literal': {
        const value = node.value as string | number | boolean | null;
        return { kind: 'literal', value, span, type: value === null ? nothing : literal(value) };
      }
      case 'TemplateLiteral':
        return this.#template(node, scope, span);
      case 'Identifier':
        return inferName(this, node, scope);
      case 'ArrayExpression':
        return this.#list(node, scope, span);
      case 'ObjectExpression':
        return this.#object(node, scope, span);
      case 'UnaryExpression':
        return inferUnary(this, node, scope);
      case 'BinaryExpression':
        return inferBinary(this, node, scope);
      case 'LogicalExpression':
        return inferLogical(this, node, scope);
      case 'ConditionalExpression':
        return inferConditional(this, node, scope);
      case 'ChainExpression':
        return inferChain(this, this.infer(node.expression, scope), scope);
      case 'MemberExpression':
        return inferAccess(this, node, scope);
      case 'CallExpression':
        return inferCall(this, node, scope);
      default:
        this.problems.add('not-in-language', span, {
          what:
            node.type === 'ArrowFunctionExpression'
              ? 'A function on its own'
              : `This (${node.type})`,
          instead:
            'A function stands as the argument of a list method: vehicles.map(v => v.plate).',
        });
        return { kind: 'undefined', span, type: unknown };
    }
  }

  isSpread(node: AnyNode): boolean {
    return this.#spread.has(node);
  }

  arrow(node: AnyNode, params: readonly Type[], scope: Scope): Arrow | undefined {
    if (node.type !== 'ArrowFunctionExpression' || node.params.length > params.length)
      return undefined;
    const names: string[] = [];
    const parts: BoundPart[] = [];
    for (const [i, param] of node.params.entries()) {
      const type = params[i] ?? unknown;
      const span = this.spanOf(param);
      const name = param.type === 'Identifier' ? param.name : freeName(node, scope, names);
      if (param.type === 'Identifier') this.#bind(param.name, span, scope, names, parts);
      else {
        for (const bound of partsOf(this, param, { kind: 'local', name, span, type })) {
          this.#bind(bound.name, this.spanOf(bound.pattern), scope, names, parts);
          parts.push(bound);
        }
      }
      names.push(name);
    }
    const inner = insideArrow(scope);
    const body = this.infer(node.body, {
      ...withLocals(
        inner,
        names.map((name, i) => [name, params[i] ?? unknown] as const),
      ),
      parts: new Map([...inner.parts, ...parts.map(({ name, part }) => [name, part] as const)]),
      draws: scope.draws,
    });
    return { kind: 'arrow', params: names, body, span: this.spanOf(node) };
  }

  #bind(
    name: string,
    span: Span,
    scope: Scope,
    names: readonly string[],
    parts: readonly BoundPart[],
  ): void {
    const siblings = [...names, ...parts.map((part) => part.name), ...scope.parts.keys()];
    checkLocalName(this, name, scope, span, siblings);
  }

  #template(node: TemplateLiteral, scope: Scope, span: Span): Expr {
    const texts = node.quasis.map(({ value }) => value.cooked ?? '');
    const values = node.expressions.map((part) => {
      const expr = this.infer(part, scope);
      const odd = membersOf(expr.type, this.types).find(
        ({ kind }) => !['string', 'number', 'boolean', 'literal', 'unknown'].includes(kind),
      );
      if (odd !== undefined) {
        const missing = odd.kind === 'absent' || odd.kind === 'null';
        if (missing)
          this.problems.add('maybe-missing', expr.span, {
            what: 'This value',
            missing: odd.kind,
            where: 'a text',
          });
        else
          this.problems.add('type-mismatch', expr.span, {
            wanted: 'text and numbers',
            got: typeText(expr.type, this.types),
            where: 'A template',
          });
      }
      return expr;
    });
    return { kind: 'template', texts, values, span, type: text };
  }

  #list(node: ArrayExpression, scope: Scope, span: Span): Expr {
    const types: Type[] = [];
    const items = node.elements.map((element): ListPart => {
      if (element?.type !== 'SpreadElement') {
        const value = this.infer(element as AnyNode, scope);
        types.push(value.type);
        return { spread: false, value };
      }
      this.#spread.add(element.argument);
      const value = this.infer(element.argument, scope);
      types.push(this.#itemOf(value));
      return { spread: true, value };
    });
    return {
      kind: 'list',
      items,
      span,
      type: { kind: 'list', item: types.length === 0 ? never : union(types) },
    };
  }

  #itemOf(value: Expr): Type {
    const spread = soleKind(value.type, 'list', this.types);
    if (spread !== undefined) return spread.item;
    if (value.type.kind !== 'unknown') {
      this.problems.add('type-mismatch', value.span, {
        wanted: 'a list',
        got: typeText(value.type, this.types),
        where: "'...' in a list",
      });
    }
    return unknown;
  }

  #object(node: ObjectExpression, scope: Scope, span: Span): Expr {
    const parts = node.properties.map((property): ObjectPart => {
      if (property.type === 'SpreadElement')
        return { kind: 'spread', value: this.infer(property.argument, scope) };
      const key = property.key as { name?: string; value?: unknown };
      return {
        kind: 'property',
        name: key.name ?? String(key.value),
        value: this.infer(property.value, scope),
      };
    });
    return objectOf(this, parts, span);
  }
}

/** A name for a parameter that is written as a pattern. */
function freeName(node: AnyNode, scope: Scope, names: readonly string[]): string {
  const inUse = new Set([
    ...scope.locals.keys(),
    ...scope.parts.keys(),
    ...names,
    ...namesWithin(node),
  ]);
  for (let i = 1; ; i++) {
    const name = i === 1 ? 'item' : `item${i}`;
    if (!inUse.has(name)) return name;
  }
}

function namesWithin(node: unknown): string[] {
  if (typeof node !== 'object' || node === null) return [];
  const own = 'name' in node && typeof node.name === 'string' ? [node.name] : [];
  return [...own, ...Object.values(node).flatMap(namesWithin)];
}
