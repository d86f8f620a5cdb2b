import {
  hasTasks,
  type Action,
  type Application,
  type Derived,
  type Store,
} from '../../model/application.js';
import type { Task } from '../../model/tasks.js';
import { resolve } from '../../model/types.js';
import { isTextual, textual } from '../../model/textual.js';
import {
  code,
  comment,
  data,
  doc,
  joined,
  key,
  Name,
  named,
  nothing,
  scoped,
  word,
  type Code,
} from '../build/code.js';
import { Module } from '../build/module.js';
import { TypeFile } from '../shared/type-file.js';

/** The tables of a participant file. */
export type TableName = 'actions' | 'tasks' | 'state' | 'derived';

const tableNames: readonly TableName[] = ['actions', 'tasks', 'state', 'derived'];

/** A line of a participant file that is to be filled in. */
export interface SkeletonLine {
  readonly table: TableName;
  readonly store: string;
  /** The name of the action, field or derived value; `undefined` for the state of a store that is one value. */
  readonly name: string | undefined;
  readonly code: Code;
}

/** How a participant file finds its types. */
export interface SkeletonTypes {
  readonly file: TypeFile;
  readonly module: Module;
}

/** Types that are imported from a module beside the participant file: `./ferry.types.js`. */
export function skeletonTypes(application: Application, types: string, about = ''): SkeletonTypes {
  const specifier = (module: string) => (module === 'types' ? types : module);
  return {
    file: new TypeFile(application, false),
    module: new Module('participant', about, specifier),
  };
}

/** The types of an application, as the module that a participant file imports. */
export function participantTypes(application: Application): string {
  return new TypeFile(application, false).module.print();
}

/**
 * A participant file to be filled in: a table of all actions, fields and derived values of an application,
 * typed by its schema. `schema` is the schema's path, for the command that runs it; `types` the module of its types.
 */
export function participantSkeleton(
  application: Application,
  schema: string,
  types: string,
): string {
  const head = [
    `The stores of the old application, to be compared with ${schema}:`,
    `leeshore compare ${schema} --with THIS-FILE`,
    'Call the old code in place of each missing(); delete what the old application does not have.',
  ].join('\n');
  const known = skeletonTypes(application, types, head);
  const { module } = known;
  const lines = skeletonLines(application, known);
  const used = tableNames.filter(
    (table) => table !== 'tasks' || lines.some((line) => line.table === 'tasks'),
  );
  const tables = used.map((table) => {
    const stores = application.stores.map(({ name }) => {
      const own = lines.filter((line) => line.table === table && line.store === name);
      const [first] = own;
      if (first === undefined) return nothing;
      return first.name === undefined
        ? first.code
        : code`${key(name)}: { ${own.map((line) => line.code)} },`;
    });
    return code`${word(table)}: { ${stores} },`;
  });
  const participant = module.type('leeshore', 'ExternalParticipant');
  module.add(
    code`export default {
name: "old",
${joined(ofNames.map(comment), '')}names: {
${namesOutline(application)}},
create(environment) {
${comment(about(application))}${hasTasks(application) ? comment(ofGlobals) : nothing}return { ${tables} };
},
} satisfies ${participant};`,
    missingFunction,
  );
  return module.print();
}

/**
 * A line for each action, field and derived value, as a comment: what it is called in the old application is not known. Each store
 * has a class of its own there, so that no name stands there twice.
 */
function namesOutline({ stores, types }: Application): Code {
  const lines = stores.flatMap((store) => {
    const old = `Old${store.name.charAt(0).toUpperCase()}${store.name.slice(1)}`;
    return [
      ...[...store.actions, ...store.tasks].map(({ name, payload }) => {
        const type = payload === undefined ? undefined : resolve(payload, types);
        const is = JSON.stringify(`${store.name}.${name}`);
        if (type?.kind !== 'record') return `"${old}.${name}": ${is},`;
        const given = type.fields.map((field) => JSON.stringify(field.name)).join(', ');
        return `"${old}.${name}": { is: ${is}, arguments: [${given}] },`;
      }),
      ...store.fields.map((field) => {
        const at = store.single ? store.name : `${store.name}.${field.name}`;
        return `"${old}.${store.single ? store.name : field.name}": ${JSON.stringify(at)},`;
      }),
      ...store.derived.map(
        ({ name }) => `"${old}.${name}": ${JSON.stringify(`${store.name}.${name}`)},`,
      ),
    ];
  });
  return joined(lines.map(comment), '');
}

const ofNames = [
  'What the old application calls things, for leeshore survey. Take away the // where you know it.',
  'One old class may be several stores here, and several classes one store.',
];

const ofGlobals =
  "If the old code calls fetch itself, say with 'globals' which operation a request is.";

/** What the function that makes the stores is given. */
function about(application: Application): string {
  const given = hasTasks(application)
    ? 'newId(), now(), random(), services and timers'
    : 'newId(), now() and random()';
  return `Make the old stores here, each time anew; environment has ${given} for them.`;
}

/** The function that stands where the old code is still to be called. */
const missing = new Name('missing', 'fixed');

/** What stands in a participant file where the old code is still to be called. */
export const missingFunction = code`${doc('Stands where the old code is still to be called.')}function ${missing}(what: string, ..._given: readonly unknown[]): never {
throw new Error(\`not filled in: \${what}\`);
}
`;

/** All lines of a participant file, in schema order. */
export function skeletonLines(
  application: Application,
  types: SkeletonTypes,
): readonly SkeletonLine[] {
  return application.stores.flatMap((store) => [
    ...store.actions.map((action) => ({
      table: 'actions' as const,
      store: store.name,
      name: action.name,
      code: actionLine(store, action, types),
    })),
    ...store.tasks.map((task) => ({
      table: 'tasks' as const,
      store: store.name,
      name: task.name,
      code: taskLine(store, task, types),
    })),
    ...store.fields.map((field) => {
      const at = store.single ? store.name : `${store.name}.${field.name}`;
      const type = types.file.type(field.type, types.module);
      const own = store.single ? store.name : field.name;
      return {
        table: 'state' as const,
        store: store.name,
        name: store.single ? undefined : field.name,
        code: code`${doc(field.about)}${key(own)}: (): ${type} => ${missing}(${data(at)}),`,
      };
    }),
    ...store.derived.map((derived) => ({
      table: 'derived' as const,
      store: store.name,
      name: derived.name,
      code: derivedLine(store, derived, types),
    })),
  ]);
}

function derivedLine(
  store: Store,
  { name, about, params, value }: Derived,
  { file, module }: SkeletonTypes,
): Code {
  const own = params.map((param) => ({ ...param, own: new Name(param.name) }));
  const given = own.map((param) => code`${param.own}: ${file.type(param.type, module)}`);
  const callArguments = [data(`${store.name}.${name}`), ...own.map((param) => named(param.own))];
  const line = code`(${joined(given, ', ')}): ${file.type(value.type, module)} => ${missing}(${joined(callArguments, ', ')})`;
  return code`${doc(about)}${key(name)}: ${scoped(
    own.map((param) => param.own),
    line,
  )},`;
}

/** A task: how it is started; cancelling and telling whether it goes on can be left out. */
function taskLine(store: Store, task: Task, { file, module }: SkeletonTypes): Code {
  const reasons = task.requires.map(({ otherwise }) => JSON.stringify(otherwise)).join(', ');
  const about = [
    ...(task.about === undefined ? [] : [task.about]),
    ...(task.operation === undefined
      ? []
      : [`Calls ${task.operation.service}.${task.operation.operation}`]),
    ...(reasons === '' ? [] : [`Refused, by returning false or { refused }: ${reasons}`]),
  ].join('. ');
  const name = `${store.name}.${task.name}`;
  const start =
    task.payload === undefined
      ? code`start: () => ${missing}(${data(`${name} start`)})`
      : code`start: (payload: ${file.payload(store, task, module)}) => ${missing}(${data(`${name} start`)}, payload)`;
  return code`${doc(about)}${key(task.name)}: {
${start},
cancel: () => ${missing}(${data(`${name} cancel`)}),
running: (): boolean => ${missing}(${data(`${name} running`)}),
},`;
}

function actionLine(store: Store, action: Action, { file, module }: SkeletonTypes): Code {
  const reasons = action.requires.map(({ otherwise }) => JSON.stringify(otherwise)).join(', ');
  const refused = reasons === '' ? [] : [`Refused, by returning false or { refused }: ${reasons}`];
  const about = [...(action.about === undefined ? [] : [action.about]), ...refused].join('. ');
  const name = data(`${store.name}.${action.name}`);
  if (action.payload === undefined)
    return code`${doc(about)}${key(action.name)}: () => ${missing}(${name}),`;
  const { types } = file.application;
  const type =
    action.acceptsText && isTextual(action.payload, types)
      ? file.type(textual(action.payload, types), module)
      : file.payload(store, action, module);
  return code`${doc(about)}${key(action.name)}: (payload: ${type}) => ${missing}(${name}, payload),`;
}
