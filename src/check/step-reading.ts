import type { Span } from '../diagnostics/source.js';
import type { Expr } from '../model/expressions.js';
import type { Path } from '../model/steps.js';
import { typeText } from '../model/type-text.js';
import { resolve, type Type } from '../model/types.js';
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

  protected list(key: string): { path: Path; item: Type; key: string | undefined } | undefined {
    const path = this.pathAt(key);
    if (path === undefined) return undefined;
    const open = resolve(path.type, this.cx.types);
    if (open.kind === 'list') return { path, item: open.item, key: open.key };
    return this.wrong(
      `'${path.text}' is no list but ${typeText(path.type, this.cx.types)}.`,
      path.span,
    );
  }
}
