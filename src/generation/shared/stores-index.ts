import { code, data, doc, entry, joined, Name, nothing, scoped, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { pascal } from '../build/reserved.js';
import { handedOver, type Capabilities, type HandedOver } from './handed-over.js';
import { lazyExports, orNull } from './lazy-stores.js';
import { optionsParameter, optionsType } from './options-type.js';
import type { Output } from './output.js';
import { exportTypes } from './public-types.js';

/** What differs between the styles whose stores are made of readable parts. */
export interface StoresIndex {
  readonly about: string;
  readonly capabilities: Capabilities;
  /** How an engine is called. */
  readonly engine: string;
  /** What the stores are given, from the names of the engine, of all stores and of what is handed over. */
  readonly around: (engine: Name, stores: Name, handed: HandedOver, module: Module) => Code;
  /** True if the state of a lazy store is asked of what attaches them. */
  readonly hasLazyStates: boolean;
  readonly publicTypes: Parameters<typeof exportTypes>[1];
}

/** The file with `createStores`, for styles in which a store is an object of parts that can be read and watched. */
export function emitStoresIndex(output: Output, index: StoresIndex): void {
  const { application, types } = output;
  const module = output.module('index', index.about);
  const [given, engine, around, stores] = ['options', index.engine, 'around', 'stores'].map(
    (one) => new Name(one),
  ) as [Name, Name, Name, Name];
  const type = optionsType(output, module);
  const { capabilities } = index;
  const handed = handedOver(output, module, capabilities, engine, given);
  const { before, after, lazy, saved } = handed;
  const made = application.stores.map((store) => {
    if (store.lazy) {
      const create = module.type(`stores/${store.name}`, `create${pascal(store.name)}`);
      return code`${entry(store.name, code`null as ${module.global('ReturnType')}<typeof ${create}> | null`)},`;
    }
    const create = module.value(`stores/${store.name}`, `create${pascal(store.name)}`);
    return code`${entry(store.name, code`${create}(${around})`)},`;
  });
  const states = application.stores.map((store) => {
    const of = orNull(store, types.state(store, module));
    const owner = store.lazy && index.hasLazyStates && lazy !== undefined ? lazy : engine;
    return code`${entry(store.name, code`${owner}.state<${of}>(${data(store.name)})`)},`;
  });
  const [file] = capabilities.lazy.made;
  const attach =
    lazy === undefined
      ? nothing
      : code`${doc('Attaches a lazy store; does nothing if it is attached already.')}attach: (store: ${module.type(file, 'LazyStore')}) => ${lazy}.attach(store, ${around}, ${stores}),\n`;
  const subscribing =
    output.options.readers.length === 0
      ? nothing
      : code`${doc('Calls back after every change of anything; returns what stops it.')}subscribe: (changed: () => void) => ${module.value('runtime/watchers', 'watchAll')}(${engine}.watchers, changed),\n`;
  const saving =
    saved === undefined
      ? nothing
      : code`${doc('Takes in what a storage has, in one transaction, and saves there from then on. It may answer later.')}takeSaved: ${saved}.takeSaved,\n`;
  const lines = joined(
    [
      code`const ${engine} = new ${module.value(...capabilities.engine)}(${output.checkTable(module)}, ${given});`,
      ...before,
      code`const ${around}: ${types.use('Around', module)} = ${index.around(engine, stores, handed, module)};`,
      code`const ${stores} = {\n${made}\n};`,
      ...after,
    ],
    '\n',
  );
  const body = code`${lines}
return {
stores,
${attach}${doc('The state of each store.')}states: {\n${states}\n},
${subscribing}${doc('The state of all stores.')}state: ${engine}.state<${types.app(module)}>(),
${saving}${doc('Abandons all tasks and ends what is watched: from then on everything is refused.')}close: ${engine}.close,
};`;
  const names = [handed.lazy, handed.saved, handed.histories, handed.tasks, handed.logging];
  module.add(
    scoped(
      [given, engine, around, stores, ...names.filter((one) => one !== undefined)],
      code`${doc(application.title ?? application.about)}export function ${module.exported('createStores')}(${optionsParameter(output, given, type)}) {\n${body}\n}`,
    ),
    ...lazyExports(output),
    ...exportTypes(output, index.publicTypes),
  );
}
