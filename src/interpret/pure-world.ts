import { named, type Application, type Parameter } from '../model/application.js';
import { evaluate, type World } from './compile-expression.js';
import type { Judge } from './judge.js';

/** What an expression sees that asks nothing of the environment: a derived value, given how it reads the stores. */
export function pureWorld(
  application: Application,
  judge: Judge,
  read: Pick<World, 'field' | 'derived' | 'decided'>,
): World {
  return {
    ...read,
    apply: (name, args) => applied(application, judge, name, args, read.decided),
    fits: (value, wanted) => judge.fits(value, wanted),
    newId: onlyInSteps,
    now: onlyInSteps,
    random: onlyInSteps,
  };
}

/** What a function of the schema gives: it reads nothing but its arguments. */
export function applied(
  application: Application,
  judge: Judge,
  name: string,
  args: readonly unknown[],
  decided: World['decided'],
): unknown {
  const { params, value } = named(application.functions, name);
  const world = pureWorld(application, judge, {
    field: onlyArguments,
    derived: onlyArguments,
    decided,
  });
  return evaluate(value, { world, locals: localsOf(params, args) });
}

/** Arguments under the names of their parameters. */
export function localsOf(
  params: readonly Parameter[],
  args: readonly unknown[],
): Readonly<Record<string, unknown>> {
  return Object.fromEntries(params.map((param, i) => [param.name, args[i]]));
}

function onlyArguments(): never {
  throw new Error('a function reads nothing but its arguments');
}

function onlyInSteps(): never {
  throw new Error('a derived value asks nothing of the environment');
}
