import { deedsOf, type Action, type Application, type Store } from '../../model/application.js';
import type { Task } from '../../model/tasks.js';
import { allSteps } from '../../model/step-kinds.js';
import type { Parameter } from '../../model/application.js';
import { code, doc, entry, key, nothing, objectType, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import type { Output } from './output.js';

/** The type in which a payload is given by callers. */
export function givenType(
  output: Output,
  store: Store,
  action: Action | Task,
  module: Module,
): Code {
  const type = output.types.payload(store, action, module);
  return action.acceptsText ? code`${module.type('runtime/from-text', 'FromText')}<${type}>` : type;
}

/** The type arguments of what callers give a payload: its type, and how they give it if that is another. */
export function payloadTypes(
  output: Output,
  store: Store,
  action: Action | Task,
  module: Module,
): Code {
  if (action.payload === undefined) return nothing;
  const type = output.types.payload(store, action, module);
  const isPlain = !action.acceptsText && action.payloadDefault === undefined;
  if (isPlain) return code`<${type}>`;
  const given = givenType(output, store, action, module);
  return code`<${type}, [payload${optionalMark(action)}: ${given}]>`;
}

/** The type of what is given by name besides the payload: `{ readonly result: Crossing }`. */
export function boundType(output: Output, module: Module, bound: readonly Parameter[]): Code {
  return objectType(
    bound.map(({ name, type }) => code`readonly ${entry(name, output.types.type(type, module))}`),
  );
}

/** The type arguments of what a function is given besides the stores: those of what it reads. */
export function aroundTypes(
  output: Output,
  module: Module,
  payload: Code | undefined,
  bound: readonly Parameter[],
): Code {
  if (bound.length > 0)
    return code`<${payload ?? code`undefined`}, ${boundType(output, module, bound)}>`;
  return payload === undefined ? nothing : code`<${payload}>`;
}

/** `?` after the name of a payload that may be left out. */
export function optionalMark({ payloadDefault }: Pick<Action, 'payloadDefault'>): Code {
  return payloadDefault === undefined ? nothing : code`?`;
}

/** The actions that others run, as `[store, action]`. */
function actionsRun({ stores }: Application): readonly (readonly [Store, Action])[] {
  const found = new Map<string, readonly [Store, Action]>();
  for (const owner of stores)
    for (const { steps } of deedsOf(owner))
      for (const step of allSteps(steps))
        if (step.kind === 'run') {
          const store = stores.find(({ name }) => name === step.store);
          const action = store?.actions.find(({ name }) => name === step.action);
          if (store !== undefined && action !== undefined)
            found.set(`${step.store}.${step.action}`, [store, action]);
        }
  return [...found.values()];
}

/** Adds the type of what the actions are given that others run; `undefined` if none is run. */
export function addRunPayloads(output: Output): string | undefined {
  const run = actionsRun(output.application);
  if (run.length === 0) return undefined;
  return output.types.add('RunPayloads', (own, module) => {
    const members = run.map(([store, action]) => {
      const type = output.types.payload(store, action, module);
      return code`readonly ${key(`${store.name}.${action.name}`)}: ${type};`;
    });
    return code`${doc('What the actions are given that other actions run.')}export interface ${own} {\n${members}\n}`;
  });
}
