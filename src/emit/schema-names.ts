import { exprOf, type Application } from '../model/application.js';
import { allSteps, exprsOf, type Binding, type Step } from '../model/steps.js';
import { localsOf } from './sources.js';

/** All names in a schema that generated files may write as they are: of members, and of all that is local. */
export function schemaNames({ stores, functions }: Application): readonly string[] {
  const ofStores = stores.flatMap(({ fields, derived, actions, reactions }) => [
    ...[...fields, ...derived, ...actions].map(({ name }) => name),
    ...derived.flatMap(({ params, value }) => [
      ...params.map(({ name }) => name),
      ...localsOf(value),
    ]),
    ...actions.flatMap(({ requires, let: bindings, steps }) => [
      ...namesOfBindings(bindings),
      ...requires.flatMap((requirement) => [
        ...(requirement.kind === 'value' ? [requirement.binding.name] : []),
        ...localsOf(exprOf(requirement)),
      ]),
      ...namesOfSteps(steps),
    ]),
    ...reactions.flatMap(({ steps }) => namesOfSteps(steps)),
  ]);
  const ofFunctions = functions.flatMap(({ name, params, value }) => [
    name,
    ...params.map((param) => param.name),
    ...localsOf(value),
  ]);
  return [...ofStores, ...ofFunctions];
}

function namesOfBindings(bindings: readonly Binding[]): string[] {
  return bindings.flatMap(({ name, value }) => [name, ...localsOf(value)]);
}

function namesOfSteps(steps: readonly Step[]): string[] {
  return allSteps(steps).flatMap((step) => [
    ...(step.kind === 'let' ? step.bindings.map(({ name }) => name) : []),
    ...('each' in step ? [step.each] : []),
    ...exprsOf(step).flatMap(localsOf),
  ]);
}
