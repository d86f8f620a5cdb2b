// Values of one type of several.
import { here, Misfit } from './judging.js';
import type { UnionType, ValueType } from './value-types.js';
import { isObject } from './values.js';

export const either = (...members: readonly ValueType[]): UnionType => ({
  oneOf: members,
  judge: (value, isGiven) => {
    const found: Misfit[] = [];
    for (const member of members) {
      const judged = member.judge(value, isGiven);
      if (!(judged instanceof Misfit)) return judged;
      found.push(judged);
    }
    // One may be meant: by the kind of the value, and by properties that are constants.
    const [meant = here, ...others] = found.filter((_, i) =>
      isMeant(value, members[i] as ValueType),
    );
    return others.length > 0 ? here : meant;
  },
});

/** True if a type is the kind of list or object that a value is; `isText` if constants may still be texts. */
export function isMeant(value: unknown, type: ValueType, isText = false): boolean {
  if ('later' in type) return isMeant(value, type.later(), isText);
  if ('maybe' in type) return isMeant(value, type.maybe, isText);
  if ('oneOf' in type) return type.oneOf.some((member) => isMeant(value, member, isText));
  if ('list' in type) return Array.isArray(value);
  if (!isObject(value)) return false;
  return (
    'map' in type ||
    ('fields' in type &&
      Object.entries(type.fields).every(([name, field]) => {
        const isTag = 'const' in field && !type.optional.includes(name);
        return !isTag || value[name] === field.const || (isText && typeof field.const !== 'string');
      }))
  );
}
