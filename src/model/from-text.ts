import { isObject } from '../base/json.js';
import { constantOf } from './tags.js';
import { membersOf, type RecordType, type Type, type TypeTable } from './types.js';

const decimal = /^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i;

/** Which scalars a text may stand for where a type is wanted; none where the type takes text itself. */
export interface TextMeanings {
  readonly number: boolean;
  readonly boolean: boolean;
  readonly null: boolean;
}

function meaningsOf(type: Type, types: TypeTable): TextMeanings {
  const kinds = membersOf(type, types).map((member) =>
    member.kind === 'literal' ? typeof member.value : member.kind,
  );
  const takesText = kinds.includes('string');
  const has = (kind: string) => !takesText && kinds.some((other) => other === kind);
  return { number: has('number'), boolean: has('boolean'), null: has('null') };
}

/** A value in which texts, as form fields give them, are replaced by what the type wants in their places. */
export function fromText(value: unknown, type: Type, types: TypeTable): unknown {
  if (typeof value === 'string') return meaningOf(value, meaningsOf(type, types));
  const members = membersOf(type, types);
  if (Array.isArray(value)) {
    const list = members.find((member) => member.kind === 'list');
    return list === undefined ? value : value.map((item) => fromText(item, list.item, types));
  }
  if (!isObject(value)) return value;
  const map = members.find((member) => member.kind === 'map');
  const record = members.find(
    (member): member is RecordType => member.kind === 'record' && mayBe(value, member),
  );
  const partOf = (name: string): Type | undefined =>
    record === undefined ? map?.value : record.fields.find((field) => field.name === name)?.type;
  const entries = Object.entries(value).map(([name, part]) => {
    const wanted = partOf(name);
    return [name, wanted === undefined ? part : fromText(part, wanted, types)] as const;
  });
  return Object.fromEntries(entries);
}

/** True if the constant texts of an object type are those of a value: which of several is meant. */
function mayBe(value: Readonly<Record<string, unknown>>, record: RecordType): boolean {
  return record.fields.every(({ name }) => {
    const constant = constantOf(record, name);
    return typeof constant !== 'string' || value[name] === constant;
  });
}

function meaningOf(text: string, meanings: TextMeanings): unknown {
  if (meanings.null && text === '') return null;
  if (meanings.number && decimal.test(text) && Number.isFinite(Number(text))) return Number(text);
  if (meanings.boolean && (text === 'true' || text === 'false')) return text === 'true';
  return text;
}
