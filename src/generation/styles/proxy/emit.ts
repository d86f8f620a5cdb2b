import {
  writtenActions,
  type Action,
  type Application,
  type Parameter,
  type Reaction,
  type Store,
} from '../../../model/application.js';
import type { Moment, Task } from '../../../model/tasks.js';
import {
  code,
  doc,
  entry,
  joined,
  key,
  Name,
  named,
  nothing,
  object,
  property,
  scoped,
  type Code,
} from '../../build/code.js';
import type { Module } from '../../build/module.js';
import { pascal } from '../../build/reserved.js';
import type { EmitOptions } from '../../emit-options.js';
import { addAppView, addDerivedTable, viewOf } from '../../shared/derived-table.js';
import { historyPlan, historyReadings, historyTools, moveMembers } from '../../shared/histories.js';
import { attachedWith, lazyExports, orNull, storeTypes, within } from '../../shared/lazy-stores.js';
import { handedOver, tableOfStores, type Capabilities } from '../../shared/handed-over.js';
import { optionsParameter, optionsType } from '../../shared/options-type.js';
import { Output } from '../../shared/output.js';
import { addRunPayloads, aroundTypes, givenType, optionalMark } from '../../shared/payloads.js';
import { exportTypes } from '../../shared/public-types.js';
import { askOfApp } from '../../shared/ask-of-app.js';
import { savedPlan } from '../../shared/beginnings.js';
import {
  boundFor,
  reactionNames,
  readByReactions,
  resetsStores,
  takesGiven,
} from '../../shared/reactions.js';
import { laterMoments, momentName, startOf } from '../../shared/task-deeds.js';
import { planEntries } from '../../shared/task-plan.js';
import { taskReadings, taskTools } from '../../shared/task-types.js';
import { ProxyBody } from './proxy-body.js';

/** The proxy style: live objects that are read like plain ones and changed in place by actions. */
export function emitProxy(application: Application, options: EmitOptions): Output {
  const output = new Output(application, options);
  const app = addTypes(output);
  for (const store of application.stores) new ProxyStore(output, store, app).emit();
  emitIndex(output);
  return output;
}

function addTypes(output: Output): string {
  const { types, application } = output;
  const app = addAppView(output);
  const run = addRunPayloads(output);
  types.add('Editable', (own, module) => {
    const writable = module.type('runtime/working-copies', 'Writable');
    const stores = application.stores.map((store) => {
      const state = types.state(store, module);
      const fields = code`${writable}<${store.single ? code`{ value: ${state} }` : state}>`;
      const tasks = taskReadings(output, store, module);
      const history = historyReadings(store, module);
      const all = joined([fields, types.derived(store, module), history, tasks], ' & ');
      return code`readonly ${entry(store.name, orNull(store, all))};`;
    });
    return code`${doc('The stores as actions change them.')}export interface ${own} {\n${stores}\n}`;
  });
  types.add('Around', (own, module) => {
    const [payload, given] = [new Name('Payload'), new Name('Given')];
    const params = takesGiven(application)
      ? code`<${payload} = undefined, ${given} = unknown>`
      : code`<${payload} = undefined>`;
    const action = new Name('Action');
    const all = types.app(module);
    const members = [
      code`readonly payload: ${payload};`,
      ...(takesGiven(application)
        ? [
            code`${doc('What was bound before, and the answer to a call.')}readonly given: ${given};`,
          ]
        : []),
      ...(run === undefined
        ? []
        : [
            code`${doc('Does another action as part of this one.')}readonly run: ${scoped([action], code`<${action} extends keyof ${types.use(run, module)}>(action: ${action}, payload?: ${types.use(run, module)}[${action}]) => void`)};`,
          ]),
      ...(resetsStores(application)
        ? [
            code`${doc('Puts stores back to what they were at the start.')}readonly resetStores: (...stores: readonly (keyof ${all})[]) => void;`,
          ]
        : []),
      ...taskTools(output, module, (tasks) => code`(${tasks}) => void`),
      ...historyTools(application),
    ];
    const tools = module.type('runtime/transaction', 'Tools');
    return scoped(
      [payload, given],
      code`${doc('What actions are given besides the stores.')}export interface ${own}${params} extends ${tools} {\n${members}\n}`,
    );
  });
  const actions = new Map(
    application.stores.map((store) => [
      store.name,
      types.add(`${pascal(store.name)}Actions`, (own, module) =>
        actionsOf(output, store, own, module),
      ),
    ]),
  );
  types.add('Stores', (own, module) => {
    const stores = application.stores.map((store) => {
      const view = viewOf(output, store, module);
      const all = joined([view, types.use(actions.get(store.name) ?? '', module)], ' & ');
      return code`readonly ${entry(store.name, orNull(store, all))};`;
    });
    return code`${doc('The live stores: their fields, derived values and actions.')}export interface ${own} {\n${stores}\n}`;
  });
  return app;
}

function actionsOf(output: Output, store: Store, own: Name, module: Module): Code {
  const outcome = module.type('runtime/transaction', 'Outcome');
  const members = writtenActions(store).map((action) => {
    const given =
      action.payload === undefined
        ? nothing
        : code`payload${optionalMark(action)}: ${givenType(output, store, action, module)}`;
    return code`${doc(action.about)}readonly ${key(action.name)}: (${given}) => ${outcome};`;
  });
  for (const task of store.tasks) {
    const given =
      task.payload === undefined
        ? nothing
        : code`payload${optionalMark(task)}: ${givenType(output, store, task, module)}`;
    const made = module.type('runtime/live-tasks', 'LiveTask');
    members.push(code`${doc(task.about)}readonly ${key(task.name)}: ${made}<[${given}]>;`);
  }
  members.push(...moveMembers(store, named(outcome)));
  return code`${doc(`The actions of '${store.name}'.`)}export interface ${own} {\n${members}\n}`;
}

class ProxyStore {
  readonly #module: Module;

  constructor(
    readonly output: Output,
    readonly store: Store,
    readonly app: string,
  ) {
    this.#module = output.module(
      `stores/${store.name}`,
      store.about ?? `The store '${store.name}'`,
    );
  }

  emit(): void {
    const { store, output } = this;
    const module = this.#module;
    const initial = output.initial(store, module);
    const methods = writtenActions(store).map((action) => this.#action(action));
    const actions = module.own('actions');
    module.add(code`const ${actions} = {\n${joined(methods, '\n\n')}\n};`);
    const history = historyPlan(store);
    const saved = savedPlan(output, store, module);
    const tasks = store.tasks.map((task) => this.#task(task));
    const reactions = this.#reactions();
    const derived = addDerivedTable(output, store, module, this.app);
    const parts = [
      ...attachedWith(output, store, module),
      entry('initial', named(initial)),
      store.single ? entry('isValue', code`true`) : nothing,
      entry('actions', named(actions)),
      history === undefined ? nothing : entry('history', history),
      saved === undefined ? nothing : entry('saved', saved),
      tasks.length === 0 ? nothing : entry('tasks', code`{\n${tasks}\n}`),
      reactions.length === 0 ? nothing : entry('reactions', object(reactions)),
      derived === undefined ? nothing : entry('derived', named(derived)),
    ];
    const lines = parts.filter((part) => part !== nothing).map((part) => code`${part},`);
    const type = joined(
      [
        named(module.type('runtime/proxies', 'LiveStore')),
        ...storeTypes(store, module, {
          tasks: ['runtime/live-tasks', 'TaskedStore'],
          histories: ['runtime/live-histories', 'UndoneStore'],
        }),
      ],
      ' & ',
    );
    module.add(
      code`export const ${module.exported(`${store.name}Store`)} = {\n${lines}\n} satisfies ${type};`,
    );
  }

  #action(action: Action): Code {
    const forReactions = readByReactions(this.output.application, this.store, action);
    const body = new ProxyBody(this.output, this.store, action, this.#module, forReactions);
    const payload =
      action.payload === undefined
        ? undefined
        : this.output.types.payload(this.store, action, this.#module);
    return code`${doc(action.about)}${this.#function(body, key(action.name), payload)},`;
  }

  /** A task: its plan, and the functions for what it does. */
  #task(task: Task): Code {
    const { store, output } = this;
    const { application, types } = output;
    const module = this.#module;
    const plan = planEntries(
      application,
      module,
      task,
      askOfApp(output, module, this.app, store, task),
    );
    const payload = task.payload === undefined ? undefined : types.payload(store, task, module);
    const entries = [...plan];
    const add = (moment: Moment, body: ProxyBody, bound: readonly Parameter[]) => {
      const own = module.own(momentName(task, moment));
      const written = this.#function(body, named(own), payload, bound);
      const about = moment === 'start' ? doc(task.about) : nothing;
      module.add(code`${about}function ${written}`);
      entries.push(entry(moment, named(own)));
    };
    const start = startOf(application, store, task);
    if (start !== undefined)
      add('start', new ProxyBody(output, store, start, module, start.later), []);
    for (const { moment, deed } of laterMoments(application, store, task)) {
      const body = new ProxyBody(output, store, deedOf(deed), module);
      const bound = boundFor(deed);
      for (const { name } of bound)
        body.locals.set(name, code`${body.use('given')}${property(name)}`);
      add(moment, body, bound);
    }
    return code`${entry(task.name, code`{\n${entries.map((one) => code`${one},`)}\n}`)},`;
  }

  /** A function with its parameters: `admit({ deck }: Editable, { payload }: Around<AdmitPayload>) { ... }`. */
  #function(
    body: ProxyBody,
    name: Code,
    payload: Code | undefined,
    taken: readonly Parameter[] = [],
  ): Code {
    const { types } = this.output;
    const module = this.#module;
    const statements = body.statements();
    const stores = object(
      this.output.application.stores.flatMap((store) => {
        const own = body.stores.get(store.name);
        return own === undefined ? [] : [entry(store.name, named(own))];
      }),
    );
    const around = object([...body.around].map(([used, own]) => entry(used, named(own))));
    const unused = new Name('_stores');
    const hasAround = body.around.size > 0;
    const read = body.around.has('payload') ? payload : undefined;
    const of = aroundTypes(this.output, module, read, taken);
    const params = [
      body.stores.size > 0
        ? code`${stores}: ${within(this.store, types.use('Editable', module), module)}`
        : hasAround
          ? code`${unused}: ${types.use('Editable', module)}`
          : nothing,
      hasAround ? code`${around}: ${types.use('Around', module)}${of}` : nothing,
    ];
    const scope = [unused, ...body.stores.values(), ...body.around.values(), ...body.declared];
    return scoped(scope, code`${name}(${joined(params, ', ')}) {\n${statements}\n}`);
  }

  /** What the store does after actions of others: `'deck.admit': addToEntries`. */
  #reactions(): readonly Code[] {
    const { store, output } = this;
    const module = this.#module;
    const byAction = new Map<string, Code[]>();
    const names = reactionNames(store);
    for (const reaction of store.reactions) {
      const own = module.own(names.get(reaction) ?? 'react');
      const body = new ProxyBody(output, store, deedOf(reaction), module);
      const bound = boundFor(reaction);
      for (const { name } of bound)
        body.locals.set(name, code`${body.use('given')}${property(name)}`);
      const payload = reaction.given.find(({ name }) => name === 'payload');
      const type = payload === undefined ? undefined : output.types.type(payload.type, module);
      const causes = [...new Set(reaction.to.map((to) => `${to.store}.${to.action}`))];
      const written = this.#function(body, named(own), type, bound);
      module.add(code`${doc(`After ${causes.join(', ')}.`)}function ${written}`);
      for (const cause of causes) byAction.set(cause, [...(byAction.get(cause) ?? []), named(own)]);
    }
    return [...byAction].map(([cause, handlers]) => {
      const [only] = handlers;
      return entry(
        cause,
        handlers.length === 1 && only !== undefined ? only : code`[${joined(handlers, ', ')}]`,
      );
    });
  }
}

const deedOf = ({ steps }: Reaction) => ({ requires: [], let: [], steps });

const capabilities: Capabilities = {
  engine: ['runtime/proxies', 'Live'],
  lazy: { made: ['runtime/defined-lazy', 'attaching'], isClass: false },
  saved: { made: ['runtime/defined-saved', 'savedOf'], isClass: false },
  histories: { made: ['runtime/live-histories', 'undoing'], isClass: false },
  tasks: ['runtime/tasks', 'Tasks'],
  working: (live, tasks, _given, module) =>
    code`${module.value('runtime/live-tasks', 'workOn')}(${live}, ${tasks.run});`,
  states: (live) => code`() => ${live}.states`,
};

function emitIndex(output: Output): void {
  const { application, types } = output;
  const module = output.module(
    'index',
    'Live stores: read them like plain objects, change them by actions.',
  );
  const [given, live] = [new Name('options'), new Name('live')];
  const options = optionsType(output, module);
  const handed = handedOver(output, module, capabilities, live, given, false);
  const { lazy, saved, histories, run, tasks, logging } = handed;
  const used = [lazy, saved, histories, run, tasks, logging].filter((one) => one !== undefined);
  const stores = tableOfStores(output, (name) =>
    named(module.value(`stores/${name}`, `${name}Store`)),
  );
  const of = [types.use('Stores', module), types.app(module)];
  const members = [
    code`...${module.value('runtime/proxies', 'liveStores')}<${joined(of, ', ')}>(${live}),`,
    lazy === undefined
      ? nothing
      : code`${doc('Attaches a lazy store; does nothing if it is attached already.')}attach: ${lazy},`,
    saved === undefined
      ? nothing
      : code`${doc('Takes in what a storage has, in one transaction, and saves there from then on. It may answer later.')}takeSaved: ${saved}.takeSaved,`,
  ].filter((one) => one !== nothing);
  const body = joined(
    [
      code`const ${live} = new ${module.value(...capabilities.engine)}(${output.checkTable(module)}, ${given});`,
      ...handed.before,
      code`${live}.make(${stores});`,
      ...handed.after,
      code`return ${members.length === 1 ? code`${module.value('runtime/proxies', 'liveStores')}<${joined(of, ', ')}>(${live})` : code`{\n${members}\n}`};`,
    ],
    '\n',
  );
  module.add(
    scoped(
      [given, live, ...used],
      code`${doc(application.title ?? application.about)}export function ${module.exported('createStores')}(${optionsParameter(output, given, options)}) {\n${body}\n}`,
    ),
    ...lazyExports(output),
    ...exportTypes(output),
  );
}
