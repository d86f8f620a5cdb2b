import { publicTypes } from '../../public-types.js';
import type { EmitOptions } from '../../emit-options.js';
import { ActionStyle, ActionWriter } from '../../action-writer.js';
import type { Action, Application, Derived, Store } from '../../../model/application.js';
import type { Step } from '../../../model/steps.js';
import type { Type } from '../../../model/types.js';
import { Across } from '../../across.js';
import { narrowedIn } from '../../expression-facts.js';
import { code, data, doc, id, joined, key, property, type Code } from '../../code.js';
import { Names, pascal } from '../../identifiers.js';
import { Imports } from '../../imports.js';
import { givenType, optionalMark, payloadLine } from '../../payloads.js';
import { answersOf, answersType, parametersOf } from '../../answers.js';
import { printExpr, type Drawn } from '../../print-expression.js';
import { pureReading, renaming } from '../../pure-reading.js';
import { emittedNames } from '../../runtime-names.js';
import { sourcesOf } from '../../sources.js';
import { Project } from '../../project.js';
import { plainly, proxyAcross } from './across-style.js';
import { writeInPlaceStep } from './in-place-steps.js';

/** The proxy style: live objects that are read like plain ones and changed in place by actions. */
export function emitProxy(application: Application, options: EmitOptions): Project {
  const project = new Project(
    application,
    'proxy',
    ['transaction', 'watchers', 'tracking', 'following'],
    options,
  );
  emitViews(project);
  const across = new Across(project, proxyAcross(project));
  for (const store of application.stores) emitStore(project, store, across);
  across.emit();
  emitIndex(project);
  return project;
}

/** What derived values see of the stores, and what actions see. */
function emitViews(project: Project): void {
  const imports = new Imports();
  const draft = imports.type('draft', 'Draft');
  const declarations = project.application.stores.map((store) => {
    const name = pascal(store.name);
    const derived = store.derived.map((value) => {
      const type =
        value.params.length === 0
          ? project.types.type(value.value.type, imports)
          : answersType(value, project, imports);
      return code`${doc(value.about)}readonly ${key(value.name)}: ${type};`;
    });
    const state = project.types.state(store, imports);
    const fields = store.single ? code`{ readonly value: ${state} }` : state;
    const own = id(`${name}Derived`);
    const computed =
      derived.length === 0
        ? code``
        : code`${doc(`What is computed from '${store.name}'.`)}export interface ${own} {\n${derived}\n}\n`;
    const more = derived.length === 0 ? code`` : code` & ${own}`;
    return code`${computed}${doc(`'${store.name}' as it is read.`)}export type ${id(`${name}View`)} = ${fields}${more};
${doc(`'${store.name}' as actions change it.`)}export type ${id(`${name}Draft`)} = ${draft}<${fields}>${more};`;
  });
  const each = (suffix: 'View' | 'Draft') =>
    project.application.stores.map(
      ({ name }) => code`readonly ${key(name)}: ${id(`${pascal(name)}${suffix}`)};`,
    );
  project.add('views', 'The stores as they are read, and as actions change them.', imports, [
    ...declarations,
    code`export interface App {\n${each('View')}\n}`,
    code`export interface Drafts {\n${each('Draft')}\n}`,
  ]);
}

function emitStore(project: Project, store: Store, across: Across): void {
  const imports = new Imports();
  const name = pascal(store.name);
  const actions = store.actions.map((action) =>
    emitAction(project, store, action, imports, across),
  );
  const derived = store.derived.map((value) => emitDerived(project, value, imports));
  const asked = store.derived
    .filter(({ params }) => params.length > 0)
    .map((value) => emitAsked(project, store, value, imports));
  const live = code`live: ${imports.type('runtime', 'Live')}<${imports.type('views', 'App')}, ${imports.type('views', 'Drafts')}>`;
  project.add(`${store.name}.store`, store.about ?? `The store '${store.name}'`, imports, [
    code`${doc(`How the derived values of '${store.name}' are computed.`)}export const ${id(`${store.name}Derived`)} = {\n${derived}\n};`,
    code`${doc(store.about)}export const ${id(`create${name}`)} = (${live}) => live.store(${data(store.name)}, {\n${[...asked, ...actions]}\n});`,
    code`export type ${id(name)} = ReturnType<typeof ${id(`create${name}`)}>;`,
  ]);
}

function emitDerived(project: Project, derived: Derived, imports: Imports): Code {
  if (derived.params.length > 0) return emitAnswers(project, derived, imports);
  const used = new Set<string>();
  const stores = project.application.stores.map(({ name }) => name);
  const names = new Names([...emittedNames(project.application), ...stores]);
  const bound = new Map<string, Code>();
  const read = (store: string, name: string): Code => {
    used.add(store);
    return bound.get(`${store}.${name}`) ?? code`${id(store)}${property(name)}`;
  };
  const bindings = narrowedIn([derived.value]).map(({ store, name }) => {
    const value = read(store, name);
    const constant = id(names.allocate(name));
    bound.set(`${store}.${name}`, constant);
    return code`const ${constant} = ${value};\n`;
  });
  const value = printExpr(derived.value, pureReading(project, imports, read, renaming(names)));
  const type = project.types.type(derived.value.type, imports);
  const params =
    used.size === 0
      ? code``
      : code`{ ${joined([...used].sort().map(id), ', ')} }: ${imports.type('views', 'App')}`;
  const isPlain = bindings.length === 0 && !value.text.startsWith('{');
  const body = isPlain ? value : code`{\n${joined(bindings, '')}return ${value};\n}`;
  return code`${key(derived.name)}: (${params}): ${type} => ${body},`;
}

/** A derived value with parameters, as it is asked from outside. */
function emitAsked(project: Project, store: Store, derived: Derived, imports: Imports): Code {
  const local = renaming(new Names(['live', 'kept', ...emittedNames(project.application)]));
  const names = joined(
    derived.params.map(({ name }) => local(name)),
    ', ',
  );
  const params = parametersOf(derived, local, project, imports);
  const value = project.types.type(derived.value.type, imports);
  const types = derived.params.map(({ type }) => project.types.type(type, imports));
  const answering = imports.value('arguments', 'answering');
  const read = code`live.app${property(store.name)}${property(derived.name)}(${names})`;
  return code`${doc(derived.about)}${key(derived.name)}: (() => {
const kept = ${answering}<[${joined(types, ', ')}], ${value}>();
return (${params}): ${value} => kept([${names}], live.guarded(${read}));
})(),`;
}

/** What computes a derived value with parameters: it reads its sources at once, so that the reads are noted. */
function emitAnswers(project: Project, derived: Derived, imports: Imports): Code {
  const stores = project.application.stores.map(({ name }) => name);
  const names = new Names([...emittedNames(project.application), ...stores]);
  const sources = sourcesOf(derived, names);
  const used = [...new Set(sources.list.map(({ store }) => store))].sort();
  const bindings = sources.list.map(
    ({ store, name, param }) => code`const ${id(param)} = ${id(store)}${property(name)};\n`,
  );
  const value = printExpr(
    derived.value,
    pureReading(project, imports, sources.param, sources.local),
  );
  const params =
    used.length === 0
      ? code``
      : code`{ ${joined(used.map(id), ', ')} }: ${imports.type('views', 'App')}`;
  const answers = answersOf(derived, value, sources.local, project, imports);
  return code`${key(derived.name)}: (${params}) => {\n${joined(bindings, '')}return ${answers};\n},`;
}

function emitAction(
  project: Project,
  store: Store,
  action: Action,
  imports: Imports,
  across: Across,
): Code {
  const at = data(`${store.name}.${action.name}`);
  const { params, body, usesPayload } = across.has(store.name, action.name)
    ? callAcross(store, action, imports, across)
    : ownBody(project, store, action, imports);
  const run = (inner: Code) => code`live.act(${at}, (${params}) => {\n${inner}\n})`;
  if (action.payload === undefined)
    return code`${doc(action.about)}${key(action.name)}: () => ${run(body)},`;
  const accepted = payloadLine(usesPayload, project, store, action, imports);
  const type = givenType(project, store, action, imports);
  return code`${doc(action.about)}${key(action.name)}: (input${optionalMark(action)}: ${type}) => ${run(code`${accepted}\n${body}`)},`;
}

/** The body of an action that reaches across stores: a call, and the parameters that it needs. */
function callAcross(store: Store, action: Action, imports: Imports, across: Across) {
  const args = action.payload === undefined ? [] : [code`payload`];
  const { code: call, needsAfter } = across.call(store.name, action.name, args, imports);
  return {
    params: needsAfter ? code`drafts, draw` : code`drafts`,
    body: code`${call};`,
    usesPayload: true,
  };
}

/** The body of an action that stores to its own store only, and the parameters that it needs. */
function ownBody(project: Project, store: Store, action: Action, imports: Imports) {
  const style = new ProxyActionStyle(project, store, imports);
  const writer = new ActionWriter(
    project.application,
    store,
    action,
    style,
    project.guards,
    imports,
  );
  const body = writer.body();
  const drafts = code`{ ${joined([...style.used].sort().map(id), ', ')} }`;
  const params = style.draws ? code`${drafts}, draw` : style.used.size > 0 ? drafts : code``;
  return { params, body, usesPayload: writer.usesLocal('payload') };
}

class ProxyActionStyle extends ActionStyle {
  readonly taken: readonly string[];
  /** The stores that the action needs drafts of. */
  readonly used = new Set<string>();
  draws = false;

  constructor(
    readonly project: Project,
    store: Store,
    imports: Imports,
  ) {
    super(store, imports);
    const stores = project.application.stores.map(({ name }) => name);
    this.taken = [
      ...['live', 'input', 'payload', 'draw', 'change'],
      ...stores,
      ...emittedNames(project.application),
    ];
  }

  field(store: string, name: string): Code {
    this.used.add(store);
    return code`${id(store)}${property(name)}`;
  }

  derived(store: string, name: string): Code {
    return this.field(store, name);
  }

  draw(name: Drawn): Code {
    this.draws = true;
    this.used.add(this.store.name);
    return code`draw.${id(name)}()`;
  }

  step(step: Step, writer: ActionWriter): Code {
    return writeInPlaceStep(step, writer);
  }

  override held(value: Code, type: Type): Code {
    return plainly(value, type, this.project, this.imports);
  }
}

function emitIndex(project: Project): void {
  const { application, types } = project;
  const imports = new Imports();
  const options = imports.type('transaction', 'Options');
  const parts = application.stores.map((store) => {
    const initial = imports.value('initial', `initial${pascal(store.name)}`);
    const fields = store.single ? code`{ value: ${initial} }` : code`{ ...${initial} }`;
    const derived = imports.value(`${store.name}.store`, `${store.name}Derived`);
    return code`${key(store.name)}: { fields: ${fields}, derived: ${derived} },`;
  });
  const created = application.stores.map((store) => {
    const create = imports.value(`${store.name}.store`, `create${pascal(store.name)}`);
    return code`${key(store.name)}: ${create}(live),`;
  });
  const states = application.stores.map((store) => {
    const state = types.state(store, imports);
    const from = code`stores${property(store.name)}`;
    if (store.single) return code`${key(store.name)}: (): ${state} => ${from}.value,`;
    const fields = store.fields.map(({ name }) => code`${key(name)}: ${from}${property(name)},`);
    return code`${key(store.name)}: live.tracked((): ${state} => ({ ${fields} })),`;
  });
  const all = application.stores.map(({ name }) => code`${key(name)}: states${property(name)}(),`);
  const declaration = code`${doc(application.title ?? application.about)}export function createStores(options: ${options} = {}) {
const live = new ${imports.value('runtime', 'Live')}<${imports.type('views', 'App')}, ${imports.type('views', 'Drafts')}>({ ${parts} }, options);
const stores = { ${created} };
/** A snapshot of each store: plain data that never changes. */
const states = { ${states} };
/** A snapshot of all stores. */
const state = live.tracked((): ${types.app(imports)} => ({ ${all} }));
/** Calls back after every change of what \`read\` gives. */
const watch = <T>(read: () => T, changed: (now: T, before: T) => void) => live.watch(read, changed);
/** What \`read\` gives, to be subscribed to or iterated over. */
const follow = <T>(read: () => T) => live.follow(read);
return { stores, states, state, watch, follow };
}`;
  project.add(
    'index',
    'Live stores: read them like plain objects, change them by actions.',
    imports,
    [declaration, ...publicTypes(project.types)],
  );
}
