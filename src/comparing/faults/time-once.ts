import { named, reactionsTo, storeNamed, type Application } from '../../model/application.js';
import { walkExpr, type Expr } from '../../model/expressions.js';
import { allSteps, exprsOf, namesOfEach } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';

/** True if no action, with all that it sets off, can ask for the time more than once. */
export function asksTimeOnce(application: Application): boolean {
  return application.stores.every((store) =>
    store.actions.every(({ name }) => asksOf(application, store.name, name) <= 1),
  );
}

/** How often an action asks for the time at most; what stands within an arrow may be asked for each item. */
function asksOf(application: Application, store: string, name: string): number {
  const action = named(storeNamed(application, store).actions, name);
  const requires = action.requires.map((one) =>
    one.kind === 'condition' ? one.that : one.binding.value,
  );
  const reactions = reactionsTo(application, store, name);
  return (
    sum([...requires, ...action.let.map(({ value }) => value)].map(asksIn)) +
    [action.steps, ...reactions.map(({ reaction }) => reaction.steps)]
      .flatMap(allSteps)
      .reduce((all, step) => all + asksOfStep(application, step), 0)
  );
}

function asksOfStep(application: Application, step: Step): number {
  const own = sum(exprsOf(step).map(asksIn)) * (isForEach(step) ? 2 : 1);
  return own + (step.kind === 'run' ? asksOf(application, step.store, step.action) : 0);
}

const isForEach = (step: Step): boolean => namesOfEach(step).length > 0;

function asksIn(expr: Expr): number {
  let asks = 0;
  walkExpr(expr, (node) => {
    if (node.kind === 'call' && node.name === 'now') asks += 1;
    if (node.kind === 'method' || node.kind === 'call')
      for (const argument of node.args)
        if (argument.kind === 'arrow') asks += asksIn(argument.body);
  });
  return asks;
}

const sum = (numbers: readonly number[]): number => numbers.reduce((all, one) => all + one, 0);
