import type { Application, Store } from '../model/application.js';
import { pascal } from './identifiers.js';

/** What generated files use of the run time: names that nothing of the schema may take there. */
export const runtimeNames: readonly string[] = (
  'accept acceptText addItem addItems answered answering asPartOf changeAt changeEntry changeItem ' +
  'createReducerStore createSelectors draftOf dropEntry dropProperty eachEntry eachField eachItem entry ' +
  'entryIn entryKey environmentOf fit freeze groupBy guardByDefault hasUniqueKeys insertAt insertItems ' +
  'isBoolean isDate isDateTime isDistinct isEmail isEntryKey isInteger isListOf isMapOf isMultiple ' +
  'isNumber isRecord isRefusal isText isUri isUuid itemIn itemOf keep lengthOf moveItem moveKeyed moved ' +
  'movedItem passes perArguments placeIn placeOf plainOf putItem putItems refuse removeItems requireItem ' +
  'requireUnique same select selectFrom sortBy sum takeIn toBoolean toNull toNumber toggleItem toggled ' +
  'undraft withItem withoutItem'
).split(' ');

/** What a function of the schema is called in the generated files. */
export function emittedFunction(name: string): string {
  return runtimeNames.includes(name) ? `${name}_` : name;
}

/** All that generated files may use of each other: no local of theirs is called like that. */
export function emittedNames({ functions, stores }: Application): readonly string[] {
  return [
    ...runtimeNames,
    ...functions.map(({ name }) => emittedFunction(name)),
    ...stores.flatMap(({ name }) => [
      `initial${pascal(name)}`,
      `reduce${pascal(name)}`,
      `create${pascal(name)}`,
      `${name}Constants`,
    ]),
  ];
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
