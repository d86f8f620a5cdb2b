import { code, data, doc, entry, key, nothing, object, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import type { Output } from './output.js';

/** Adds the file that says what stores begin with if nothing else is given. */
export function addInitialStates(output: Output): void {
  const { application, types } = output;
  const module = output.module('initial', 'What stores begin with if nothing else is given.');
  const states = application.stores.map(({ name, single, lazy, fields }) => {
    if (lazy) return entry(name, code`null`);
    if (single) return entry(name, data(fields[0]?.default));
    return entry(name, object(fields.map((field) => entry(field.name, data(field.default)))));
  });
  const lines = states.map((one) => code`${one},`);
  module.add(
    code`${doc('The state of all stores as it is at the beginning, to be changed and given: null for a lazy one.')}export const ${module.exported('initialStates')} = (): ${types.app(module)} => ({\n${lines}\n});`,
  );
}

/** The type of the state that stores are given to begin from: some stores, and some of their fields. */
export function givenState(output: Output, module: Module): Code {
  const { application, types } = output;
  const own = types.add('BeginState', (name, file) => {
    const members = application.stores.map((store) => {
      const state = types.state(store, file);
      const partial = store.single ? state : code`${file.global('Partial')}<${state}>`;
      return code`readonly ${key(store.name)}?: ${partial}${store.lazy ? code` | null` : nothing};`;
    });
    return code`${doc('What stores can begin from: what is missing begins with its default.')}export interface ${name} {\n${members}\n}`;
  });
  return types.use(own, module);
}
