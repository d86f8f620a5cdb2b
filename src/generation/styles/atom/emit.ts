import {
  writtenActions,
  type Action,
  type Application,
  type Derived,
  type Reaction,
  type Store,
} from '../../../model/application.js';
import { historyReadings as told, moves } from '../../../model/history.js';
import type { Task } from '../../../model/tasks.js';
import {
  arrow,
  arrowBody,
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
  property,
  scoped,
  type Code,
} from '../../build/code.js';
import type { Module } from '../../build/module.js';
import { pascal } from '../../build/reserved.js';
import type { EmitOptions } from '../../emit-options.js';
import { askInStore } from '../../shared/ask-in-store.js';
import { savedPlan } from '../../shared/beginnings.js';
import { derivedInOrder } from '../../shared/derived-order.js';
import { narrowedIn, needsResultType, partKey } from '../../shared/expression-facts.js';
import { historyPlan, historyReadings, withHistory } from '../../shared/histories.js';
import { lazyStore, memberOf, orNull } from '../../shared/lazy-stores.js';
import { Output } from '../../shared/output.js';
import { parametersOf } from '../../shared/parameters.js';
import { boundOf, payloadParameters } from '../../shared/payload-parameters.js';
import { givenType, optionalMark, payloadTypes } from '../../shared/payloads.js';
import { printExpr, type Reading } from '../../shared/print-expression.js';
import { boundFor, readByReactions } from '../../shared/reactions.js';
import { laterMoments, startOf, type StartDeed } from '../../shared/task-deeds.js';
import { planEntries } from '../../shared/task-plan.js';
import { taskReadings } from '../../shared/task-types.js';
import { aroundEntries, aroundMembers, type Capabilities } from '../../shared/handed-over.js';
import { emitStoresIndex } from '../../shared/stores-index.js';
import { pureReading } from '../../shared/reading.js';
import { AtomBody } from './atom-body.js';
import type { Nodes } from './nodes.js';

/** The atom style: small units of state, and derived values that note what they read. */
export function emitAtom(application: Application, options: EmitOptions): Output {
  const output = new Output(application, options);
  const around = addTypes(output);
  for (const store of application.stores) new AtomStore(output, store, around).emit();
  emitIndex(output);
  return output;
}

function addTypes(output: Output): string {
  const { types, application } = output;
  const readers = types.add('Readers', (own, module) => {
    const views = module.type('runtime/atoms', 'AtomViews');
    const stores = application.stores.map((store) => {
      const state = types.state(store, module);
      const fields = store.single ? code`{ readonly value: ${state} }` : state;
      const history = historyReadings(store, module);
      const of = joined([fields, types.derived(store, module), history], ' & ');
      const readings = taskReadings(output, store, module);
      const tasks = isNothing(readings)
        ? nothing
        : code`${module.type('runtime/atom-tasks', 'TaskViews')}<${readings}>`;
      const all = joined([code`${views}<${of}>`, tasks], ' & ');
      return code`readonly ${entry(store.name, orNull(store, all))};`;
    });
    return code`${doc('The fields and derived values of all stores, to be read.')}export interface ${own} {\n${stores}\n}`;
  });
  return types.add('Around', (own, module) => {
    const tools = module.type('runtime/transaction', 'Tools');
    const members = [
      code`readonly graph: ${module.type('runtime/atoms', 'Graph')};`,
      ...aroundMembers(application, module, {
        tasks: ['runtime/atom-tasks', 'AtomTasks'],
        histories: ['runtime/atom-histories', 'AtomHistories'],
      }),
      code`${doc('All stores, once they are made.')}readonly stores: () => ${types.use(readers, module)};`,
    ];
    return code`${doc('What a store is made with.')}export interface ${own} extends ${tools} {\n${members}\n}`;
  });
}

class AtomStore implements Nodes {
  readonly #module: Module;
  readonly #own = new Map<string, Name>();
  readonly #around = new Map<string, Name>();
  readonly #moves = moves.map((name) => new Name(name));

  constructor(
    readonly output: Output,
    readonly store: Store,
    readonly aroundType: string,
  ) {
    this.#module = output.module(
      `stores/${store.name}`,
      store.about ?? `The store '${store.name}'`,
    );
    for (const { name } of [...store.fields, ...store.derived, ...store.tasks])
      this.#own.set(name, new Name(name));
  }

  node(store: string, name: string): Code {
    if (store === this.store.name) return named(this.#own.get(name) ?? new Name(name));
    const member = memberOf(this.output.application, this.store, store, name);
    return code`${this.around('stores')}()${property(store)}${member}`;
  }

  around(name: string): Name {
    const known = this.#around.get(name) ?? new Name(name);
    this.#around.set(name, known);
    return known;
  }

  emit(): void {
    const { store, output } = this;
    const graph = this.around('graph');
    const fields = store.fields.map((field) => {
      const type = output.types.type(field.type, this.#module);
      const name = data(store.single ? store.name : `${store.name}.${field.name}`);
      const about = doc(field.about);
      // The compiler finds these from what they are at the start.
      const isPlain = ['boolean', 'number', 'string'].includes(field.type.kind);
      const of = isPlain ? nothing : code`<${type}>`;
      return code`${about}const ${this.node(store.name, field.name)} = ${graph}.atom${of}(${name}, ${data(field.default)});`;
    });
    const inOrder = derivedInOrder(output.application).filter((one) => one.store === store);
    const derived = inOrder.map(({ derived: value }) => this.#derived(value));
    const tasks = store.tasks.map((task) => this.#task(task));
    const actions = writtenActions(store).map(
      (action) => code`${doc(action.about)}${entry(action.name, this.#action(action))},`,
    );
    const history = this.#history();
    const reactions = store.reactions.flatMap((reaction) => this.#reaction(reaction));
    const nodes = object([...this.#own].map(([name, own]) => entry(name, named(own))));
    // One that has no atoms says itself that it is being made.
    const making =
      store.fields.length === 0 && store.reactions.length > 0
        ? code`${graph}.making(${data(store.name)});`
        : nothing;
    const body = joined(
      [
        this.#saved(),
        making,
        ...withHistory(fields, history, derived),
        joined(tasks, '\n\n'),
        joined(reactions, '\n'),
        code`return {\n...${graph}.views(${nodes}),${this.#movesOf()}\n\n${joined(actions, '\n\n')}\n};`,
      ],
      '\n\n',
    );
    const create = this.#module.exported(`create${pascal(store.name)}`);
    const around = object([...this.#around].map(([name, own]) => entry(name, named(own))));
    const type = output.types.use(this.aroundType, this.#module);
    const scope = [...this.#around.values(), ...this.#own.values(), ...this.#moves];
    this.#module.add(
      scoped(scope, code`export function ${create}(${around}: ${type}) {\n${body}\n}`),
      ...lazyStore(output, store, this.#module, ['runtime/atom-lazy', create]),
    );
  }

  /** What is kept in storage: said before there are atoms that begin with it. */
  #saved(): Code {
    const plan = savedPlan(this.output, this.store, this.#module);
    if (plan === undefined) return nothing;
    return code`${this.around('saved')}.add(${data(this.store.name)}, ${plan});`;
  }

  /** What can be undone: two atoms that tell of it, and two actions. */
  #history(): Code {
    const plan = historyPlan(this.store);
    if (plan === undefined) return nothing;
    const names = [...told.map((name) => this.#own.get(name) as Name), ...this.#moves];
    const made = object(names.map((name) => entry(name.wanted, named(name))));
    return code`const ${made} = ${this.around('histories')}.of(${data(this.store.name)}, ${plan});`;
  }

  #movesOf(): Code {
    if (this.store.history === undefined) return nothing;
    return code`\n${joined(
      this.#moves.map((name) => code`${entry(name.wanted, named(name))},`),
      '\n',
    )}`;
  }

  #derived(derived: Derived): Code {
    const { store, output } = this;
    const module = this.#module;
    const locals = parametersOf(derived);
    const reading = {
      ...this.#pureReading(),
      locals: new Map(locals.map(({ name, own }) => [name, named(own)])),
    };
    const names: Name[] = [];
    const held = new Map<string, Code>();
    const lines = narrowedIn([derived.value]).map((node) => {
      const own = new Name(
        `${node.store === store.name ? node.name : `${node.store}${pascal(node.name)}`}Now`,
      );
      names.push(own);
      const line = code`const ${own} = ${printExpr(node, reading)};`;
      held.set(partKey(node), named(own));
      return line;
    });
    const value = printExpr(derived.value, {
      ...reading,
      held: (expr) =>
        expr.kind === 'field' || expr.kind === 'derived' ? held.get(partKey(expr)) : undefined,
    });
    const own = locals.map((local) => local.own);
    const written = locals.map(
      (local) => code`${local.own}: ${output.types.type(local.type, module)}`,
    );
    const compute =
      lines.length === 0
        ? arrow(own, value, written)
        : arrowBody([...own, ...names], joined([...lines, code`return ${value};`], '\n'), written);
    const name = data(`${store.name}.${derived.name}`);
    const type = output.types.type(derived.value.type, module);
    const graph = this.around('graph');
    const args = joined(
      locals.map((local) => output.types.type(local.type, module)),
      ', ',
    );
    const isPlain = !needsResultType(derived.value);
    const made =
      locals.length === 0
        ? code`${graph}.derived${isPlain ? nothing : code`<${type}>`}(${name}, ${compute})`
        : code`${graph}.derivedFor${isPlain ? nothing : code`<[${args}], ${type}>`}(${name}, ${compute})`;
    return code`${doc(derived.about)}const ${this.node(store.name, derived.name)} = ${made};`;
  }

  #action(action: Action): Code {
    const { store, output } = this;
    const module = this.#module;
    const forReactions = readByReactions(output.application, store, action);
    const payload = new Name('payload');
    const body = new AtomBody(output, store, action, module, this, forReactions);
    if (body.reads('payload')) body.locals.set('payload', named(payload));
    const statements = body.body();
    const name = data(`${store.name}.${action.name}`);
    const graph = this.around('graph');
    if (action.payload === undefined)
      return code`${graph}.action(${name}, ${arrowBody([], statements)})`;
    const type = output.types.payload(store, action, module);
    const given = givenType(output, store, action, module);
    const isPlain = !action.acceptsText && action.payloadDefault === undefined;
    const types = isPlain ? nothing : code`<${type}, [payload${optionalMark(action)}: ${given}]>`;
    const own = body.reads('payload') ? payload : new Name('_payload');
    return code`${graph}.action${types}(${name}, ${arrowBody([own], statements, [code`${own}: ${type}`])})`;
  }

  #reaction(reaction: Reaction): Code[] {
    const type = reaction.given.find(({ name }) => name === 'payload')?.type;
    const payload = type === undefined ? code`unknown` : this.output.types.type(type, this.#module);
    const work = this.#reactionWork(reaction, payload);
    const causes = [...new Set(reaction.to.map((to) => `${to.store}.${to.action}`))];
    const to = data(causes.length === 1 ? (causes[0] ?? '') : causes);
    return [code`${this.around('graph')}.afterAction(${to}, ${work});`];
  }

  /** What is done after something: a function of its payload, of this type, and of what is given besides. */
  #reactionWork(reaction: Reaction, payloadType: Code): Code {
    const { store, output } = this;
    const module = this.#module;
    const payload = new Name('payload');
    const body = new AtomBody(
      output,
      store,
      { requires: [], let: [], steps: reaction.steps },
      module,
      this,
    );
    const bound = boundOf(boundFor(reaction));
    for (const { name, own } of bound) body.locals.set(name, named(own));
    if (body.reads('payload')) body.locals.set('payload', named(payload));
    const statements = body.body();
    const { names, written } = payloadParameters(
      output,
      module,
      body.reads('payload') ? payload : undefined,
      payloadType,
      bound,
    );
    return arrowBody(names, statements, written);
  }

  /** A task: its plan, and what it does. */
  #task(task: Task): Code {
    const { store, output } = this;
    const { application } = output;
    const module = this.#module;
    const ask = askInStore(output, module, store, task, this.#pureReading());
    const plan = planEntries(application, module, task, ask);
    const start = startOf(application, store, task);
    const type = output.types.payload(store, task, module);
    const moments = laterMoments(application, store, task).map(({ moment, deed }) =>
      entry(moment, this.#reactionWork(deed, type)),
    );
    const entries = [
      ...plan,
      ...(start === undefined ? [] : [entry('start', this.#starting(task, start))]),
      ...moments,
    ].map((one) => code`${one},`);
    const name = data(`${store.name}.${task.name}`);
    const types = payloadTypes(output, store, task, module);
    return code`${doc(task.about)}const ${this.node(store.name, task.name)} = ${this.around('tasks')}.task${types}(${name}, {\n${entries}\n});`;
  }

  #starting(task: Task, deed: StartDeed): Code {
    const { store, output } = this;
    const payload = new Name('payload');
    const body = new AtomBody(output, store, deed, this.#module, this, deed.later);
    if (body.reads('payload')) body.locals.set('payload', named(payload));
    const statements = body.body();
    const type = output.types.payload(store, task, this.#module);
    if (!body.reads('payload')) return arrowBody([], statements);
    return arrowBody([payload], statements, [code`${payload}: ${type}`]);
  }

  /** How an expression is written that asks nothing of the environment. */
  #pureReading(): Reading {
    return {
      ...pureReading(
        this.output,
        this.#module,
        (owner, name) => code`${this.node(owner, name)}.get()`,
      ),
      asked: (owner, name, args) => code`${this.node(owner, name)}(${args}).get()`,
      task: (owner, name, reading) => code`${this.node(owner, name)}${property(reading)}.get()`,
    };
  }
}

const capabilities: Capabilities = {
  engine: ['runtime/atoms', 'Graph'],
  lazy: { made: ['runtime/atom-lazy', 'LazyStores'], isClass: true },
  saved: { made: ['runtime/saved', 'SavedStores'], isClass: true },
  histories: { made: ['runtime/atom-histories', 'AtomHistories'], isClass: true },
  tasks: ['runtime/tasks', 'Tasks'],
  states: (graph, order, module) =>
    code`${module.value('runtime/atom-log', 'committedStates')}(${joined([named(graph), order ?? nothing], ', ')})`,
};

function emitIndex(output: Output): void {
  emitStoresIndex(output, {
    about: 'Stores of atoms: get and watch one at a time, change them by actions.',
    capabilities,
    engine: 'graph',
    around: (graph, stores, { lazy, saved, histories, tasks }, module) => {
      const all = lazy === undefined ? named(stores) : code`${lazy}.all(${stores})`;
      const working =
        tasks && code`new ${module.value('runtime/atom-tasks', 'AtomTasks')}(${graph}, ${tasks})`;
      const members = [
        entry('graph', named(graph)),
        ...aroundEntries({ saved, histories }, working),
        code`stores: (): ${output.types.use('Readers', module)} => ${all}`,
        code`...${graph}.tools`,
      ];
      return object(members);
    },
    hasLazyStates: true,
    publicTypes: { atoms: ['AtomView'] },
  });
}
