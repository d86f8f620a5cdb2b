import { code, data, id, joined, type Code } from './code.js';
import type { TypeBook } from './type-book.js';

/** What every entry gives besides its functions: types of the run time, and those of the schema. */
export function publicTypes(book: TypeBook): readonly Code[] {
  return [
    exportedTypes(book, 'followed', ['Observer', 'Subscription']),
    exportedTypes(book, 'transaction', ['Options', 'Outcome', 'Problem']),
    code`export type * from './types.js';`,
  ];
}

/** Exports types of a file; where the schema has one of the same name, that is `Store...` here. */
export function exportedTypes(book: TypeBook, file: string, names: readonly string[]): Code {
  const listed = names.map((name) =>
    book.has(name) ? code`${id(name)} as ${id(`Store${name}`)}` : id(name),
  );
  return code`export type { ${joined(listed, ', ')} } from ${data(`./${file}.js`)};`;
}
