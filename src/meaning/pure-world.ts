import { named, type Application, type Parameter } from '../model/application.js';
import { evaluate, type Local, type World } from './compile-expression.js';
import type { Judge } from './judge.js';

/** What an expression sees that asks nothing of the environment: a derived value, given how it reads the stores. */
export function pureWorld(
  application: Application,
  judge: Judge,
  read: Pick<World, 'field' | 'derived' | 'task' | 'history' | 'told'>,
): World {
  return {
    ...read,
    apply: functionsOf(application, judge, read.told),
    ...asksNothing(judge),
  };
}

/** What an expression sees that reads nothing but its arguments. */
export function argumentsOnly(application: Application, judge: Judge, told: World['told']): World {
  return {
    field: onlyArguments,
    derived: onlyArguments,
    task: onlyArguments,
    history: onlyArguments,
    told,
    apply: functionsOf(application, judge, told),
    ...asksNothing(judge),
  };
}

/** What the functions of the schema give: they read nothing but their arguments. */
export function functionsOf(
  { functions }: Application,
  judge: Judge,
  told: World['told'],
): World['apply'] {
  const apply = (name: string, args: readonly unknown[]): unknown => {
    const { params, value } = named(functions, name);
    return evaluate(value, { world, locals: localsOf(params, args) });
  };
  const world: World = {
    field: onlyArguments,
    derived: onlyArguments,
    task: onlyArguments,
    history: onlyArguments,
    told,
    apply,
    ...asksNothing(judge),
  };
  return apply;
}

function asksNothing(judge: Judge): Pick<World, 'fits' | 'newId' | 'now' | 'random'> {
  return {
    fits: (value, wanted) => judge.fits(value, wanted),
    newId: onlyInSteps,
    now: onlyInSteps,
    random: onlyInSteps,
  };
}

/** Arguments under the names of their parameters. */
export function localsOf(
  params: readonly Parameter[],
  args: readonly unknown[],
): Local | undefined {
  let locals: Local | undefined;
  for (const [i, { name }] of params.entries()) locals = { name, value: args[i], outer: locals };
  return locals;
}

function onlyArguments(): never {
  throw new Error('a function reads nothing but its arguments');
}

function onlyInSteps(): never {
  throw new Error('a derived value asks nothing of the environment');
}
