import { isObject } from '../base/json.js';
import { constantOf } from '../model/tags.js';
import { membersOf, type Type, type TypeTable } from '../model/types.js';

/** A value without the properties that its type does not have, at every depth. */
export function withoutExtra(value: unknown, type: Type, types: TypeTable): unknown {
  const members = membersOf(type, types);
  if (Array.isArray(value)) {
    const list = members.find((member) => member.kind === 'list');
    return list === undefined ? value : value.map((item) => withoutExtra(item, list.item, types));
  }
  if (!isObject(value)) return value;
  const meant = members.find((member) => {
    if (member.kind === 'map') return true;
    if (member.kind !== 'record') return false;
    return member.fields.every(({ name }) => {
      const constant = constantOf(member, name);
      return constant === undefined || value[name] === constant;
    });
  });
  if (meant?.kind === 'map')
    return Object.fromEntries(
      Object.entries(value).map(([key, part]) => [key, withoutExtra(part, meant.value, types)]),
    );
  if (meant?.kind !== 'record') return value;
  return Object.fromEntries(
    meant.fields.flatMap(({ name, type: own }) =>
      Object.hasOwn(value, name) ? [[name, withoutExtra(value[name], own, types)]] : [],
    ),
  );
}
