import {
  hasLazy,
  hasSaved,
  storeNamed,
  writtenActions,
  type Action,
  type Application,
  type Derived,
  type Reaction,
  type Store,
} from '../../../model/application.js';
import { historyReadings as told, moves } from '../../../model/history.js';
import type { Moment, Task } from '../../../model/tasks.js';
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
import { namesUsed } from '../../build/print.js';
import { pascal } from '../../build/reserved.js';
import type { EmitOptions } from '../../emit-options.js';
import { askInStore } from '../../shared/ask-in-store.js';
import { savedPlan } from '../../shared/beginnings.js';
import { addAppView } from '../../shared/derived-table.js';
import { derivedInOrder } from '../../shared/derived-order.js';
import { needsResultType } from '../../shared/expression-facts.js';
import { historyPlan, withHistory } from '../../shared/histories.js';
import { lazyStore, memberOf, orNull, within } from '../../shared/lazy-stores.js';
import { Output } from '../../shared/output.js';
import { parametersOf } from '../../shared/parameters.js';
import { boundOf, boundPattern } from '../../shared/payload-parameters.js';
import { boundType, payloadTypes } from '../../shared/payloads.js';
import { printExpr } from '../../shared/print-expression.js';
import { boundFor, readByReactions } from '../../shared/reactions.js';
import { aroundEntries, aroundMembers, type Capabilities } from '../../shared/handed-over.js';
import { emitStoresIndex } from '../../shared/stores-index.js';
import { pureReading } from '../../shared/reading.js';
import { sourcesOf } from '../../shared/sources.js';
import { laterMoments, startOf, type StartDeed } from '../../shared/task-deeds.js';
import { planEntries } from '../../shared/task-plan.js';
import { taskReadings } from '../../shared/task-types.js';
import { StreamBody } from './stream-body.js';

/** The observable style: streams of actions, and of the values that they make. */
export function emitObservable(application: Application, options: EmitOptions): Output {
  const output = new Output(application, options);
  addTypes(output);
  for (const store of application.stores) new StreamStore(output, store).emit();
  emitIndex(output);
  return output;
}

function addTypes(output: Output): void {
  const { types, application } = output;
  const latest = addAppView(output, 'Latest', 'The latest values of all stores.');
  const readers = types.add('Readers', (own, module) => {
    const streamed = module.type('runtime/streams', 'Streamed');
    const stores = application.stores.map((store) => {
      const whole = code`${types.use(latest, module)}[${data(store.name)}]`;
      const all = store.lazy ? code`${module.global('NonNullable')}<${whole}>` : whole;
      const tasks = taskReadings(output, store, module);
      const of = isNothing(tasks)
        ? code`${streamed}<${all}>`
        : code`${streamed}<${module.global('Omit')}<${all}, keyof ${tasks}>> & ${module.type('runtime/stream-tasks', 'TaskStreams')}<${tasks}>`;
      return code`readonly ${entry(store.name, orNull(store, of))};`;
    });
    return code`${doc('The streams of the fields and derived values of all stores.')}export interface ${own} {\n${stores}\n}`;
  });
  types.add('Around', (own, module) => {
    const tools = module.type('runtime/transaction', 'Tools');
    const partial = module.global('Partial');
    const members = [
      code`readonly streams: ${module.type('runtime/streams', 'Streams')};`,
      ...aroundMembers(application, module, {
        tasks: ['runtime/stream-tasks', 'StreamTasks'],
        histories: ['runtime/stream-histories', 'StreamHistories'],
      }),
      ...(hasLazy(application)
        ? [code`readonly lazy: ${module.type('runtime/stream-lazy', 'LazyStores')};`]
        : []),
      code`${doc('The latest values of all stores: within an action, as it has made them.')}readonly latest: ${types.use(latest, module)};`,
      code`${doc('The latest values after some states were changed.')}readonly after: (states: ${partial}<${types.app(module)}>) => ${types.use(latest, module)};`,
      code`${doc('All stores, once they are made.')}readonly stores: () => ${types.use(readers, module)};`,
    ];
    return code`${doc('What a store is made with.')}export interface ${own} extends ${tools} {\n${members}\n}`;
  });
}

/** What a lazy store is made with: there it is attached. */
function addOwnAround(output: Output, store: Store): string {
  const { types } = output;
  return types.add(`${pascal(store.name)}Around`, (own, module) => {
    const latest = within(store, types.use('Latest', module), module);
    const members = [
      code`readonly latest: ${latest};`,
      code`readonly after: (states: ${module.global('Partial')}<${types.app(module)}>) => ${latest};`,
    ];
    return code`${doc(`What '${store.name}' is made with.`)}export interface ${own} extends ${types.use('Around', module)} {\n${members}\n}`;
  });
}

class StreamStore {
  readonly #module: Module;
  /** The streams of fields and derived values, and the actions. */
  readonly #own = new Map<string, Name>();
  readonly #around = new Map<string, Name>();
  readonly #state: Name;
  readonly #initial: Name;
  readonly #aroundType: string;

  constructor(
    readonly output: Output,
    readonly store: Store,
  ) {
    this.#module = output.module(
      `stores/${store.name}`,
      store.about ?? `The store '${store.name}'`,
    );
    for (const { name } of [...store.actions, ...store.tasks, ...store.fields, ...store.derived])
      this.#own.set(name, new Name(name));
    this.#state = new Name(store.name);
    this.#initial = output.initial(store, this.#module);
    this.#aroundType = store.lazy ? addOwnAround(output, store) : 'Around';
  }

  around(name: string): Name {
    const known = this.#around.get(name) ?? new Name(name);
    this.#around.set(name, known);
    return known;
  }

  #ownNamed(name: string): Name {
    return this.#own.get(name) ?? new Name(name);
  }

  emit(): void {
    const { store, output } = this;
    const module = this.#module;
    const streams = this.around('streams');
    const actions = [
      ...writtenActions(store).map((action) => this.#action(action)),
      ...store.tasks.map((task) => this.#task(task)),
    ];
    const changes = [
      ...writtenActions(store).map((action) => this.#change(action)),
      ...store.tasks.flatMap((task) => this.#momentsOf(task)),
      ...store.reactions.map((reaction) => this.#reaction(reaction)),
    ];
    const list = (isOverAll: boolean) =>
      changes.filter((one) => one.isOverAll === isOverAll).map((one) => code`${one.change},`);
    const declared = store.fields.length === 0 ? nothing : code`const ${this.#state} = `;
    const begins = hasSaved(output.application) || output.options.begin === 'state';
    const isValue = begins && store.single ? code`, true` : nothing;
    const state = code`${declared}${streams}.accumulate<${output.types.state(store, module)}>(${data(store.name)}, ${this.#initial}, [\n${list(false)}\n]${isValue});`;
    const overAll = list(true);
    const all =
      overAll.length === 0
        ? nothing
        : code`${streams}.accumulateAll<${within(store, output.types.app(module), module)}>(${data(store.name)}, [\n${overAll}\n]);`;
    const fields = store.fields.map(({ name }) => {
      if (store.single) return code`const ${this.#ownNamed(name)} = ${this.#state};`;
      const old = new Name(store.name);
      return code`const ${this.#ownNamed(name)} = ${this.#state}.map(${arrow([old], code`${old}${property(name)}`)});`;
    });
    const inOrder = derivedInOrder(output.application).filter((one) => one.store === store);
    const derived = inOrder.map(({ derived: value }) => this.#derived(value));
    const members = object(
      [...store.fields, ...store.derived, ...store.tasks, ...store.actions].map(({ name }) =>
        entry(name, named(this.#ownNamed(name))),
      ),
    );
    const body = joined(
      [
        this.#saved(),
        joined(actions, '\n'),
        state,
        all,
        ...withHistory(fields, this.#history(), derived),
        code`return ${streams}.store(${data(store.name)}, ${members});`,
      ],
      '\n\n',
    );
    const create = module.exported(`create${pascal(store.name)}`);
    const around = object([...this.#around].map(([name, own]) => entry(name, named(own))));
    const scope = [...this.#around.values(), ...this.#own.values(), this.#state];
    module.add(
      scoped(
        scope,
        code`export function ${create}(${around}: ${output.types.use(this.#aroundType, module)}) {\n${body}\n}`,
      ),
      ...lazyStore(output, store, module, ['runtime/stream-lazy', create]),
    );
  }

  /** What is kept in storage: said before there is a state that begins with it. */
  #saved(): Code {
    const plan = savedPlan(this.output, this.store, this.#module);
    if (plan === undefined) return nothing;
    return code`${this.around('saved')}.add(${data(this.store.name)}, ${plan});`;
  }

  /** What can be undone: two streams that tell of it, and two actions. */
  #history(): Code {
    const plan = historyPlan(this.store);
    if (plan === undefined) return nothing;
    const made = object(
      [...told, ...moves].map((name) => entry(name, named(this.#ownNamed(name)))),
    );
    return code`const ${made} = ${this.around('histories')}.of(${data(this.store.name)}, ${plan});`;
  }

  #action(action: Action): Code {
    const { store, output } = this;
    const name = data(`${store.name}.${action.name}`);
    const own = this.#ownNamed(action.name);
    const streams = this.around('streams');
    const types = payloadTypes(output, store, action, this.#module);
    return code`${doc(action.about)}const ${own} = ${streams}.action${types}(${name});`;
  }

  #change(action: Action): { readonly change: Code; readonly isOverAll: boolean } {
    const { store, output } = this;
    const forReactions = readByReactions(output.application, store, action);
    const payload = new Name('payload');
    const body = this.#body(action, forReactions);
    if (body.reads('payload')) body.locals.set('payload', named(payload));
    const mapped = this.#mapped(body, body.reads('payload') ? [payload] : []);
    return {
      change: code`${this.#ownNamed(action.name)}.map(${mapped})`,
      isOverAll: body.isOverAll,
    };
  }

  /** A task: its plan. What it does is a change of the state, like that of an action. */
  #task(task: Task): Code {
    const { store, output } = this;
    const module = this.#module;
    const latest = (owner: string, name: string) =>
      code`${this.around('latest')}${property(owner)}${memberOf(output.application, store, owner, name)}`;
    const ask = askInStore(output, module, store, task, {
      ...pureReading(output, module, latest),
      asked: (owner, name, args) => code`${latest(owner, name)}(${args})`,
    });
    const entries = planEntries(output.application, module, task, ask).map((one) => code`${one},`);
    const types = payloadTypes(output, store, task, module);
    const name = data(`${store.name}.${task.name}`);
    const own = this.#ownNamed(task.name);
    return code`${doc(task.about)}const ${own} = ${this.around('tasks')}.task${types}(${name}, {\n${entries}\n});`;
  }

  /** What a task does at the moments of a run. */
  #momentsOf(task: Task): { readonly change: Code; readonly isOverAll: boolean }[] {
    const { store, output } = this;
    const start = startOf(output.application, store, task);
    const changes: { readonly change: Code; readonly isOverAll: boolean }[] = [];
    const at = (moment: Moment, types: Code) =>
      code`${this.#ownNamed(task.name)}.at${types}(${data(moment)})`;
    if (start !== undefined) {
      const payload = new Name('payload');
      const body = this.#body(start, start.later);
      if (body.reads('payload')) body.locals.set('payload', named(payload));
      const mapped = this.#mapped(body, body.reads('payload') ? [payload] : []);
      changes.push({
        change: code`${at('start', nothing)}.map(${mapped})`,
        isOverAll: body.isOverAll,
      });
    }
    for (const { moment, deed } of laterMoments(output.application, store, task)) {
      const { mapped, givenTypes, isOverAll } = this.#reactionChange(deed);
      const types = givenTypes === nothing ? nothing : code`<${givenTypes}>`;
      changes.push({ change: code`${at(moment, types)}.map(${mapped})`, isOverAll });
    }
    return changes;
  }

  #body(deed: Action | Reaction | StartDeed, forReactions: readonly string[]): StreamBody {
    return new StreamBody(
      this.output,
      this.store,
      { requires: [], let: [], ...deed },
      this.#module,
      () => this.#initial,
      (name) => this.around(name),
      forReactions,
    );
  }

  /** A function from what is given to the change of the state. */
  #mapped(body: StreamBody, given: readonly Name[], written = given.map(named)): Code {
    const statements = body.body();
    const state = namesUsed(statements).has(body.base) ? [body.base] : [];
    const change =
      body.onlyValue === undefined ? arrowBody(state, statements) : arrow(state, body.onlyValue);
    return arrow(given, change, written);
  }

  #reaction(reaction: Reaction): { readonly change: Code; readonly isOverAll: boolean } {
    const { mapped, payloadType, givenTypes, isOverAll } = this.#reactionChange(reaction);
    const more = givenTypes === nothing ? nothing : code`, ${givenTypes}`;
    const types = payloadType === nothing ? nothing : code`<${payloadType}${more}>`;
    const causes = [...new Set(reaction.to.map((to) => `${to.store}.${to.action}`))];
    const done = code`${this.around('streams')}.done${types}(${joined(causes.map(data), ', ')})`;
    return { change: code`${done}.map(${mapped})`, isOverAll };
  }

  /** What a reaction changes, and the types of what it is given, as far as it reads that. */
  #reactionChange(reaction: Reaction) {
    const { output } = this;
    const module = this.#module;
    const body = this.#body(reaction, []);
    const payload = new Name('payload');
    const bound = boundOf(boundFor(reaction));
    for (const { name, own } of bound) body.locals.set(name, named(own));
    const readsPayload = body.reads('payload');
    if (readsPayload) body.locals.set('payload', named(payload));
    const own = readsPayload ? payload : new Name('_payload');
    const params = readsPayload || bound.length > 0 ? [own] : [];
    const mapped = this.#mapped(
      body,
      [...params, ...bound.map((one) => one.own)],
      [...params.map(named), ...(bound.length > 0 ? [boundPattern(bound)] : [])],
    );
    const type = reaction.given.find(({ name }) => name === 'payload')?.type;
    const payloadType = type === undefined ? code`unknown` : output.types.type(type, module);
    return {
      mapped,
      payloadType: params.length === 0 ? nothing : payloadType,
      givenTypes: bound.length === 0 ? nothing : boundType(output, module, bound),
      isOverAll: body.isOverAll,
    };
  }

  /** The stream of a field or derived value. */
  #stream(store: string, name: string): Code {
    if (store === this.store.name) return named(this.#ownNamed(name));
    const { application } = this.output;
    const member = memberOf(application, this.store, store, name);
    return code`${this.around('stores')}()${property(store)}${member}`;
  }

  /** A stream that another is made from; of a store that may not be there yet, one of `undefined` until then. */
  #source(store: string, stream: Code): Code {
    const isLater = store !== this.store.name && storeNamed(this.output.application, store).lazy;
    return isLater ? code`${this.around('lazy')}.lazily(() => ${stream})` : stream;
  }

  /** The stream of something of a task: `loadSailings.running`. */
  #taskStream(store: string, name: string): Code {
    const [task = '', reading = ''] = name.split('.');
    return code`${this.#stream(store, task)}${property(reading)}`;
  }

  #derived(derived: Derived): Code {
    const { output, store } = this;
    const module = this.#module;
    const sources = sourcesOf(derived);
    const locals = parametersOf(derived);
    const read = (owner: string, name: string) => named(sources.param(owner, name));
    const value = printExpr(derived.value, {
      ...pureReading(output, module, read),
      asked: (owner, name, args) =>
        storeNamed(output.application, owner).lazy && owner !== store.name
          ? code`${sources.param(owner, name)}?.(${args})`
          : code`${sources.param(owner, name)}(${args})`,
      task: (owner, name, reading) => named(sources.param(owner, `${name}.${reading}`)),
      locals: new Map(locals.map(({ name, own }) => [name, named(own)])),
    });
    const params = sources.list.map(({ param }) => param);
    const type = output.types.type(derived.value.type, module);
    const isPlain = !needsResultType(derived.value);
    const streams = sources.list.map((source) =>
      this.#source(
        source.store,
        source.kind === 'ask'
          ? code`${this.#stream(source.store, source.name)}.answers`
          : source.kind === 'task'
            ? this.#taskStream(source.store, source.name)
            : this.#stream(source.store, source.name),
      ),
    );
    const own = this.#ownNamed(derived.name);
    const about = doc(derived.about);
    const [only] = sources.list;
    const combine = (made: string) =>
      code`${this.around('streams')}${property(made)}(() => [${joined(streams, ', ')}] as const, `;
    if (locals.length > 0) {
      const written = locals.map(
        (local) => code`${local.own}: ${output.types.type(local.type, module)}`,
      );
      const answer = arrow(
        locals.map((local) => local.own),
        value,
        written,
        isPlain ? undefined : type,
      );
      return code`${about}const ${own} = ${combine('combineFor')}${arrow(params, answer)});`;
    }
    const isOwnOnly =
      sources.list.length === 1 &&
      (only?.kind === 'field' || only?.kind === 'derived') &&
      only.store === store.name;
    const result = isPlain ? nothing : code`<${type}>`;
    if (isOwnOnly && only !== undefined)
      return code`${about}const ${own} = ${this.#stream(only.store, only.name)}.map${result}(${arrow(params, value)});`;
    return code`${about}const ${own} = ${combine('combine')}${typedArrow(params, isPlain ? nothing : type, value)});`;
  }
}

/** A function that says what type it gives, where the compiler would find a wider one. */
function typedArrow(params: readonly Name[], type: Code, value: Code): Code {
  if (type === nothing) return arrow(params, value);
  return arrow(params, value, params.map(named), type);
}

const capabilities: Capabilities = {
  engine: ['runtime/streams', 'Streams'],
  lazy: { made: ['runtime/stream-lazy', 'LazyStores'], isClass: true },
  saved: { made: ['runtime/saved', 'SavedStores'], isClass: true },
  histories: { made: ['runtime/stream-histories', 'StreamHistories'], isClass: true },
  tasks: ['runtime/tasks', 'Tasks'],
  states: (streams) => code`() => ${streams}.committed`,
};

function emitIndex(output: Output): void {
  const { types } = output;
  emitStoresIndex(output, {
    about: 'Stores of streams: subscribe to values, change them by actions.',
    capabilities,
    engine: 'streams',
    around: (streams, stores, { lazy, saved, histories, tasks }, module) => {
      const latest = types.use('Latest', module);
      const working =
        tasks &&
        code`new ${module.value('runtime/stream-tasks', 'StreamTasks')}(${streams}, ${tasks})`;
      return object([
        entry('streams', named(streams)),
        ...aroundEntries({ saved, histories, lazy }, working),
        entry('latest', code`${streams}.latest<${latest}>()`),
        code`after: (states) => ${streams}.after<${latest}>(states)`,
        code`stores: (): ${types.use('Readers', module)} => ${stores}`,
        code`...${streams}.tools`,
      ]);
    },
    hasLazyStates: false,
    publicTypes: { streams: ['ActionStream', 'Stream'] },
  });
}
