import type { Span } from '../../../base/source.js';
import type { Expr, ObjectPart } from '../../../model/expressions.js';
import { typeText } from '../../../model/type-text.js';
import {
  membersOf,
  union,
  unknown,
  type RecordField,
  type RecordType,
  type Type,
} from '../../../model/types.js';
import { soleKind, type Inference } from './inference.js';

/** An object built of properties and spreads, with its type. */
export function objectOf(
  cx: Pick<Inference, 'types' | 'problems'>,
  parts: readonly ObjectPart[],
  span: Span,
): Expr {
  let variants: readonly ReadonlyMap<string, RecordField>[] = [new Map<string, RecordField>()];
  for (const part of parts) {
    if (part.kind === 'property') {
      const { name } = part;
      const field = { name, type: presentType(cx, part.value), optional: false };
      variants = variants.map((fields) => new Map(fields).set(name, field));
      continue;
    }
    const records = recordsIn(part.value.type, cx);
    if (records !== undefined && variants.length * records.length <= mostVariants) {
      variants = variants.flatMap((fields) => records.map((one) => spreadOver(fields, one)));
      continue;
    }
    const record = soleKind(part.value.type, 'record', cx.types);
    if (record === undefined) {
      const map = soleKind(part.value.type, 'map', cx.types);
      if (map !== undefined && parts.every((other) => other === part))
        return { kind: 'object', parts, span, type: map };
      if (part.value.type.kind !== 'unknown') {
        const got = typeText(part.value.type, cx.types);
        cx.problems.add('type-mismatch', part.value.span, {
          wanted: 'an object',
          got,
          where: "'...'",
        });
      }
      return { kind: 'object', parts, span, type: unknown };
    }
    variants = variants.map((fields) => spreadOver(fields, record));
  }
  const types = variants.map((fields): Type => ({ kind: 'record', fields: [...fields.values()] }));
  return { kind: 'object', parts, span, type: union(types) };
}

/** Spreads of unions beyond so many combinations are taken as one object of what any may have. */
const mostVariants = 16;

/** The objects that a type is one of, if it is. */
function recordsIn(type: Type, cx: Pick<Inference, 'types'>): readonly RecordType[] | undefined {
  const members = membersOf(type, cx.types);
  const records = members.filter((member) => member.kind === 'record');
  return members.length > 0 && records.length === members.length ? records : undefined;
}

function spreadOver(
  fields: ReadonlyMap<string, RecordField>,
  record: RecordType,
): ReadonlyMap<string, RecordField> {
  const merged = new Map(fields);
  for (const field of record.fields)
    merged.set(field.name, mergeField(merged.get(field.name), field));
  return merged;
}

/** A property of a spread over one that was there: an optional one may leave the old value. */
function mergeField(before: RecordField | undefined, field: RecordField): RecordField {
  if (!field.optional || before === undefined) return field;
  return { ...field, type: union([before.type, field.type]), optional: before.optional };
}

function presentType(cx: Pick<Inference, 'types' | 'problems'>, value: Expr): Type {
  if (!membersOf(value.type, cx.types).some(({ kind }) => kind === 'absent')) return value.type;
  cx.problems.add('maybe-missing', value.span, {
    what: 'This value',
    missing: 'absent',
    where: 'a property',
  });
  return unknown;
}
