import {
  code,
  data,
  doc,
  entry,
  joined,
  Name,
  named,
  nothing,
  object,
  scoped,
  word,
  type Code,
} from '../../build/code.js';
import type { Module } from '../../build/module.js';
import { pascal } from '../../build/reserved.js';
import { eagerStores, lazyExports } from '../../shared/lazy-stores.js';
import { handedOver, tableOfStores, type Capabilities } from '../../shared/handed-over.js';
import { optionsParameter, optionsType } from '../../shared/options-type.js';
import type { Output } from '../../shared/output.js';
import { exportTypes } from '../../shared/public-types.js';
import { startsByItself } from '../../shared/task-plan.js';
import { addTaskTypes } from '../../shared/task-types.js';

/** What the types are called that the style adds. */
export interface Names {
  readonly app: string;
  readonly derived: string;
  readonly around: string;
}

const capabilities: Capabilities = {
  engine: ['runtime/reducer', 'Reducers'],
  lazy: { made: ['runtime/defined-lazy', 'attaching'], isClass: false },
  saved: { made: ['runtime/defined-saved', 'savedOf'], isClass: false },
  histories: { made: ['runtime/reducer-histories', 'undoing'], isClass: false },
  tasks: ['runtime/recorded-tasks', 'RecordedTasks'],
  hasOwnTasks: true,
  working: (engine, tasks, given, module) =>
    code`const ${tasks.own} = new ${module.value('runtime/reducer-tasks', 'ReducerTasks')}(${engine}, ${tasks.run}, ${given});`,
  states: (engine) => code`() => ${engine}.states`,
};

/** The file with `createStores`, and with tasks also `createReplay`. */
export function emitIndex(output: Output, names: Names): void {
  const { application, types } = output;
  const module = output.module(
    'index',
    'A reducer store: dispatch actions, read the state and what is derived.',
  );
  const actions = application.stores
    .filter((store) => store.actions.length + store.tasks.length > 0)
    .map(({ name }) => named(module.type(`stores/${name}`, `${pascal(name)}Action`)));
  const action = types.has('AppAction') ? 'StoreAppAction' : 'AppAction';
  const own = module.exported(action);
  const hasTasks = addTaskTypes(output) !== undefined;
  const recorded = hasTasks ? [module.type('runtime/reducer-tasks', 'RecordOptions')] : [];
  const options = optionsType(output, module, recorded);
  module.add(
    code`${doc('Everything that can happen.')}export type ${own} = ${actions.length === 0 ? code`never` : joined(actions, ' | ')};`,
  );
  const makers = eagerStores(application).map(
    ({ name }) => code`export { ${word(`${name}Actions`)} } from ${data(`./stores/${name}.js`)};`,
  );
  module.add(
    ...(hasTasks
      ? createWithReplay(output, module, options, own, names)
      : createAlone(output, module, options, own, names)),
    joined([...makers, ...lazyExports(output)], '\n'),
    ...exportTypes(
      output,
      hasTasks ? { replay: ['AppValue'], 'reducer-tasks': ['DoneAction'] } : {},
    ),
  );
}

/** What is handed over to an engine, and the stores that it makes. */
function engineLines(
  output: Output,
  module: Module,
  engine: Name,
  given: Name,
  usesHistories: boolean,
) {
  const handed = handedOver(output, module, capabilities, engine, given, usesHistories);
  const stores = tableOfStores(output, (name) =>
    named(module.value(`stores/${name}`, `${name}Store`)),
  );
  const lines = [
    code`const ${engine} = new ${module.value(...capabilities.engine)}(${output.checkTable(module)}, ${given});`,
    ...handed.before,
    code`${engine}.make(${stores});`,
  ];
  return { handed, lines };
}

/** What `createStores` gives: the members of a reducer store. */
function storeMembers(
  output: Output,
  module: Module,
  engine: Name,
  { lazy, saved, tasks }: ReturnType<typeof handedOver>,
  action: Name,
  names: Names,
): Code {
  const { types } = output;
  const store = module.value('runtime/reducer', 'reducerStore');
  const of = [types.app(module), named(action), types.use(names.derived, module)];
  const taskTypes = addTaskTypes(output);
  const members = [
    code`...${store}<${joined(of, ', ')}>(${engine}),`,
    ...(tasks === undefined || taskTypes === undefined
      ? []
      : [code`...${tasks}.store<${action}, ${types.use(taskTypes.tasks, module)}>(),`]),
    ...(lazy === undefined
      ? []
      : [
          code`${doc('Attaches a lazy store; does nothing if it is attached already.')}attach: ${lazy},`,
        ]),
    ...(saved === undefined
      ? []
      : [
          code`${doc('Takes in what a storage has, in one transaction, and saves there from then on. It may answer later.')}takeSaved: ${saved}.takeSaved,`,
        ]),
  ];
  return code`{\n${members}\n}`;
}

function createAlone(output: Output, module: Module, options: Name, action: Name, names: Names) {
  const { application } = output;
  const [given, engine] = [new Name('options'), new Name('engine')];
  const { handed, lines } = engineLines(output, module, engine, given, false);
  const { lazy, saved, histories, logging } = handed;
  const used = [lazy, saved, histories, logging].filter((one) => one !== undefined);
  const members = storeMembers(output, module, engine, handed, action, names);
  const body = joined([...lines, ...handed.after, code`return ${members};`], '\n');
  return [
    scoped(
      [given, engine, ...used],
      code`${doc(application.title ?? application.about)}export function ${module.exported('createStores')}(${optionsParameter(output, given, options)}) {\n${body}\n}`,
    ),
  ];
}

/** The stores, and the same as a pure function over what was recorded of them. */
function createWithReplay(
  output: Output,
  module: Module,
  options: Name,
  action: Name,
  names: Names,
): readonly Code[] {
  const { application } = output;
  const make = module.own('makeEngine');
  const [given, engine] = [new Name('options'), new Name('engine')];
  const { handed, lines } = engineLines(output, module, engine, given, true);
  const { lazy, saved, histories, tasks, run, logging } = handed;
  const started = startsByItself(application) ? run : undefined;
  const made = [lazy, saved, histories, run, tasks, logging].filter((one) => one !== undefined);
  const members = storeMembers(output, module, engine, handed, action, names);
  const create = joined(
    [
      code`const ${objectOf([engine, lazy, saved, started, tasks, logging])} = ${make}(${given});`,
      ...handed.after,
      code`return ${members};`,
    ],
    '\n',
  );
  const partial = module.global('Partial');
  return [
    scoped(
      [given, engine, ...made],
      code`function ${make}(${given}: ${partial}<${options}>) {\n${joined([...lines, code`return ${objectOf([engine, ...made])};`], '\n')}\n}`,
    ),
    scoped(
      [given, engine, ...made],
      code`${doc(application.title ?? application.about)}export function ${module.exported('createStores')}(${optionsParameter(output, given, options)}) {\n${create}\n}`,
    ),
    replayFunction(output, module, make, engine, handed),
  ];
}

/** An object of variables, or a pattern for it: `{ engine, tasks }`. */
const objectOf = (of: readonly (Name | undefined)[]): Code =>
  object(of.flatMap((one) => (one === undefined ? [] : [entry(one.wanted, named(one))])));

/** The function that does again what was recorded; `make` makes an engine with all that is handed over. */
function replayFunction(
  output: Output,
  module: Module,
  make: Name,
  engine: Name,
  { saved, histories, tasks, order }: ReturnType<typeof handedOver>,
): Code {
  const app = output.types.app(module);
  const replay = module.value('runtime/replay', 'replayOf');
  const replayOptions = saved === undefined ? code`{}` : code`{ storage: undefined }`;
  const [attached, store, replaying] = [new Name('lazy'), new Name('store'), new Name('replay')];
  const call = code`${replay}<${app}>(${joined([named(tasks ?? engine), histories === undefined ? nothing : named(histories)], ', ')})`;
  const attachAll =
    order === undefined
      ? [code`return ${call};`]
      : [
          code`const ${replaying} = ${call};`,
          code`for (const ${store} of ${attached}) ${module.value('runtime/defined-lazy', 'attach')}(${engine}, ${order}, ${store});`,
          code`return ${replaying};`,
        ];
  const parameter =
    order === undefined
      ? nothing
      : code`${attached}: readonly (${module.type('runtime/reducer', 'ReducingStore')} & ${module.type('runtime/defined-lazy', 'Attached')})[] = []`;
  const replayBody = joined(
    [
      code`const ${objectOf([order && engine, tasks, histories])} = ${make}(${replayOptions});`,
      ...attachAll,
    ],
    '\n',
  );
  const names = [engine, tasks, histories].filter((one) => one !== undefined);
  return scoped(
    [...names, attached, store, replaying],
    code`${doc('Does again what was recorded, on plain values: no service is called, and nobody is told.')}export function ${module.exported('createReplay')}(${parameter}) {\n${replayBody}\n}`,
  );
}
