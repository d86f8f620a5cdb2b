import {
  storeNamed,
  type Action,
  type Application,
  type Derived,
  type Store,
} from '../../../model/application.js';
import type { Step } from '../../../model/steps.js';
import { ActionWriter, type ActionStyle } from '../../action-writer.js';
import { code, data, doc, id, joined, key, property, type Code } from '../../code.js';
import { derivedInOrder } from '../../derived-order.js';
import { Names, pascal } from '../../identifiers.js';
import { writeImmutableStep, type FieldChange } from '../../immutable-steps.js';
import { Imports } from '../../imports.js';
import { defaultArgument, optionalMark } from '../../payloads.js';
import { printExpr } from '../../print-expression.js';
import { emittedFunction, runtimeNames } from '../../runtime-names.js';
import { Project } from '../../project.js';
import { sourcesOf } from '../../sources.js';

/** The reducer style: actions are data, one pure function per store answers them with the next state. */
export function emitReducer(application: Application): Project {
  const project = new Project(application, 'reducer', ['transaction', 'values', 'watchers']);
  emitSelectors(project);
  const uses = new Map(application.stores.map((store) => [store.name, emitStore(project, store)]));
  emitReduce(project, uses);
  emitEntry(project);
  return project;
}

function emitSelectors(project: Project): void {
  const { application, types } = project;
  const imports = new Imports();
  const names = new Map<string, string>();
  const taken = new Names([
    'createSelectors',
    'select',
    'selectFrom',
    'app',
    'sum',
    'same',
    'entry',
  ]);
  const lines = derivedInOrder(application).map(({ store, derived }) => {
    const name = taken.allocate(`${store.name}${pascal(derived.name)}`);
    names.set(`${store.name}.${derived.name}`, name);
    return code`const ${id(name)} = ${selector(project, derived, names, imports)};`;
  });
  const groups = application.stores.map((store) => {
    const entries = store.derived.map(
      ({ name, about }) =>
        code`${doc(about)}${key(name)}: ${id(names.get(`${store.name}.${name}`) ?? '')},`,
    );
    return code`${key(store.name)}: { ${entries} },`;
  });
  project.add(
    'selectors',
    'What is computed from the state, and remembered until its sources change.',
    imports,
    [
      code`${doc('Selectors of its own for one store of state: what they remember belongs to it.')}export function createSelectors() {
const select = ${imports.value('runtime', 'selectFrom')}<${types.app(imports)}>();
${lines}
return { ${groups} };
}`,
      code`export type Selectors = ReturnType<typeof createSelectors>;`,
    ],
  );
}

function selector(
  project: Project,
  derived: Derived,
  names: ReadonlyMap<string, string>,
  imports: Imports,
): Code {
  const sources = sourcesOf(derived.value, new Names(['sum', 'same', 'entry']));
  const inputs = sources.list.map((source) => {
    if (source.kind === 'derived') return id(names.get(`${source.store}.${source.name}`) ?? '');
    const store = storeNamed(project.application, source.store);
    const field = store.single ? code`` : property(source.name);
    return code`(app) => app${property(source.store)}${field}`;
  });
  const params = sources.list.map(({ param }) => id(param));
  const body = printExpr(derived.value, {
    types: project.application.types,
    field: sources.param,
    derived: sources.param,
    local: sources.local,
    constant: (store, name) =>
      code`${imports.value('constants', `${store}Constants`)}${property(name)}`,
    draw: notInDerived,
    applied: (name) => imports.value('functions', emittedFunction(name)),
    helper: (name) => imports.value('values', name),
  });
  const result = project.types.type(derived.value.type, imports);
  const value = body.text.startsWith('{') ? code`(${body})` : body;
  return code`select([${joined(inputs, ', ')}], (${joined(params, ', ')}): ${result} => ${value})`;
}

function notInDerived(): never {
  throw new Error('a derived value asks nothing of the environment');
}

/** Writes the file of a store; gives the names of what its reducer uses besides state and action. */
function emitStore(project: Project, store: Store): ReadonlySet<string> {
  const imports = new Imports();
  const { types } = project;
  const name = pascal(store.name);
  const variants = store.actions.map((action) => {
    const type = data(`${store.name}.${action.name}`);
    if (action.payload === undefined) return code`{ readonly type: ${type} }`;
    return code`{ readonly type: ${type}; readonly payload${optionalMark(action)}: ${types.payload(store, action, imports)} }`;
  });
  const union = variants.length === 0 ? code`never` : joined(variants, ' | ');
  const makers = store.actions.map((action) => maker(project, store, action, imports));
  const reducers = store.actions.map((action) => actionReducer(project, store, action, imports));
  const declarations = [
    code`${doc(`What can happen to '${store.name}'.`)}export type ${id(`${name}Action`)} = ${union};`,
    code`${doc(`Makes the actions of '${store.name}'.`)}export const ${id(`${store.name}Actions`)} = { ${makers} };`,
    mainReducer(project, store, reducers, imports),
    ...reducers.map(({ declaration }) => declaration),
  ];
  const about = store.about ?? `The store '${store.name}'`;
  project.add(`${store.name}.store`, about, imports, declarations);
  return new Set(reducers.flatMap(({ uses }) => [...uses]));
}

function maker(project: Project, store: Store, action: Action, imports: Imports): Code {
  const type = id(`${pascal(store.name)}Action`);
  const value = data(`${store.name}.${action.name}`);
  const about = doc(action.about);
  if (action.payload === undefined)
    return code`${about}${key(action.name)}: (): ${type} => ({ type: ${value} }),`;
  const payload = project.types.payload(store, action, imports);
  const given =
    action.payloadDefault === undefined ? code`` : code` = ${data(action.payloadDefault)}`;
  return code`${about}${key(action.name)}: (payload: ${payload}${given}): ${type} => ({ type: ${value}, payload }),`;
}

interface ActionReducer {
  readonly declaration: Code;
  readonly call: Code;
  readonly action: Action;
  readonly uses: ReadonlySet<string>;
}

function mainReducer(
  project: Project,
  store: Store,
  reducers: readonly ActionReducer[],
  imports: Imports,
): Code {
  const state = project.types.state(store, imports);
  const cases = reducers.map(
    ({ action, call }) => code`case ${data(`${store.name}.${action.name}`)}: return ${call};`,
  );
  const used = new Set(reducers.flatMap(({ uses }) => [...uses]));
  const params = [
    code`${id(variableOf(store))}: ${state}`,
    code`action: ${imports.type('reduce', 'AppAction')}`,
    ...(used.has('app') ? [code`app: ${project.types.app(imports)}`] : []),
    ...(used.has('tools') ? [code`tools: ${imports.type('reduce', 'Tools')}`] : []),
  ];
  return code`${doc(`The next state of '${store.name}'. Pure: what it asks of the environment comes in through the tools.`)}export function ${id(`reduce${pascal(store.name)}`)}(${joined(params, ', ')}): ${state} {
switch (action.type) {
${cases}
default: return ${id(variableOf(store))};
}
}`;
}

/** What the state of the store is called in its reducers. */
function variableOf(store: Store): string {
  return new Names(['action', 'app', 'tools', 'payload', 'next']).allocate(store.name);
}

function actionReducer(
  project: Project,
  store: Store,
  action: Action,
  imports: Imports,
): ActionReducer {
  const style = new ReducerActionStyle(project, store, action, imports);
  const writer = new ActionWriter(
    project.application,
    store,
    action,
    style,
    project.guards,
    imports,
  );
  const body = writer.body();
  const name = new Names([
    ...style.taken,
    `reduce${pascal(store.name)}`,
    `${store.name}Actions`,
  ]).allocate(action.name);
  const at = `${store.name}.${action.name}`;
  const payloadType = project.types.payload(store, action, imports);
  const params: Code[] = [code`${id(style.variable)}: ${project.types.state(store, imports)}`];
  const args: Code[] = [id(style.variable)];
  if (action.payload !== undefined) {
    const guard = project.guards.use(
      action.payload,
      `${pascal(store.name)}${pascal(action.name)}Payload`,
      imports,
    );
    params.push(code`payload: ${payloadType}`);
    args.push(
      code`${imports.value('transaction', 'accept')}(action.payload, ${guard}, ${data(at)}${defaultArgument(action)})`,
    );
  }
  if (style.uses.has('app')) {
    params.push(code`app: ${project.types.app(imports)}`);
    args.push(code`app`);
  }
  if (style.uses.has('tools')) {
    params.push(
      code`{ ${joined([...style.tools].sort().map(id), ', ')} }: ${imports.type('reduce', 'Tools')}`,
    );
    args.push(code`tools`);
  }
  const state = project.types.state(store, imports);
  const end = style.isDirect ? code`` : code`\nreturn next;`;
  const declaration = code`${doc(action.about)}function ${id(name)}(${joined(params, ', ')}): ${state} {
${body}${end}
}`;
  return { declaration, call: code`${id(name)}(${joined(args, ', ')})`, action, uses: style.uses };
}

class ReducerActionStyle implements ActionStyle {
  readonly variable: string;
  readonly isDirect: boolean;
  /** Which of `app` and `tools` the action needs. */
  readonly uses = new Set<string>();
  readonly tools = new Set<string>();
  readonly taken: readonly string[];
  #isInSteps = false;
  #hasWritten = false;

  constructor(
    readonly project: Project,
    readonly store: Store,
    action: Action,
    readonly imports: Imports,
  ) {
    this.variable = variableOf(store);
    this.taken = [
      'action',
      'app',
      'tools',
      'select',
      'draw',
      'next',
      this.variable,
      ...runtimeNames,
    ];
    this.isDirect = action.steps.length === 1 && storesOnce(action.steps[0]);
  }

  get #current(): Code {
    return id(this.isDirect || !this.#isInSteps ? this.variable : 'next');
  }

  beforeSteps(): Code {
    this.#isInSteps = true;
    return this.isDirect ? code`` : code`let next = ${id(this.variable)};`;
  }

  field(store: string, name: string): Code {
    const single = storeNamed(this.project.application, store).single;
    if (store === this.store.name)
      return single ? this.#current : code`${this.#current}${property(name)}`;
    this.uses.add('app');
    return single ? code`app${property(store)}` : code`app${property(store)}${property(name)}`;
  }

  derived(store: string, name: string): Code {
    this.uses.add('app').add('tools');
    this.tools.add('select');
    const own = key(this.store.name);
    const app = this.#hasWritten ? code`{ ...app, ${own}: ${this.#current} }` : code`app`;
    return code`select${property(store)}${property(name)}(${app})`;
  }

  constant(store: string, name: string): Code {
    return code`${this.imports.value('constants', `${store}Constants`)}${property(name)}`;
  }

  draw(name: 'newId' | 'now'): Code {
    this.uses.add('tools');
    this.tools.add('draw');
    return code`draw.${id(name)}()`;
  }

  step(step: Step, writer: ActionWriter): Code {
    return writeImmutableStep(step, writer, (changes) => this.#write(changes));
  }

  #write(changes: readonly FieldChange[]): Code {
    const own = this.#current;
    this.#hasWritten = true;
    const [only] = changes;
    const all = changes.length === this.store.fields.length;
    const parts = changes.map(({ field, value }) => code`${key(field)}: ${value}`);
    const next =
      this.store.single && only !== undefined
        ? only.value
        : all
          ? code`{ ${joined(parts, ', ')} }`
          : code`{ ...${own}, ${joined(parts, ', ')} }`;
    return this.isDirect ? code`return ${next};` : code`next = ${next};`;
  }

  held(value: Code): Code {
    return value;
  }

  boundName(store: string, name: string): string {
    return store === this.store.name ? name : `${store}${pascal(name)}`;
  }
}

/** Whether a step stores once, as the last thing it does. */
function storesOnce(step: Step | undefined): boolean {
  if (step === undefined || step.kind === 'when') return false;
  if (step.kind !== 'set') return true;
  const fields = step.entries.map(({ path }) => path.field);
  return new Set(fields).size === fields.length;
}

function emitReduce(project: Project, uses: ReadonlyMap<string, ReadonlySet<string>>): void {
  const { application, types } = project;
  const { stores } = application;
  const reduce = new Imports();
  const actions = stores.map((store) =>
    reduce.type(`${store.name}.store`, `${pascal(store.name)}Action`),
  );
  const parts = stores.map((store) => {
    const call = reduce.value(`${store.name}.store`, `reduce${pascal(store.name)}`);
    const more = ['app', 'tools'].filter((name) => uses.get(store.name)?.has(name));
    const args = [code`app${property(store.name)}`, code`action`, ...more.map(id)];
    return code`${key(store.name)}: ${call}(${joined(args, ', ')}),`;
  });
  const app = types.app(reduce);
  const typeNames = stores.flatMap((store) =>
    store.actions.map(({ name }) => data(`${store.name}.${name}`)),
  );
  project.add('reduce', 'The reducer of all stores.', reduce, [
    code`${doc('Everything that can happen.')}export type AppAction = ${joined(actions, ' | ')};`,
    code`${doc('What reducers are given: selectors that remember, and what is asked of the environment.')}export interface Tools {
readonly select: ${reduce.type('selectors', 'Selectors')};
readonly draw: ${reduce.type('transaction', 'Draw')};
}`,
    code`${doc('The names of all actions.')}export const actionTypes: ReadonlySet<string> = new Set([${joined(typeNames, ', ')}]);`,
    code`${doc('The next state of all stores.')}export function reduce(app: ${app}, action: AppAction, tools: Tools): ${app} {
return { ${parts} };
}`,
  ]);
}

function emitEntry(project: Project): void {
  const { application, types } = project;
  const imports = new Imports();
  const initial = application.stores.map(
    (store) =>
      code`${key(store.name)}: ${imports.value('initial', `initial${pascal(store.name)}`)},`,
  );
  const options = imports.type('transaction', 'Options');
  const createSelectors = imports.value('selectors', 'createSelectors');
  const app = types.app(imports);
  const declarations = [
    code`${doc(application.title ?? application.about)}export function createStores(options: ${options} = {}) {
const initial: ${app} = { ${initial} };
const inside = ${createSelectors}();
const store = ${imports.value('runtime', 'createReducerStore')}(
  initial,
  ${imports.value('reduce', 'actionTypes')},
  (app: ${app}, action: ${imports.type('reduce', 'AppAction')}, draw) => ${imports.value('reduce', 'reduce')}(app, action, { select: inside, draw }),
  options,
);
return { ...store, select: ${createSelectors}() };
}`,
    ...application.stores.map(
      (store) =>
        code`export { ${id(`${store.name}Actions`)} } from ${data(`./${store.name}.store.js`)};`,
    ),
    code`export type { AppAction } from './reduce.js';`,
    code`export type { Options, Outcome, Problem } from './transaction.js';`,
    code`export type * from './types.js';`,
  ];
  project.add(
    'index',
    'A reducer store: dispatch actions, select values, watch changes.',
    imports,
    declarations,
  );
}
