import { storeNamed, type Application, type Store } from '../model/application.js';
import { walkExpr, type Expr } from '../model/expressions.js';
import { fits } from '../model/fit.js';
import { membersOf, type TypeTable } from '../model/types.js';
import { allSteps, exprsOf, writtenFields, type Path, type Step } from '../model/steps.js';

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

const drawing: ReadonlySet<string> = new Set(['newId', 'now', 'random']);

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
  if (steps.some(({ kind }) => kind === 'run')) return undefined;
  const reads = new Set<string>();
  let draws = false;
  for (const expr of steps.flatMap(exprsOf))
    walkExpr(expr, (node) => {
      if (node.kind === 'call' && drawing.has(node.name)) draws = true;
      for (const field of fieldsRead(node, application)) reads.add(field);
    });
  const writes = new Set(steps.flatMap((one) => writesOf(one, store, application)));
  const mayRefuse = steps.some((one) => mayBeRefused(one, application));
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
  if (step.kind !== 'resetStores')
    return writtenFields(step).map((name) => `${store.name}.${name}`);
  return step.stores.flatMap((name) =>
    storeNamed(application, name).fields.map((field) => `${name}.${field.name}`),
  );
}

/** Whatever is not known to be always done may be refused. */
function mayBeRefused(step: Step, { types }: Application): boolean {
  switch (step.kind) {
    case 'reset':
    case 'resetStores':
    case 'let':
    case 'when':
      return false;
    case 'set':
      return step.entries.some(
        ({ path, value }) => isFar(path) || !fits(value.type, path.type, types, 'proof'),
      );
    case 'toggle':
      return step.value !== undefined || step.in.segments.length > 0;
    // Where nothing is meant, nothing is done; and a list may only be too short then.
    case 'remove':
      return step.none !== undefined || isFar(step.from) || minItems(step.from, types) > 0;
    case 'drop':
      return step.none !== undefined || isFar(step.from);
    default:
      return true;
  }
}

/** Whether a path goes through something that may not be there. */
const isFar = ({ segments }: Path): boolean => segments.some(({ kind }) => kind !== 'property');

function minItems({ type }: Path, types: TypeTable): number {
  const least = membersOf(type, types).map((member) =>
    member.kind === 'list' ? (member.bounds?.minItems ?? 0) : 0,
  );
  return Math.max(0, ...least);
}
