import { code, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { usedBy, type Style } from '../../base/styles.js';

/** How a function of a component reads the stores of a style. */
export interface ReaderFunction {
  /** The types that its parameters have, declared for the file; `App` is what `createStores` gives. */
  readonly types: (module: Module) => Code;
  readonly params: Code;
  /** What it is called with; what `createStores` gave is called `app`. */
  readonly args: Code;
}

const app = (module: Module): Code =>
  code`type App = ReturnType<typeof ${module.type('index', 'createStores')}>;`;

const ofStores: ReaderFunction = {
  types: (module) => code`${app(module)}
type Stores = App["stores"];`,
  params: code`stores: Stores`,
  args: code`app.stores`,
};

const ofState: ReaderFunction = {
  types: (module) => code`${app(module)}
type State = ReturnType<App["snapshot"]>;`,
  params: code`state: State, store: App`,
  args: code`app.snapshot(), app`,
};

export const readingOf = (style: Style): ReaderFunction =>
  usedBy[style] === 'dispatch' ? ofState : ofStores;
