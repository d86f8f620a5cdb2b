import { catalogue, type Code, type ParamsOf, type Severity } from './catalogue.js';
import type { Span } from '../../base/source.js';

/** Something wrong in the user's files: a value, never thrown. */
export interface Problem {
  readonly code: Code;
  readonly severity: Severity;
  readonly message: string;
  readonly hint: string | undefined;
  /** The texts that its message is made from: names, for the most part. */
  readonly about: readonly string[];
  readonly span: Span;
  /** Other places that belong to it, such as the first definition of a name. */
  readonly related: readonly RelatedPlace[];
}

export interface RelatedPlace {
  readonly message: string;
  readonly span: Span;
}

/** Collects the problems of a stage. */
export class Problems {
  readonly #found: Problem[] = [];

  add<C extends Code>(
    code: C,
    span: Span,
    params: ParamsOf<C>,
    related: readonly RelatedPlace[] = [],
  ): void {
    const { severity, message, hint } = catalogue[code] as unknown as {
      severity: Severity;
      message: (params: ParamsOf<C>) => string;
      hint: (params: ParamsOf<C>) => string | undefined;
    };
    this.#found.push({
      code,
      severity,
      message: message(params),
      hint: hint(params),
      about: Object.values(params).filter((param) => typeof param === 'string'),
      span,
      related,
    });
  }

  /** Takes back some of the problems that were found after the first `kept`. */
  withdraw(kept: number, isWithdrawn: (problem: Problem) => boolean): void {
    const later = this.#found.splice(kept).filter((problem) => !isWithdrawn(problem));
    this.#found.push(...later);
  }

  get hasErrors(): boolean {
    return this.#found.some((problem) => problem.severity === 'error');
  }

  get count(): number {
    return this.#found.length;
  }

  /** All problems found so far, in the order of their places; where there are errors, they come alone. */
  inOrder(): Problem[] {
    const { hasErrors } = this;
    const told = this.#found.filter(({ severity }) => !hasErrors || severity === 'error');
    return told.toSorted(
      (a, b) => compareText(a.span.source.path, b.span.source.path) || a.span.start - b.span.start,
    );
  }
}

function compareText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}
