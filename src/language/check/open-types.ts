// What can be said of types only when all named types are known.
import { nearest } from '../../base/suggest.js';
import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { recordOf } from '../../model/fit.js';
import { tagOf } from '../../model/tags.js';
import { membersOf, type Type, type TypeTable } from '../../model/types.js';
import type { Refuse } from './read-bounds.js';

/** Types that are judged at the end. */
export class OpenTypes {
  /** Objects that a property has to tell apart. */
  readonly unions: { readonly members: readonly Type[]; readonly span: Span }[] = [];
  /** Lists whose items have to have a key. */
  readonly keyed: { readonly item: Type; readonly key: string; readonly span: Span }[] = [];

  finish(types: TypeTable, problems: Problems, refuse: Refuse): void {
    for (const { members, span } of this.unions) {
      if (tagOf(members, types) !== undefined) continue;
      refuse(
        span,
        "The objects of 'oneOf' need a property that tells them apart: each has it, with another 'const'.",
        'Write one: { fields: { kind: { const: car }, ... } }, { fields: { kind: { const: lorry }, ... } }.',
      );
    }
    for (const { item, key, span } of this.keyed) {
      const record = recordOf(item, types);
      const field = record?.fields.find(({ name }) => name === key);
      if (record === undefined) refuse(span, "'by' is for lists of objects.");
      else if (field === undefined) {
        const near = nearest(
          key,
          record.fields.map(({ name }) => name),
        );
        problems.add('no-such-property', span, { name: key, of: 'The item', near });
      } else if (field.optional || !isKeyType(field.type, types)) {
        refuse(span, `'${key}' cannot be a key: a key is text or a number that is always there.`);
      }
    }
  }
}

/** True if a key may be of a type: any text or number, or some of them; also under a name. */
function isKeyType(type: Type, types: TypeTable): boolean {
  const kinds = new Set(
    membersOf(type, types).map((one) => (one.kind === 'literal' ? typeof one.value : one.kind)),
  );
  return kinds.size === 1 && (kinds.has('string') || kinds.has('number'));
}
