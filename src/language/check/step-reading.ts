import type { Span } from '../../base/source.js';
import type { Expr } from '../../model/expressions.js';
import type { Path } from '../../model/steps.js';
import { typeText } from '../../model/type-text.js';
import { resolve, type Type } from '../../model/types.js';
import { valueOf, type Located } from '../syntax/located.js';
import { ScalarText } from '../syntax/scalar-text.js';
import type { Expressions } from './expressions.js';
import { requireFit } from './infer/inference.js';
import type { Scope } from './infer/scope.js';
import { lowerPath } from './lower-paths.js';

/** What every step has. */
export interface StepBase {
  readonly at: string;
  readonly span: Span;
}

/** A list that a step changes, and the property by which its items are told apart. */
export interface ListTarget {
  readonly path: Path;
  readonly item: Type;
  readonly key: string | undefined;
}

/** What a step is lowered with: what it says, where it stands, and what it sees. */
export class StepReading {
  constructor(
    readonly body: Located,
    readonly step: Located,
    readonly base: StepBase,
    readonly scope: Scope,
    readonly cx: Expressions,
  ) {}

  protected wrong(detail: string, span = this.base.span): undefined {
    this.cx.problems.add('wrong-structure', span, { detail });
  }

  protected fitting(node: Located, wanted: Type, where: string): Expr {
    const value = this.cx.read(node, this.scope, wanted);
    requireFit(this.cx, value, wanted, where);
    return value;
  }

  protected path(key: string, span: Span): Path | undefined {
    const quoted = span.source.text[span.start];
    const style = quoted === '"' ? 'double' : quoted === "'" ? 'single' : 'plain';
    return lowerPath(new ScalarText(key, style, span), this.scope, this.cx);
  }

  protected pathAt(key: string): Path | undefined {
    const node = valueOf(this.body, key);
    const path = node?.kind === 'scalar' ? lowerPath(node.text, this.scope, this.cx) : undefined;
    const last = path?.segments.at(-1);
    if (path === undefined || last?.kind !== 'property' || !last.optional) return path;
    const what = `'${path.text}'`;
    this.cx.problems.add('maybe-missing', path.span, {
      what,
      missing: 'absent',
      where: `'${key}'`,
    });
    return undefined;
  }

  protected list(key: string): ListTarget | undefined {
    const path = this.pathAt(key);
    return path && this.listAt(path);
  }

  protected listAt(path: Path): ListTarget | undefined {
    const open = resolve(path.type, this.cx.types);
    if (open.kind === 'list') return { path, item: open.item, key: open.key };
    return this.wrong(
      `'${path.text}' is no list but ${typeText(path.type, this.cx.types)}.`,
      path.span,
    );
  }
}
