import type { Store } from '../model/application.js';
import { pascal } from './identifiers.js';

/** What generated files use of the run time: names that nothing of the schema may take there. */
export const runtimeNames: readonly string[] = [
  'accept',
  'acceptText',
  'addItem',
  'addItems',
  'answered',
  'answering',
  'asPartOf',
  'changeAt',
  'changeEntry',
  'changeItem',
  'createSelectors',
  'draftOf',
  'dropEntry',
  'dropProperty',
  'entry',
  'entryIn',
  'entryKey',
  'fit',
  'groupBy',
  'hasUniqueKeys',
  'insertAt',
  'insertItems',
  'isEntryKey',
  'isListOf',
  'itemIn',
  'itemOf',
  'moveItem',
  'moveKeyed',
  'moved',
  'movedItem',
  'passes',
  'perArguments',
  'placeIn',
  'placeOf',
  'plainOf',
  'putItem',
  'putItems',
  'refuse',
  'removeItems',
  'requireItem',
  'requireUnique',
  'same',
  'select',
  'selectFrom',
  'sortBy',
  'sum',
  'toggleItem',
  'toggled',
  'withItem',
  'withoutItem',
];

/** What a function of the schema is called in the generated files. */
export function emittedFunction(name: string): string {
  return runtimeNames.includes(name) ? `${name}_` : name;
}

/** Types and classes of the run time that generated files mention, and what is global in them. */
const busyEverywhere = [
  ...['App', 'AppAction', 'Change', 'Draft', 'Drafts', 'Draw', 'Graph', 'GraphNode', 'Hub', 'Live'],
  ...['Options', 'Outcome', 'Selector', 'Selectors', 'Stores', 'Stream', 'Transaction'],
  ...[
    'Array',
    'Date',
    'Error',
    'Intl',
    'JSON',
    'Map',
    'Math',
    'Number',
    'Object',
    'Promise',
    'Record',
  ],
  ...['ReturnType', 'Set', 'String', 'Symbol', 'TypeError'],
];

/** Names of types that stand for something else in some file of the output. */
export function busyTypeNames(stores: readonly Store[]): ReadonlySet<string> {
  const own = stores.flatMap(({ name }) =>
    ['', 'Action', 'Derived', 'Draft', 'View'].map((suffix) => `${pascal(name)}${suffix}`),
  );
  return new Set([...busyEverywhere, ...own]);
}
