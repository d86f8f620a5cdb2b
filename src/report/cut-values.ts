import { isObject } from '../base/json.js';
import { same } from '../base/same.js';
import { counted, countText } from './count-text.js';

/** A stand-in for a part that is not shown. */
export class Cut {
  constructor(readonly text: string) {}
}

/** How many levels of a value are shown, how many parts of a list or an object, and how much of a text, at most. */
const mostLevels = 20;
const mostParts = 60;
const mostText = 1200;
/** So much is shown before the first place that differs, of parts and of a text. */
const partsBefore = 3;
const textBefore = 80;

/** The name of what stands for the rest of an object's parts. */
export const restKey = '…';

/** A value without what nobody would read, each time with a count of what is left out. */
export const cut = (value: unknown): unknown => cutTogether(value, value)[0];

/** Two values, cut so that the places where they differ stay. */
export function cutTogether(one: unknown, other: unknown, level = 0): [unknown, unknown] {
  if (level >= mostLevels && (isNested(one) || isNested(other)))
    return [levelsOf(one), levelsOf(other)];
  if (typeof one === 'string' || typeof other === 'string') {
    const from = typeof one === 'string' && typeof other === 'string' ? firstOther(one, other) : 0;
    return [textFrom(one, from - textBefore), textFrom(other, from - textBefore)];
  }
  if (Array.isArray(one) && Array.isArray(other)) return listsTogether(one, other, level);
  if (Array.isArray(one)) return [listsTogether(one, [], level)[0], cut(other)];
  if (Array.isArray(other)) return [cut(one), listsTogether([], other, level)[1]];
  if (isObject(one) && isObject(other)) return objectsTogether(one, other, level);
  if (isObject(one)) return [objectsTogether(one, {}, level)[0], other];
  return isObject(other) ? [one, objectsTogether({}, other, level)[1]] : [one, other];
}

const isNested = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && Object.keys(value).length > 0;

/** The depth of a value, shown in place of it. */
function levelsOf(value: unknown): unknown {
  if (!isNested(value)) return cut(value);
  let levels = 0;
  for (let parts: object[] = [value]; parts.length > 0; levels += 1)
    parts = parts.flatMap((part) => Object.values(part).filter(isNested));
  return new Cut(`… ${countText(levels)} more level${levels === 1 ? '' : 's'}`);
}

function firstOther(one: string, other: string): number {
  const least = Math.min(one.length, other.length);
  let at = 0;
  while (at < least && one[at] === other[at]) at += 1;
  return at < least || one.length !== other.length ? at : 0;
}

/** The part of a text from one place on, as much as is shown. */
function textFrom(value: unknown, wanted: number): unknown {
  if (typeof value !== 'string') return cut(value);
  if (value.length <= mostText) return value;
  const from = Math.max(0, Math.min(wanted, value.length - mostText));
  const after = value.length - from - mostText;
  return new Cut(
    `${from > 0 ? `… ${counted(from, 'character')}, ` : ''}${JSON.stringify(
      value.slice(from, from + mostText),
    )}${after > 0 ? `, … ${counted(after, 'more character')}` : ''}`,
  );
}

function listsTogether(
  one: readonly unknown[],
  other: readonly unknown[],
  level: number,
): [unknown, unknown] {
  const longest = Math.max(one.length, other.length);
  let from = 0;
  if (longest > mostParts) {
    while (from < longest && same(one[from], other[from])) from += 1;
    from = Math.max(0, Math.min(from - partsBefore, longest - mostParts));
  }
  const parts = Array.from({ length: Math.min(mostParts, longest - from) }, (_, i) =>
    cutTogether(one[from + i], other[from + i], level + 1),
  );
  const side = (list: readonly unknown[], which: 0 | 1) => [
    ...(from > 0 ? [new Cut(`… ${counted(Math.min(from, list.length), 'item')}`)] : []),
    ...parts.slice(0, Math.max(0, list.length - from)).map((both) => both[which]),
    ...(list.length > from + mostParts
      ? [new Cut(`… ${counted(list.length - from - mostParts, 'more item')}`)]
      : []),
  ];
  return [side(one, 0), side(other, 1)];
}

type Parts = Readonly<Record<string, unknown>>;

function objectsTogether(one: Parts, other: Parts, level: number): [unknown, unknown] {
  const all = [...new Set([...Object.keys(one), ...Object.keys(other)])];
  const isOther = (key: string) => !same(one[key], other[key]);
  const kept =
    all.length <= mostParts
      ? all
      : [...all.filter(isOther), ...all.filter((key) => !isOther(key))].slice(0, mostParts);
  const shown = new Set(kept);
  const sides: [Record<string, unknown>, Record<string, unknown>] = [{}, {}];
  for (const key of all) {
    if (!shown.has(key)) continue;
    const both = cutTogether(one[key], other[key], level + 1);
    if (Object.hasOwn(one, key)) sides[0][key] = both[0];
    if (Object.hasOwn(other, key)) sides[1][key] = both[1];
  }
  const rest = (own: Parts) => Object.keys(own).filter((key) => !shown.has(key)).length;
  for (const [own, side] of [
    [one, sides[0]],
    [other, sides[1]],
  ] as const)
    if (rest(own) > 0) side[restKey] = new Cut(`… ${counted(rest(own), 'more part')}`);
  return sides;
}
