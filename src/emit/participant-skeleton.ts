import type { Action, Application, Derived, Store } from '../model/application.js';
import { isTextual, textual } from '../model/textual.js';
import { code, comment, data, doc, id, joined, key, type Code } from './code.js';
import { Names } from './identifiers.js';
import { Imports } from './imports.js';
import { TypeBook } from './type-book.js';

/** The tables of a participant file. */
export type TableName = 'actions' | 'state' | 'derived';

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
  readonly book: TypeBook;
  readonly imports: Imports;
}

/** Types that are imported from a module beside the participant file: `./ferry.types.js`. */
export function skeletonTypes(application: Application): SkeletonTypes {
  return { book: new TypeBook(application), imports: new Imports() };
}

/** The types of an application, as the module that a participant file imports. */
export function participantTypes(application: Application): string {
  return new TypeBook(application).print().text;
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
  const known = skeletonTypes(application);
  const lines = skeletonLines(application, known);
  const tables = (['actions', 'state', 'derived'] as const).map((table) => {
    const stores = application.stores.map(({ name }) => {
      const own = lines.filter((line) => line.table === table && line.store === name);
      const [first] = own;
      if (first === undefined) return code``;
      return first.name === undefined
        ? first.code
        : code`${key(name)}: { ${own.map((line) => line.code)} },`;
    });
    return code`${id(table)}: { ${stores} },`;
  });
  return joined(
    [
      comment(`The stores of the old application, to be compared with ${schema}:`),
      comment(`leeshore compare ${schema} --with THIS-FILE`),
      comment(
        'Call the old code in place of each missing(); delete what the old application does not have.',
      ),
      code`
import type { BroughtParticipant } from "leeshore";
${known.imports.printFrom(types)}

export default {
name: "old",
create(environment) {
${comment('Make the old stores here, each time anew; environment has newId(), now() and random() for them.')}return { ${tables} };
},
} satisfies BroughtParticipant;

${missingFunction}`,
    ],
    '',
  ).text;
}

/** What stands in a participant file where the old code is still to be called. */
export const missingFunction = code`${doc('Stands where the old code is still to be called.')}function missing(what: string, ..._given: readonly unknown[]): never {
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
    ...store.fields.map((field) => {
      const at = store.single ? store.name : `${store.name}.${field.name}`;
      const type = types.book.type(field.type, types.imports);
      const own = store.single ? store.name : field.name;
      return {
        table: 'state' as const,
        store: store.name,
        name: store.single ? undefined : field.name,
        code: code`${doc(field.about)}${key(own)}: (): ${type} => missing(${data(at)}),`,
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
  { book, imports }: SkeletonTypes,
): Code {
  const names = new Names(['missing']);
  const own = params.map((param) => ({ ...param, id: id(names.allocate(param.name)) }));
  const given = own.map((param) => code`${param.id}: ${book.type(param.type, imports)}`);
  const told = [data(`${store.name}.${name}`), ...own.map((param) => param.id)];
  return code`${doc(about)}${key(name)}: (${joined(given, ', ')}): ${book.type(value.type, imports)} => missing(${joined(told, ', ')}),`;
}

function actionLine(store: Store, action: Action, { book, imports }: SkeletonTypes): Code {
  const reasons = action.requires.map(({ otherwise }) => data(otherwise).text).join(', ');
  const refused = reasons === '' ? [] : [`Refused, by returning false or { refused }: ${reasons}`];
  const about = [...(action.about === undefined ? [] : [action.about]), ...refused].join('. ');
  const name = data(`${store.name}.${action.name}`);
  if (action.payload === undefined)
    return code`${doc(about)}${key(action.name)}: () => missing(${name}),`;
  const { types } = book.application;
  const type =
    action.acceptsText && isTextual(action.payload, types)
      ? book.type(textual(action.payload, types), imports)
      : book.payload(store, action, imports);
  return code`${doc(about)}${key(action.name)}: (payload: ${type}) => missing(${name}, payload),`;
}
