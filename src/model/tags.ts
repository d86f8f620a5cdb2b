import { membersOf, type RecordType, type Type, type TypeTable } from './types.js';

/** The property by which the objects of a union are told apart: each has it, with another constant value. */
export function tagOf(members: readonly Type[], types: TypeTable): string | undefined {
  const open = members.flatMap((member) => membersOf(member, types));
  if (!open.every((member): member is RecordType => member.kind === 'record')) return undefined;
  const [first] = open;
  const candidates = first?.fields ?? [];
  return candidates.find(({ name }) => {
    const values = open.map((record) => constantOf(record, name));
    return !values.includes(undefined) && new Set(values).size === values.length;
  })?.name;
}

/** The constant value that a property of an object always has; `undefined` if it has none. */
export function constantOf(record: RecordType, name: string) {
  const field = record.fields.find((candidate) => candidate.name === name);
  if (field === undefined || field.optional || field.type.kind !== 'literal') return undefined;
  return field.type.value;
}
