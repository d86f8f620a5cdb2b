import { storeNamed, type Application, type Store } from '../../model/application.js';
import type { Operation, Service, Task } from '../../model/tasks.js';
import { code, data, doc, key, Name, nothing, scoped, word, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { pascal } from '../build/reserved.js';
import { orNull } from './lazy-stores.js';
import type { Output } from './output.js';
import { hasStep } from './reactions.js';
import { computesDelays } from './task-deeds.js';
import type { TypeFile } from './type-file.js';

/** What the types are called that stores with tasks need. */
export interface TaskTypes {
  /** What the application asks of the world outside; `undefined` if nothing. */
  readonly services: string | undefined;
  /** What can be read of the tasks, by store. */
  readonly tasks: string;
  /** The payloads of tasks that steps start, by their full names. */
  readonly started: string;
}

const known = new WeakMap<TypeFile, TaskTypes>();

/** Adds the types of services and tasks; `undefined` for an application that has no tasks. */
export function addTaskTypes(output: Output): TaskTypes | undefined {
  const { application, types } = output;
  if (application.stores.every(({ tasks }) => tasks.length === 0)) return undefined;
  const found = known.get(types);
  if (found !== undefined) return found;
  const made = {
    services: addServices(application, types),
    tasks: addReadings(application, types),
    started: addStarted(application, types),
  };
  known.set(types, made);
  return made;
}

function addServices(application: Application, types: TypeFile): string | undefined {
  if (application.services.length === 0) return undefined;
  const names = new Map(
    application.services.map((service) => [
      service.name,
      types.add(`${pascal(service.name)}Service`, (own, module) =>
        serviceType(service, types, own, module),
      ),
    ]),
  );
  return types.add('Services', (own, module) => {
    const members = application.services.map(
      ({ name, about }) =>
        code`${doc(about)}readonly ${key(name)}: ${types.use(names.get(name) ?? '', module)};`,
    );
    return code`${doc('What the application asks of the world outside.')}export interface ${own} {\n${members}\n}`;
  });
}

function serviceType(service: Service, types: TypeFile, own: Name, module: Module): Code {
  const members = service.operations.map(
    (one) => code`${doc(one.about)}${key(one.name)}(${operationType(one, types, module)};`,
  );
  return code`${doc(service.about)}export interface ${own} {\n${members}\n}`;
}

/** The parameters of an operation and what it gives, from after the first parenthesis. */
function operationType(
  { payload, result, results }: Operation,
  types: TypeFile,
  module: Module,
): Code {
  const given = payload === undefined ? code`undefined` : types.type(payload, module);
  const signal = module.type('runtime/services', 'CallSignal');
  const answer = result === undefined ? code`unknown` : types.type(result, module);
  const gives =
    results === undefined
      ? code`${answer} | PromiseLike<${answer}>`
      : code`${module.type('runtime/services', 'ManyValues')}<${types.type(results, module)}>`;
  return code`payload: ${given}, signal: ${signal}): ${gives}`;
}

function addReadings(application: Application, types: TypeFile): string {
  const { stores } = application;
  const names = new Map(
    stores.flatMap((store) =>
      store.tasks.length === 0
        ? []
        : [
            [
              store.name,
              types.add(`${pascal(store.name)}Tasks`, (own, module) => {
                const readings = module.type('runtime/task-outcomes', 'TaskReadings');
                const members = store.tasks.map((task) => {
                  const payload = payloadOf(types, store, task, module);
                  return code`${doc(task.about)}readonly ${key(task.name)}: ${readings}<${payload}>;`;
                });
                return code`${doc(`What goes on of the tasks of '${store.name}'.`)}export interface ${own} {\n${members}\n}`;
              }),
            ] as const,
          ],
    ),
  );
  return types.add('AppTasks', (own, module) => {
    const members = [...names].map(
      ([name, type]) =>
        code`readonly ${key(name)}: ${orNull(storeNamed(application, name), types.use(type, module))};`,
    );
    return code`${doc('What goes on of the tasks of all stores.')}export interface ${own} {\n${members}\n}`;
  });
}

/** The type of a task's payload, `null` for none. */
export function payloadOf(types: TypeFile, store: Store, task: Task, module: Module): Code {
  return task.payload === undefined ? code`null` : types.payload(store, task, module);
}

function addStarted({ stores }: Application, types: TypeFile): string {
  return types.add('StartPayloads', (own, module) => {
    const members = stores.flatMap((store) =>
      store.tasks.map(
        (task) =>
          code`readonly ${key(`${store.name}.${task.name}`)}: ${types.payload(store, task, module)};`,
      ),
    );
    return code`${doc('What tasks are started with.')}export interface ${own} {\n${members}\n}`;
  });
}

/** What can be read of the tasks of a store, as part of its type; nothing if it has none. */
export function taskReadings(output: Output, store: Store, module: Module): Code {
  const names = addTaskTypes(output);
  if (names === undefined || store.tasks.length === 0) return nothing;
  const own = code`${output.types.use(names.tasks, module)}[${data(store.name)}]`;
  return store.lazy ? code`${module.global('NonNullable')}<${own}>` : own;
}

/** How the functions of actions ask for tasks, as far as any of them does; how they cancel is up to the style. */
export function taskTools(
  output: Output,
  module: Module,
  cancelling: (tasks: Code) => Code,
): readonly Code[] {
  const { application, types } = output;
  const names = addTaskTypes(output);
  if (names === undefined) return [];
  const started = types.use(names.started, module);
  const task = new Name('Task');
  const tools: Code[] = [];
  const add = (about: string, name: string, type: Code) =>
    tools.push(code`${doc(about)}readonly ${word(name)}: ${type};`);
  if (hasStep(application, 'start'))
    add(
      'Asks for the start of a task after the action.',
      'start',
      scoped(
        [task],
        code`<${task} extends keyof ${started}>(task: ${task}, payload?: ${started}[${task}]) => void`,
      ),
    );
  if (hasStep(application, 'cancel'))
    add(
      'Abandons the runs of tasks, or those of one value.',
      'cancel',
      cancelling(code`tasks: readonly (keyof ${started})[], ...per: readonly unknown[]`),
    );
  if (computesDelays(application))
    add(
      'Sets how long a task waits before its call, in milliseconds.',
      'delay',
      code`(ms: number) => void`,
    );
  return tools;
}
