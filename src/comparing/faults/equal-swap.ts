import type { Application, Store } from '../../model/application.js';
import { effectsOf, readsOf } from '../../model/footprint.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';

/** What a step, with those within it, does that another may notice. */
interface Touched {
  /** Fields of any store, as `deck.hold`. */
  readonly reads: ReadonlySet<string>;
  readonly writes: ReadonlySet<string>;
  /** True if it may be refused. */
  readonly mayRefuse: boolean;
  /** True if it asks the environment for something. */
  readonly draws: boolean;
}

/**
 * True if two steps that follow each other do the same in the other order, whatever the state: neither touches what
 * the other stores, not both ask the environment, and who may be refused does not stand before who asks.
 */
export function isEqualSwap(
  first: Step,
  second: Step,
  store: Store,
  application: Application,
): boolean {
  const [a, b] = [first, second].map((step) => touchedBy(step, store, application));
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
function touchedBy(step: Step, store: Store, application: Application): Touched | undefined {
  const effects = effectsOf([step], store.name, application);
  if (effects.runs.size + effects.cancels.size > 0) return undefined;
  const { fields, asksEnvironment } = readsOf(allSteps([step]).flatMap(exprsOf), application);
  // What is started first is done first.
  const writes = new Set([...effects.stores, ...(effects.starts.size > 0 ? ['(starts)'] : [])]);
  return { reads: fields, writes, mayRefuse: effects.mayBeRefused, draws: asksEnvironment };
}
