import type { AnyNode } from 'acorn';
import { nearest } from '../../base/suggest.js';
import { recordOf } from '../../model/fit.js';
import type { Path, Segment } from '../../model/steps.js';
import { typeText } from '../../model/type-text.js';
import { membersOf, number, resolve, text, unknown, type Type } from '../../model/types.js';
import type { ScalarText } from '../syntax/scalar-text.js';
import type { Expressions } from './expressions.js';
import { ExpressionInference } from './infer/infer.js';
import { requireFit } from './infer/inference.js';
import type { Scope } from './infer/scope.js';

/** Reads a path: a field of the scope's own store, then `.name` and `[expression]`. */
export function lowerPath(written: ScalarText, scope: Scope, cx: Expressions): Path | undefined {
  const tree = cx.declarations.parser.parse(written);
  return tree === undefined ? undefined : new PathLowering(written, scope, cx).path(tree);
}

class PathLowering {
  constructor(
    readonly written: ScalarText,
    readonly scope: Scope,
    readonly cx: Expressions,
  ) {}

  path(tree: AnyNode): Path | undefined {
    const chain = this.#chain(tree);
    if (chain === undefined) return undefined;
    const [root, ...rest] = chain;
    const field = root?.type === 'Identifier' ? this.scope.store.fields.get(root.name) : undefined;
    if (root?.type !== 'Identifier' || field === undefined) return this.#noField(root as AnyNode);
    let type = field.type;
    const segments: Segment[] = [];
    for (const part of rest) {
      const last = segments.at(-1);
      if (last?.kind === 'property' && last.optional) return this.#throughOptional(last.name, part);
      const next = this.#segment(part as AnyNode & { type: 'MemberExpression' }, type);
      if (next === undefined) return undefined;
      segments.push(next.segment);
      type = next.type;
    }
    return {
      field: root.name,
      segments,
      type,
      span: this.#span(tree),
      text: this.written.value.trim(),
    };
  }

  /** The parts of `a.b[c]`, outermost last: `a`, `a.b`, `a.b[c]`. */
  #chain(tree: AnyNode): readonly AnyNode[] | undefined {
    if (tree.type === 'Identifier') return [tree];
    if (tree.type === 'MemberExpression' && !tree.optional) {
      const before = this.#chain(tree.object);
      return before === undefined ? undefined : [...before, tree];
    }
    this.cx.problems.add('not-a-path', this.#span(tree), { detail: 'it is an expression.' });
    return undefined;
  }

  #throughOptional(name: string, part: AnyNode): undefined {
    const what = `'${name}'`;
    this.cx.problems.add('maybe-missing', this.#span(part), {
      what,
      missing: 'absent',
      where: 'a path',
    });
  }

  #noField(root: AnyNode): undefined {
    const name = root.type === 'Identifier' ? root.name : '';
    const { store } = this.scope;
    const owner = this.cx.declarations.stores.get(name);
    if (owner !== undefined && owner !== store) {
      const detail = `'${name}' is another store; an action stores to its own.`;
      this.cx.problems.add('not-a-path', this.#span(root), { detail });
    } else if (store.derived.has(name) || store.constants.has(name)) {
      const detail = `'${name}' is ${store.derived.has(name) ? 'a derived value' : 'a constant'}.`;
      this.cx.problems.add('not-a-path', this.#span(root), { detail });
    } else {
      const near = nearest(name, store.fields.keys());
      this.cx.problems.add('unknown-name', this.#span(root), { name, near, textFits: false });
    }
    return undefined;
  }

  #segment(
    node: AnyNode & { type: 'MemberExpression' },
    on: Type,
  ): { segment: Segment; type: Type } | undefined {
    const open = resolve(on, this.cx.types);
    if (membersOf(open, this.cx.types).some(({ kind }) => kind === 'null' || kind === 'absent')) {
      const where = 'a path';
      this.cx.problems.add('maybe-missing', this.#span(node.object), {
        what: 'This',
        missing: 'null',
        where,
      });
      return undefined;
    }
    if (!node.computed) return this.#property(node.property, on);
    const inference = new ExpressionInference(this.cx.declarations, this.written, false, this.cx);
    const value = inference.infer(node.property, this.scope);
    if (open.kind === 'map') {
      requireFit(this.cx, value, text, 'A key of a dictionary');
      return { segment: { kind: 'entry', value }, type: open.value };
    }
    if (open.kind === 'list') {
      const keyType = open.key === undefined ? undefined : keyTypeOf(open.item, open.key, this.cx);
      requireFit(
        this.cx,
        value,
        keyType ?? number,
        keyType === undefined ? 'A position' : `The key '${open.key}'`,
      );
      const segment: Segment =
        open.key === undefined
          ? { kind: 'position', value }
          : { kind: 'item', key: open.key, value };
      return { segment, type: open.item };
    }
    const detail = `${typeText(on, this.cx.types)} has no items.`;
    this.cx.problems.add('not-a-path', this.#span(node), { detail });
    return undefined;
  }

  #property(property: AnyNode, on: Type): { segment: Segment; type: Type } | undefined {
    const name = property.type === 'Identifier' ? property.name : '';
    const fields = recordOf(on, this.cx.types)?.fields ?? [];
    const field = fields.find((candidate) => candidate.name === name);
    if (field !== undefined)
      return { segment: { kind: 'property', name, optional: field.optional }, type: field.type };
    const of = typeText(on, this.cx.types);
    const near = nearest(
      name,
      fields.map((candidate) => candidate.name),
    );
    this.cx.problems.add('no-such-property', this.#span(property), { name, of, near });
    return undefined;
  }

  #span(node: AnyNode) {
    return this.written.spanOf(node.start, node.end);
  }
}

/** The type of the key of a keyed list's items. */
export function keyTypeOf(item: Type, key: string, cx: Pick<Expressions, 'types'>): Type {
  const field = recordOf(item, cx.types)?.fields.find(({ name }) => name === key);
  return field?.type ?? unknown;
}
