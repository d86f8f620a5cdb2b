import { entriesOf, textOf, valueOf, type Located } from '../syntax/located.js';
import type { FunctionDeclaration } from './declarations.js';
import { globalNames, whyNoName, type NameRegister } from './names.js';
import type { TypeReader } from './read-types.js';

/** Collects the functions of a file, with the types of their parameters. */
export function declareFunctions(
  node: Located | undefined,
  names: NameRegister,
  reader: TypeReader,
): ReadonlyMap<string, FunctionDeclaration> {
  const entries = entriesOf(node).filter(({ key, keySpan }) =>
    names.take(key, 'a function', keySpan),
  );
  return new Map(
    entries.map(({ key, keySpan, value }) => {
      const params = entriesOf(valueOf(value, 'given')).map((given) => {
        const why = whyNoName(given.key);
        if (why !== undefined)
          names.problems.add('bad-name', given.keySpan, { name: given.key, why });
        else if (globalNames.has(given.key))
          names.problems.add('name-taken', given.keySpan, {
            name: given.key,
            by: 'something in the expression language',
          });
        return { name: given.key, type: reader.read(given.value, false) };
      });
      const about = textOf(valueOf(value, 'about'));
      const expression = valueOf(value, 'value') ?? value;
      return [
        key,
        {
          name: key,
          about,
          span: keySpan,
          params,
          expression,
          state: 'waiting',
          result: undefined,
        },
      ];
    }),
  );
}
