import type { Expr } from './expressions.js';
import type { Binding } from './steps.js';

/** A condition of an action: if it does not hold, the action is refused, with the reason `otherwise`. */
export type Requirement = {
  readonly otherwise: string;
  /** Where it stands in the schema: `deck.admit.requires[0]`. */
  readonly at: string;
} & (
  | { readonly kind: 'condition'; readonly that: Expr }
  /** A value that must be there, under a name for what follows. */
  | { readonly kind: 'value'; readonly binding: Binding }
);

/** The expression of a requirement. */
export function exprOf(requirement: Requirement): Expr {
  return requirement.kind === 'condition' ? requirement.that : requirement.binding.value;
}
