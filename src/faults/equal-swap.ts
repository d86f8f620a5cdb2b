import { storeNamed, type Application, type Store } from '../model/application.js';
import { walkExpr, type Expr } from '../model/expressions.js';
import { doneBy } from '../model/functions.js';
import { allSteps, exprsOf, mayBeRefused, writtenFields } from '../model/step-kinds.js';
import type { Step } from '../model/steps.js';

/** What a step, with those within it, does that another may notice. */
interface Effects {
  /** Fields of any store, as `deck.hold`. */
  readonly reads: ReadonlySet<string>;
  readonly writes: ReadonlySet<string>;
  /** Whether it may be refused. */
  readonly mayRefuse: boolean;
  /** Whether it asks the environment for something. */
  readonly draws: boolean;
}

/**
 * Whether two steps that follow each other do the same in the other order, whatever the state: neither touches what
 * the other stores, not both ask the environment, and who may be refused does not stand before who asks.
 */
export function isEqualSwap(
  first: Step,
  second: Step,
  store: Store,
  application: Application,
): boolean {
  const [a, b] = [first, second].map((step) => effectsOf(step, store, application));
  if (a === undefined || b === undefined) return false;
  const meets = (one: ReadonlySet<string>, other: ReadonlySet<string>) =>
    [...one].some((name) => other.has(name));
  if (meets(a.writes, b.reads) || meets(b.writes, a.reads) || meets(a.writes, b.writes))
    return false;
  return (
    !(a.mayRefuse && b.mayRefuse) &&
    !(a.draws && (b.draws || b.mayRefuse)) &&
    !(b.draws && a.mayRefuse)
  );
}

/** `undefined` for a step that does another action: what that does is not followed. */
function effectsOf(step: Step, store: Store, application: Application): Effects | undefined {
  const steps = allSteps([step]);
  if (steps.some(({ kind }) => kind === 'run' || kind === 'cancel')) return undefined;
  const reads = new Set<string>();
  let draws = false;
  for (const expr of steps.flatMap(exprsOf))
    walkExpr(expr, (node) => {
      if (node.kind === 'call' && doneBy(node.name) === 'environment') draws = true;
      for (const field of fieldsRead(node, application)) reads.add(field);
    });
  const writes = new Set(steps.flatMap((one) => writesOf(one, store, application)));
  const mayRefuse = steps.some(mayBeRefused);
  return { reads, writes, mayRefuse, draws };
}

/** The fields that an expression itself reads, those of a derived value among them. */
function fieldsRead(expr: Expr, application: Application): readonly string[] {
  if (expr.kind === 'field') return [`${expr.store}.${expr.name}`];
  if (expr.kind !== 'derived' && expr.kind !== 'ask') return [];
  const { derived } = storeNamed(application, expr.store);
  const value = derived.find(({ name }) => name === expr.name)?.value;
  const fields: string[] = [];
  if (value !== undefined) walkExpr(value, (node) => fields.push(...fieldsRead(node, application)));
  return fields;
}

function writesOf(step: Step, store: Store, application: Application): readonly string[] {
  // What is started first is done first.
  if (step.kind === 'start') return ['(starts)'];
  if (step.kind !== 'resetStores')
    return writtenFields(step).map((name) => `${store.name}.${name}`);
  return step.stores.flatMap((name) =>
    storeNamed(application, name).fields.map((field) => `${name}.${field.name}`),
  );
}
