import { exportedTypes, publicTypes } from './public-types.js';
import { ActionStyle, ActionWriter } from './action-writer.js';
import { hasParameters, type Action, type Derived, type Store } from '../model/application.js';
import type { Step } from '../model/steps.js';
import { Across } from './across.js';
import { code, data, doc, id, joined, key, property, type Code } from './code.js';
import { derivedInOrder } from './derived-order.js';
import { Names, pascal } from './identifiers.js';
import { writeImmutableStep } from './immutable-steps.js';
import { Imports } from './imports.js';
import { givenType, optionalMark, payloadLine } from './payloads.js';
import { parametersOf } from './answers.js';
import { renaming } from './pure-reading.js';
import { emittedNames } from './runtime-names.js';
import type { Drawn } from './print-expression.js';
import { Project } from './project.js';
import { unitAcross } from './unit-across.js';
import type { UnitStyle, Units } from './unit-style.js';

/** Writes the files of a style in which each field is a unit of its own. */
export function emitUnitStores(project: Project, style: UnitStyle, about: string): Project {
  const across = new Across(project, unitAcross(project, style));
  for (const store of project.application.stores)
    new UnitStore(project, style, store, across).emit();
  across.emit();
  emitIndex(project, style, about);
  return project;
}

class UnitStore implements Units {
  readonly names: Names;
  readonly #imports = new Imports();
  readonly #own = new Map<string, string>();
  /** The units of the derived values with parameters: functions that answer. */
  readonly #answers = new Map<string, string>();
  #usesApp = false;

  constructor(
    readonly project: Project,
    readonly style: UnitStyle,
    readonly store: Store,
    readonly across: Across,
  ) {
    const { owner, transaction } = style;
    // 'get' and 'answer' are what computed units call their own.
    this.names = new Names([
      owner,
      transaction,
      'app',
      'input',
      'payload',
      'get',
      'answer',
      ...across.namesOf(store),
      ...emittedNames(project.application),
    ]);
    const members = [...store.fields, ...store.derived, ...store.actions];
    for (const { name } of members) this.#own.set(name, this.names.allocate(name));
    for (const { name, params } of store.derived)
      if (params.length > 0) this.#answers.set(name, this.names.allocate(`${name}Answers`));
  }

  unit(store: string, name: string): Code {
    if (store === this.store.name)
      return id(this.#answers.get(name) ?? this.#own.get(name) ?? name);
    this.#usesApp = true;
    const answers = hasParameters(this.project.application, store, name) ? code`.answers` : code``;
    return code`app()${property(store)}${property(name)}${answers}`;
  }

  emit(): void {
    const { store, style } = this;
    const inOrder = derivedInOrder(this.project.application).filter(
      (entry) => entry.store === store,
    );
    const fields = store.fields.map((field) => {
      const unit = style.field(data(`${store.name}.${field.name}`), this.#initial(field.name));
      return code`const ${this.unit(store.name, field.name)} = ${unit};`;
    });
    const derived = inOrder.map(({ derived: value }) => {
      const name = data(`${store.name}.${value.name}`);
      const unit = code`const ${this.unit(store.name, value.name)} = ${style.derived(name, value, this, this.#imports, this.project)};`;
      return value.params.length === 0 ? unit : code`${unit}\n${this.#asked(name, value)}`;
    });
    const actions = store.actions.map((action) => this.#action(action));
    const members = [...store.fields, ...store.derived, ...store.actions].map(({ name }) =>
      this.#member(name),
    );
    const declared = this.#interface();
    const params = [
      code`${id(style.owner)}: ${this.#imports.type('runtime', style.ownerType)}`,
      ...(this.#usesApp ? [code`app: () => ${this.#imports.type('stores', 'Stores')}`] : []),
    ];
    const create = code`export function ${id(`create${pascal(store.name)}`)}(${joined(params, ', ')}): ${id(pascal(store.name))} {
${[...fields, ...derived]}

${joined(actions, '\n\n')}

return { ${joined(members, ', ')} };
}`;
    this.project.add(
      `${store.name}.store`,
      store.about ?? `The store '${store.name}'`,
      this.#imports,
      [declared, create],
    );
  }

  /** The function that gives the unit of a derived value for some arguments. */
  #asked(name: Code, derived: Derived): Code {
    const local = renaming(new Names(this.names.all));
    const args = joined(
      derived.params.map((param) => local(param.name)),
      ', ',
    );
    const params = parametersOf(derived, local, this.project, this.#imports);
    const answers = this.unit(this.store.name, derived.name);
    const type = this.project.types.type(derived.value.type, this.#imports);
    const unit = this.style.answer(name, answers, type, args);
    const perArguments = this.#imports.value('arguments', 'perArguments');
    const own = id(this.#own.get(derived.name) ?? derived.name);
    return code`const ${own} = Object.assign(${perArguments}((${params}) => ${unit}), { answers: ${answers} });`;
  }

  #member(name: string): Code {
    const own = this.#own.get(name) ?? name;
    return own === name ? id(name) : code`${key(name)}: ${id(own)}`;
  }

  #initial(field: string): Code {
    const initial = this.#imports.value('initial', `initial${pascal(this.store.name)}`);
    return this.store.single ? initial : code`${initial}${property(field)}`;
  }

  /** The store as its users see it. */
  #interface(): Code {
    const { project, store, style } = this;
    const unit = this.#imports.type('runtime', style.unitType);
    const fields = store.fields.map(
      ({ name, about, type }) =>
        code`${doc(about)}readonly ${key(name)}: ${unit}<${project.types.type(type, this.#imports)}>;`,
    );
    const derived = store.derived.map((value) => {
      const type = project.types.type(value.value.type, this.#imports);
      const of = code`${unit}<${type}>`;
      if (value.params.length === 0)
        return code`${doc(value.about)}readonly ${key(value.name)}: ${of};`;
      const params = parametersOf(value, renaming(new Names()), project, this.#imports);
      const answers = code`{ readonly answers: ${unit}<(${params}) => ${type}> }`;
      return code`${doc(value.about)}readonly ${key(value.name)}: ((${params}) => ${of}) & ${answers};`;
    });
    const actions = store.actions.map((action) => {
      const params =
        action.payload === undefined
          ? code``
          : code`payload${optionalMark(action)}: ${givenType(project, store, action, this.#imports)}`;
      const outcome = this.#imports.type('transaction', 'Outcome');
      return code`${doc(action.about)}readonly ${key(action.name)}: (${params}) => ${outcome};`;
    });
    return code`${doc(store.about)}export interface ${id(pascal(store.name))} {\n${[...fields, ...derived, ...actions]}\n}`;
  }

  /** A call of the function across stores that does an action. */
  #callAcross(action: Action): Code {
    this.#usesApp = true;
    const args = action.payload === undefined ? [] : [code`payload`];
    return code`${this.across.call(this.store.name, action.name, args, this.#imports).code};`;
  }

  /** The body of an action, and whether it uses the transaction and the payload at all. */
  #body(action: Action): {
    readonly body: Code;
    readonly usesTransaction: boolean;
    readonly usesPayload: boolean;
  } {
    const { project, store } = this;
    if (this.across.has(store.name, action.name))
      return { body: this.#callAcross(action), usesTransaction: true, usesPayload: true };
    const imports = this.#imports;
    const actionStyle = new UnitActionStyle(this, imports, this.names.inner());
    const writer = new ActionWriter(
      project.application,
      store,
      action,
      actionStyle,
      project.guards,
      imports,
    );
    const body = writer.body();
    const usesPayload = writer.usesLocal('payload');
    return { body, usesTransaction: actionStyle.usesTransaction, usesPayload };
  }

  #action(action: Action): Code {
    const { project, store, style } = this;
    const at = `${store.name}.${action.name}`;
    const imports = this.#imports;
    const { body, usesTransaction, usesPayload } = this.#body(action);
    const transaction = usesTransaction ? id(style.transaction) : code``;
    const name = this.unit(store.name, action.name);
    const run = (body: Code) =>
      code`${id(style.owner)}.act(${data(at)}, (${transaction}) => {\n${body}\n})`;
    if (action.payload === undefined) return code`const ${name} = () => ${run(body)};`;
    const accepted = payloadLine(usesPayload, project, store, action, imports);
    const type = givenType(project, store, action, imports);
    return code`const ${name} = (input${optionalMark(action)}: ${type}) => ${run(code`${accepted}\n${body}`)};`;
  }
}

class UnitActionStyle extends ActionStyle {
  readonly taken: readonly string[];
  /** Whether what was written so far reads or stores anything. */
  usesTransaction = false;

  constructor(
    readonly units: UnitStore,
    imports: Imports,
    names: Names,
  ) {
    super(units.store, imports);
    this.taken = names.all;
  }

  field(store: string, name: string): Code {
    return this.#read(store, name);
  }

  derived(store: string, name: string): Code {
    return this.#read(store, name);
  }

  #read(store: string, name: string): Code {
    const { read } = this.units.style;
    return code`${this.#transaction}.${id(read)}(${this.units.unit(store, name)})`;
  }

  get #transaction(): Code {
    this.usesTransaction = true;
    return id(this.units.style.transaction);
  }

  draw(name: Drawn): Code {
    return code`${this.#transaction}.${id(name)}()`;
  }

  step(step: Step, writer: ActionWriter): Code {
    const { write } = this.units.style;
    return writeImmutableStep(step, writer, (changes) =>
      joined(
        changes.map(({ field, value }) => {
          const unit = this.units.unit(this.units.store.name, field);
          return code`${this.#transaction}.${id(write)}(${unit}, ${value});`;
        }),
        '\n',
      ),
    );
  }

  override boundName(store: string, name: string): string {
    return `${super.boundName(store, name)}Now`;
  }
}

function emitIndex(project: Project, style: UnitStyle, about: string): void {
  emitStoresType(project);
  const { application, types } = project;
  const imports = new Imports();
  const options = imports.type('transaction', 'Options');
  const owner = id(style.owner);
  const made = application.stores.map((store) => {
    const create = imports.value(`${store.name}.store`, `create${pascal(store.name)}`);
    return code`${key(store.name)}: ${create}(${owner}${usesApp(project, store) ? code`, app` : code``}),`;
  });
  const states = application.stores.map((store) => {
    if (store.single) return code`${key(store.name)}: stores${property(store.name)}.value,`;
    const parts = store.fields.map(({ name }) => ({
      name,
      unit: code`stores${property(store.name)}${property(name)}`,
    }));
    const state = style.gathered(data(store.name), types.state(store, imports), parts);
    return code`${key(store.name)}: ${state},`;
  });
  const all = application.stores.map(({ name }) => ({ name, unit: code`states${property(name)}` }));
  const anyApp = application.stores.some((store) => usesApp(project, store));
  const declaration = code`${doc(application.title ?? application.about)}export function createStores(options: ${options} = {}) {
const ${owner} = new ${imports.value('runtime', style.ownerType)}(options);
${anyApp ? code`const app = (): Stores => stores;` : code``}
const stores: ${imports.type('stores', 'Stores')} = { ${made} };
/** The state of each store. */
const states = { ${states} };
/** The state of all stores. */
const state = ${style.gathered(data('*'), types.app(imports), all)};
return { stores, states, state };
}`;
  project.add('index', about, imports, [
    declaration,
    exportedTypes(project.types, 'stores', ['Stores']),
    exportedTypes(project.types, 'runtime', [style.unitType]),
    ...publicTypes(project.types),
  ]);
}

function emitStoresType(project: Project): void {
  const imports = new Imports();
  const members = project.application.stores.map(
    (store) =>
      code`readonly ${key(store.name)}: ${imports.type(`${store.name}.store`, pascal(store.name))};`,
  );
  project.add('stores', 'All stores, by name.', imports, [
    code`export interface Stores {\n${members}\n}`,
  ]);
}

/** Whether the file of a store needs the others. */
function usesApp(project: Project, store: Store): boolean {
  return project.importsOf(`${store.name}.store`).includes('stores');
}
