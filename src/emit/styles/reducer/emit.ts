import { exportedTypes, publicTypes } from '../../public-types.js';
import type { EmitOptions } from '../../emit-options.js';
import { ActionWriter } from '../../action-writer.js';
import { ReducerActionStyle, variableOf } from './action-style.js';
import type { Action, Application, Store } from '../../../model/application.js';
import { Across } from '../../across.js';
import { code, data, doc, id, joined, key, property, type Code } from '../../code.js';
import { Names, pascal } from '../../identifiers.js';
import { Imports } from '../../imports.js';
import { acceptedPayload, givenType, optionalMark } from '../../payloads.js';
import { Project } from '../../project.js';
import { reducerAcross } from './across-style.js';
import { emitSelectors } from './emit-selectors.js';

/** The reducer style: actions are data, one pure function per store answers them with the next state. */
export function emitReducer(application: Application, options: EmitOptions): Project {
  const project = new Project(
    application,
    'reducer',
    ['transaction', 'values', 'watchers', 'following'],
    options,
  );
  emitSelectors(project);
  const across = new Across(project, reducerAcross(project));
  const uses = new Map(
    application.stores.map((store) => [store.name, emitStore(project, store, across)]),
  );
  emitReduce(project, uses, across);
  across.emit();
  emitEntry(project);
  return project;
}

/** Writes the file of a store; gives the names of what its reducer uses besides state and action. */
function emitStore(project: Project, store: Store, across: Across): ReadonlySet<string> {
  const imports = new Imports();
  const name = pascal(store.name);
  const variants = store.actions.map((action) => {
    const type = data(`${store.name}.${action.name}`);
    if (action.payload === undefined) return code`{ readonly type: ${type} }`;
    return code`{ readonly type: ${type}; readonly payload${optionalMark(action)}: ${givenType(project, store, action, imports)} }`;
  });
  const union = variants.length === 0 ? code`never` : joined(variants, ' | ');
  const makers = store.actions.map((action) => maker(project, store, action, imports));
  const reducers = store.actions
    .filter((action) => !across.has(store.name, action.name))
    .map((action) => actionReducer(project, store, action, imports));
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
  const payload = givenType(project, store, action, imports);
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
  const payloadType = project.types.payload(store, action, imports);
  const own = style.readsState ? [style.variable] : [];
  const params = own.map((name) => code`${id(name)}: ${project.types.state(store, imports)}`);
  const args = own.map(id);
  if (action.payload !== undefined) {
    params.push(code`${id(writer.usesLocal('payload') ? 'payload' : '_payload')}: ${payloadType}`);
    args.push(acceptedPayload(code`action.payload`, project, store, action, imports));
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
  const end = style.isDirect
    ? code``
    : code`\nreturn ${id(style.storesAnything ? 'next' : style.variable)};`;
  const declaration = code`${doc(action.about)}function ${id(name)}(${joined(params, ', ')}): ${state} {
${body}${end}
}`;
  return { declaration, call: code`${id(name)}(${joined(args, ', ')})`, action, uses: style.uses };
}

function emitReduce(
  project: Project,
  uses: ReadonlyMap<string, ReadonlySet<string>>,
  across: Across,
): void {
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
  const cases = acrossCases(project, across, reduce);
  const next = code`return { ${parts} };`;
  const usesTools = across.needsAfter || [...uses.values()].some((used) => used.has('tools'));
  // A name with an underscore is one that lint rules let pass unused.
  const tools = code`${id(usesTools ? 'tools' : '_tools')}: Tools`;
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
    code`${doc('The next state of all stores.')}export function reduce(app: ${app}, action: AppAction, ${tools}): ${app} {
${cases.text === '' ? next : code`switch (action.type) {\n${cases}\ndefault: ${next}\n}`}
}`,
  ]);
}

/** What the root does with actions that reach across stores. */
function acrossCases(project: Project, across: Across, imports: Imports): Code {
  const cases = project.application.stores.flatMap((store) =>
    store.actions.flatMap((action) => {
      if (!across.has(store.name, action.name)) return [];
      const at = `${store.name}.${action.name}`;
      const args: Code[] = [];
      if (action.payload !== undefined)
        args.push(acceptedPayload(code`action.payload`, project, store, action, imports));
      return [
        code`case ${data(at)}: return ${across.call(store.name, action.name, args, imports).code};`,
      ];
    }),
  );
  return joined(cases, '\n');
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
const select = ${createSelectors}();
const store = ${imports.value('runtime', 'createReducerStore')}(
  initial,
  ${imports.value('reduce', 'actionTypes')},
  (app: ${app}, action: ${imports.type('reduce', 'AppAction')}, draw) => ${imports.value('reduce', 'reduce')}(app, action, { select, draw }),
  options,
);
return { ...store, select };
}`,
    ...application.stores.map(
      (store) =>
        code`export { ${id(`${store.name}Actions`)} } from ${data(`./${store.name}.store.js`)};`,
    ),
    exportedTypes(project.types, 'reduce', ['AppAction']),
    ...publicTypes(project.types),
  ];
  project.add(
    'index',
    'A reducer store: dispatch actions, select values, watch changes.',
    imports,
    declarations,
  );
}
