import type { Action, Application, Derived, Store } from '../model/application.js';
import { code, comment, data, doc, id, joined, key, type Code } from './code.js';
import { Names } from './identifiers.js';
import { Imports } from './imports.js';
import { TypeBook } from './type-book.js';

/**
 * A participant file to be filled in: a table of all actions, fields and derived values of an application,
 * typed by its schema. `schema` is the schema's path, for the command that runs it.
 */
export function participantSkeleton(application: Application, schema: string): string {
  const book = new TypeBook(application);
  // All types stand in this file: nothing is imported.
  const typeOf = new SkeletonTypes(book);
  const { stores } = application;
  const tables = [
    code`actions: { ${stores.map((store) =>
      table(
        store,
        store.actions.map((one) => actionLine(store, one, typeOf)),
      ),
    )} },`,
    code`state: { ${stores.map((store) => stateOf(store, typeOf))} },`,
    code`derived: { ${stores
      .filter(({ derived }) => derived.length > 0)
      .map((store) =>
        table(
          store,
          store.derived.map((one) => derivedLine(store, one, typeOf)),
        ),
      )} },`,
  ];
  return joined(
    [
      comment(`The stores of the old application, to be held against ${schema}:`),
      comment(`leeshore compare ${schema} --with THIS-FILE`),
      comment('Put the old code in the place of each missing(); take out what it does not have.'),
      code`
import type { BroughtParticipant } from "leeshore";

`,
      book.print(),
      code`

export default {
name: "old",
create(environment) {
${comment('Make the old stores here, each time anew; environment has newId(), now() and random() for them.')}
return { ${tables} };
},
} satisfies BroughtParticipant;

${doc('Stands where the old code is still to be called.')}function missing(what: string, ..._given: readonly unknown[]): never {
throw new Error(\`\${what} is not written yet\`);
}
`,
    ],
    '',
  ).text;
}

class SkeletonTypes {
  readonly #imports = new Imports();

  constructor(readonly book: TypeBook) {}

  payload(store: Store, action: Action): Code {
    return this.book.payload(store, action, this.#imports);
  }

  of(type: Derived['value']['type']): Code {
    return this.book.type(type, this.#imports);
  }
}

function table({ name }: Store, lines: readonly Code[]): Code {
  return code`${key(name)}: { ${lines} },`;
}

function stateOf(store: Store, types: SkeletonTypes): Code {
  const lines = store.fields.map((field) => {
    const at = store.single ? store.name : `${store.name}.${field.name}`;
    const read = code`(): ${types.of(field.type)} => missing(${data(at)}),`;
    return store.single
      ? code`${key(store.name)}: ${read}`
      : code`${doc(field.about)}${key(field.name)}: ${read}`;
  });
  return store.single ? joined(lines, '\n') : table(store, lines);
}

function derivedLine(
  store: Store,
  { name, about, params, value }: Derived,
  types: SkeletonTypes,
): Code {
  const names = new Names(['missing']);
  const own = params.map((param) => ({ ...param, id: id(names.allocate(param.name)) }));
  const given = own.map((param) => code`${param.id}: ${types.of(param.type)}`);
  const told = [data(`${store.name}.${name}`), ...own.map((param) => param.id)];
  return code`${doc(about)}${key(name)}: (${joined(given, ', ')}): ${types.of(value.type)} => missing(${joined(told, ', ')}),`;
}

function actionLine(store: Store, action: Action, types: SkeletonTypes): Code {
  const reasons = action.requires.map(({ otherwise }) => data(otherwise).text).join(', ');
  const refused = reasons === '' ? [] : [`Refused, by returning false or { refused }: ${reasons}`];
  const about = [...(action.about === undefined ? [] : [action.about]), ...refused].join('. ');
  const name = data(`${store.name}.${action.name}`);
  if (action.payload === undefined)
    return code`${doc(about)}${key(action.name)}: () => missing(${name}),`;
  const text = action.acceptsText ? code` | string` : code``;
  const given = code`(payload: ${types.payload(store, action)}${text})`;
  return code`${doc(about)}${key(action.name)}: ${given} => missing(${name}, payload),`;
}
