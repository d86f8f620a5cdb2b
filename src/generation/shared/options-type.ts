import { hasSaved, hasTasks } from '../../model/application.js';
import { code, doc, joined, named, nothing, type Code, type Name } from '../build/code.js';
import type { Module } from '../build/module.js';
import { givenState } from './initial-states.js';
import type { Output } from './output.js';
import { publicName } from './public-types.js';
import { addTaskTypes } from './task-types.js';

/** The type of what stores are made with, declared in the entry; `more`: options of the style's own. */
export function optionsType(output: Output, module: Module, more: readonly Name[] = []): Name {
  const { application, options, types } = output;
  const bases = [
    module.type('runtime/transaction', 'EngineOptions'),
    ...(hasTasks(application) ? [module.type('runtime/task-outcomes', 'TaskOptions')] : []),
    ...(hasSaved(application) ? [module.type('runtime/saved', 'SavedOptions')] : []),
    ...(options.log ? [module.type('runtime/log', 'LoggingOptions')] : []),
    ...more,
  ];
  const services = addTaskTypes(output)?.services;
  const members = [
    services === undefined
      ? nothing
      : code`${doc('Whom tasks ask.')}readonly services: ${types.use(services, module)};`,
    options.begin === 'state'
      ? code`${doc('The state to begin from; what is missing, or does not fit, begins with its default.')}readonly state?: ${givenState(output, module)} | undefined;`
      : nothing,
  ].filter((one) => one !== nothing);
  const own = module.exported(publicName(output, 'Options'));
  const body = members.length === 0 ? code`{}` : code`{\n${members}\n}`;
  module.add(
    code`${doc('What stores are made with.')}export interface ${own} extends ${joined(bases.map(named), ', ')} ${body}`,
  );
  return own;
}

/** The parameter that stores are made with; it can be left out unless there are services to be given. */
export function optionsParameter(output: Output, given: Name, type: Name): Code {
  const hasServices = addTaskTypes(output)?.services !== undefined;
  return hasServices ? code`${given}: ${type}` : code`${given}: ${type} = {}`;
}
