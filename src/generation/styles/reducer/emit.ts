import {
  hasLazy,
  writtenActions,
  type Action,
  type Application,
  type Reaction,
  type Store,
} from '../../../model/application.js';
import type { Moment, Task } from '../../../model/tasks.js';
import {
  arrow,
  code,
  data,
  doc,
  entry,
  isNothing,
  joined,
  Name,
  named,
  nothing,
  object,
  scoped,
  type Code,
} from '../../build/code.js';
import type { Module } from '../../build/module.js';
import { namesUsed } from '../../build/print.js';
import { pascal } from '../../build/reserved.js';
import type { EmitOptions } from '../../emit-options.js';
import { addAppView, addDerivedTable } from '../../shared/derived-table.js';
import { historyPlan, historyReadings, historyTools } from '../../shared/histories.js';
import { attachedWith, orNull, storeTypes, within } from '../../shared/lazy-stores.js';
import { Output } from '../../shared/output.js';
import { addRunPayloads, givenType, optionalMark } from '../../shared/payloads.js';
import { askOfApp } from '../../shared/ask-of-app.js';
import { savedPlan } from '../../shared/beginnings.js';
import {
  boundFor,
  givesReactions,
  reactionNames,
  readByReactions,
  resetsStores,
  takesGiven,
} from '../../shared/reactions.js';
import { laterMoments, momentName, startOf, type StartDeed } from '../../shared/task-deeds.js';
import { planEntries } from '../../shared/task-plan.js';
import { addTaskTypes, taskTools } from '../../shared/task-types.js';
import { ReducerBody } from './reducer-body.js';
import { emitIndex, type Names } from './emit-index.js';

/** The reducer style: actions are data, and pure functions answer them with the next state. */
export function emitReducer(application: Application, options: EmitOptions): Output {
  const output = new Output(application, options);
  const names = addTypes(output);
  for (const store of application.stores) new ReducerStore(output, store, names).emit();
  emitIndex(output, names);
  return output;
}

function addTypes(output: Output): Names {
  const { types, application } = output;
  const app = addAppView(output);
  const run = addRunPayloads(output);
  const derived = types.add('Derived', (own, module) => {
    const computed = module.type('runtime/reducer', 'Computed');
    const stores = application.stores.map((store) => {
      const type = types.derived(store, module);
      const all = joined([type, historyReadings(store, module)], ' & ');
      const of = isNothing(all) ? code`{}` : all;
      const functions = code`${computed}<${types.app(module)}, ${of}>`;
      return code`readonly ${entry(store.name, orNull(store, functions))};`;
    });
    return code`${doc('What is derived from the state of all stores; each function remembers.')}export interface ${own} {\n${stores}\n}`;
  });
  const tasks = addTaskTypes(output);
  const around = types.add('Around', (own, module) => {
    const all = types.app(module);
    const [payload, given] = [new Name('Payload'), new Name('Given')];
    const params = takesGiven(application)
      ? code`<${payload} = undefined, ${given} = unknown>`
      : code`<${payload} = undefined>`;
    const members = [
      code`readonly payload: ${payload};`,
      ...(takesGiven(application)
        ? [
            code`${doc('What was bound before, and the answer to a call.')}readonly given: ${given};`,
          ]
        : []),
      code`${doc('The state of all stores.')}readonly app: ${all};`,
      code`readonly derived: ${types.use(derived, module)};`,
      ...(run === undefined
        ? []
        : [
            code`${doc('Does another action as part of this one.')}readonly run: ${runType(output, all, types.use(run, module))};`,
          ]),
      ...(resetsStores(application)
        ? [
            code`${doc('Puts stores back to what they were at the start.')}readonly resetStores: ${overApp(output, all, code`stores: readonly (keyof ${all})[]`)};`,
          ]
        : []),
      ...(givesReactions(application)
        ? [
            code`${doc('Binds values for what is done later: by reactions, and at later moments of a task.')}readonly bind: (given: object) => void;`,
          ]
        : []),
      ...(tasks === undefined
        ? []
        : [
            code`${doc('What goes on of the tasks, as of before the action.')}readonly tasks: ${types.use(tasks.tasks, module)};`,
          ]),
      ...taskTools(output, module, (given) => overApp(output, all, given)),
      ...historyTools(application),
    ];
    const tools = module.type('runtime/transaction', 'Tools');
    return scoped(
      [payload, given],
      code`${doc('What the functions of actions are given besides the state.')}export interface ${own}${params} extends ${tools} {\n${members}\n}`,
    );
  });
  return { app, derived, around };
}

/** The type of a function from the state of all stores to the next; where some are attached later, with those that are. */
function overApp(output: Output, all: Code, given: Code): Code {
  if (!hasLazy(output.application)) return code`(app: ${all}, ${given}) => ${all}`;
  const own = new Name('Own');
  return scoped([own], code`<${own} extends ${all}>(app: ${own}, ${given}) => ${own}`);
}

function runType(output: Output, all: Code, run: Code): Code {
  if (!hasLazy(output.application))
    return code`<K extends keyof ${run}>(app: ${all}, action: K, payload?: ${run}[K]) => ${all}`;
  const own = new Name('Own');
  return scoped(
    [own],
    code`<${own} extends ${all}, K extends keyof ${run}>(app: ${own}, action: K, payload?: ${run}[K]) => ${own}`,
  );
}

/** What a lazy store is given: there it is attached. */
function addOwnAround(output: Output, store: Store, names: Names): string {
  const { types } = output;
  const tasks = addTaskTypes(output);
  return types.add(`${pascal(store.name)}Around`, (own, module) => {
    const [payload, given] = [new Name('Payload'), new Name('Given')];
    const hasGiven = takesGiven(output.application);
    const params = hasGiven
      ? code`<${payload} = undefined, ${given} = unknown>`
      : code`<${payload} = undefined>`;
    const around = code`${types.use(names.around, module)}<${hasGiven ? code`${payload}, ${given}` : named(payload)}>`;
    const members = [
      code`readonly app: ${within(store, types.app(module), module)};`,
      code`readonly derived: ${within(store, types.use(names.derived, module), module)};`,
      ...(tasks === undefined || store.tasks.length === 0
        ? []
        : [code`readonly tasks: ${within(store, types.use(tasks.tasks, module), module)};`]),
    ];
    return scoped(
      [payload, given],
      code`${doc(`What the functions of '${store.name}' are given besides the state.`)}export interface ${own}${params} extends ${around} {\n${members}\n}`,
    );
  });
}

class ReducerStore {
  readonly #module: Module;
  readonly #initial: Name;
  readonly #around: string;

  constructor(
    readonly output: Output,
    readonly store: Store,
    readonly names: Names,
  ) {
    this.#module = output.module(
      `stores/${store.name}`,
      store.about ?? `The store '${store.name}'`,
    );
    this.#around = store.lazy ? addOwnAround(output, store, names) : names.around;
    const actions = this.#actionCreators();
    this.#module.add(...actions);
    this.#initial = output.initial(store, this.#module);
  }

  emit(): void {
    const { store, output } = this;
    const module = this.#module;
    const handlers = writtenActions(store).map((action) => {
      const own = module.own(action.name);
      const { isOverAll } = this.#action(action, own);
      return entry(action.name, this.#handler(own, isOverAll));
    });
    const history = historyPlan(store);
    const saved = savedPlan(output, store, module);
    const tasks = store.tasks.map((task) => this.#task(task));
    const reactions = this.#reactions();
    const derived = addDerivedTable(output, store, module, this.names.app);
    const parts = [
      ...attachedWith(output, store, module),
      entry('initial', named(this.#initial)),
      store.single ? entry('isValue', code`true`) : nothing,
      entry('actions', object(handlers)),
      history === undefined ? nothing : entry('history', history),
      saved === undefined ? nothing : entry('saved', saved),
      tasks.length === 0 ? nothing : entry('tasks', code`{\n${tasks}\n}`),
      reactions.length === 0 ? nothing : entry('reactions', object(reactions)),
      derived === undefined ? nothing : entry('derived', named(derived)),
    ];
    const type = joined(
      [
        named(module.type('runtime/reducer', 'ReducingStore')),
        ...storeTypes(store, module, {
          tasks: ['runtime/reducer-tasks', 'TaskedStore'],
          histories: ['runtime/reducer-histories', 'UndoneStore'],
        }),
      ],
      ' & ',
    );
    const lines = parts.filter((part) => part !== nothing).map((part) => code`${part},`);
    module.add(
      code`export const ${module.exported(`${store.name}Store`)} = {\n${lines}\n} satisfies ${type};`,
    );
  }

  #handler(own: Name, isOverAll: boolean): Code {
    if (!isOverAll) return named(own);
    return code`${this.#module.value('runtime/reducer', 'acrossStores')}(${own})`;
  }

  /** The function that makes the start of a task, with the one that makes its cancelling. */
  #taskCreator(task: Task): Code {
    const { store, output } = this;
    const full = `${store.name}.${task.name}`;
    const type = entry('type', data(full));
    const payload = new Name('payload');
    const start =
      task.payload === undefined
        ? arrow([], code`(${object([type])}) as const`)
        : arrow([payload], code`(${object([type, entry('payload', named(payload))])}) as const`, [
            code`${payload}${optionalMark(task)}: ${givenType(output, store, task, this.#module)}`,
          ]);
    const cancel = entry('type', data(`${full}.cancel`));
    const per = new Name('per');
    const cancelling =
      task.per === undefined
        ? arrow([], code`(${object([cancel])}) as const`)
        : arrow([per], code`(${object([cancel, entry('payload', named(per))])}) as const`, [
            code`${per}?: ${output.types.type(task.per.type, this.#module)}`,
          ]);
    const object_ = this.#module.global('Object');
    return code`${doc(task.about)}${entry(
      task.name,
      code`/* @__PURE__ */ ${object_}.assign(${start}, {\n${doc(`Abandons the runs of '${task.name}'.`)}${entry('cancel', cancelling)},\n})`,
    )},`;
  }

  /** The functions that make actions, and the type of what they make. */
  #actionCreators(): readonly Code[] {
    const { store, output } = this;
    const module = this.#module;
    const makers = module.exported(`${store.name}Actions`);
    const lines = store.actions.map((action) => {
      const type = entry('type', data(`${store.name}.${action.name}`));
      if (action.payload === undefined)
        return code`${doc(action.about)}${entry(action.name, arrow([], code`(${object([type])}) as const`))},`;
      const payload = new Name('payload');
      const given = code`${payload}${optionalMark(action)}: ${givenType(output, store, action, module)}`;
      const made = code`(${object([type, entry('payload', named(payload))])}) as const`;
      return code`${doc(action.about)}${entry(action.name, arrow([payload], made, [given]))},`;
    });
    for (const task of store.tasks) lines.push(this.#taskCreator(task));
    const type = module.exported(`${pascal(store.name)}Action`);
    const cancels = store.tasks.map(
      ({ name }) => code`ReturnType<(typeof ${makers})[${data(name)}]["cancel"]>`,
    );
    const made = code`ReturnType<(typeof ${makers})[keyof typeof ${makers}]>`;
    const of = lines.length === 0 ? code`never` : joined([made, ...cancels], ' | ');
    return [
      code`${doc(`Makes the actions of '${store.name}'.`)}export const ${makers} = {\n${lines}\n};`,
      code`export type ${type} = ${of};`,
    ];
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
      askOfApp(output, module, this.names.app, store, task),
    );
    const payload = task.payload === undefined ? undefined : types.payload(store, task, module);
    const start = startOf(application, store, task);
    const entries = [...plan];
    const add = (moment: Moment, body: ReducerBody) => {
      const own = module.own(momentName(task, moment));
      this.#function(own, moment === 'start' ? task.about : undefined, body, payload);
      entries.push(entry(moment, this.#handler(own, body.isOverAll)));
    };
    if (start !== undefined) {
      const body = this.#body(start, start.later);
      body.giveToReactions(start.later);
      add('start', body);
    }
    for (const { moment, deed } of laterMoments(application, store, task)) {
      const body = this.#body(deed, []);
      body.take(boundFor(deed));
      add(moment, body);
    }
    return code`${entry(task.name, code`{\n${entries.map((one) => code`${one},`)}\n}`)},`;
  }

  #body(deed: Action | Reaction | StartDeed, alsoRead: readonly string[]): ReducerBody {
    const whole = { requires: [], let: [], ...deed };
    return new ReducerBody(
      this.output,
      this.store,
      whole,
      this.#module,
      () => this.#initial,
      alsoRead,
    );
  }

  #action(action: Action, own: Name): ReducerBody {
    const forReactions = readByReactions(this.output.application, this.store, action);
    const body = this.#body(action, forReactions);
    body.giveToReactions(forReactions);
    const payload =
      action.payload === undefined
        ? undefined
        : this.output.types.payload(this.store, action, this.#module);
    this.#function(own, action.about, body, payload);
    return body;
  }

  #function(own: Name, about: string | undefined, body: ReducerBody, payload?: Code): void {
    const module = this.#module;
    const statements = body.statements();
    const type = body.isOverAll
      ? within(this.store, this.output.types.app(module), module)
      : this.output.types.state(this.store, module);
    const usesBase = namesUsed(statements).has(body.base);
    const base = usesBase ? body.base : new Name(`_${body.base.wanted}`);
    const around = body.aroundParameter(this.#around, payload);
    const params = around === nothing && !usesBase ? nothing : code`${base}: ${type}`;
    module.add(
      code`${doc(about)}${body.scope([base], code`function ${own}(${joined([params, around], ', ')}): ${type} {\n${statements}\n}`)}`,
    );
  }

  /** What the store does after actions of others: `'deck.admit': addToEntries`. */
  #reactions(): readonly Code[] {
    const { store, output } = this;
    const module = this.#module;
    const byAction = new Map<string, Code[]>();
    const names = reactionNames(store);
    for (const reaction of store.reactions) {
      const own = module.own(names.get(reaction) ?? 'react');
      const body = this.#body(reaction, []);
      body.take(boundFor(reaction));
      const payload = reaction.given.find(({ name }) => name === 'payload');
      const type = payload === undefined ? undefined : output.types.type(payload.type, module);
      const causes = reaction.to.map((to) => `${to.store}.${to.action}`);
      this.#function(own, `After ${causes.join(', ')}.`, body, type);
      for (const cause of new Set(causes))
        byAction.set(cause, [...(byAction.get(cause) ?? []), this.#handler(own, body.isOverAll)]);
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
