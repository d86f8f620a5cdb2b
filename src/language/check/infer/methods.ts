import {
  boolean,
  integer,
  list,
  membersOf,
  unknown,
  number,
  text,
  union,
  type Type,
  type TypeTable,
  absent,
} from '../../../model/types.js';

/** What a method or function is called with: asks for its arguments one after the other. */
export interface CallSite {
  readonly types: TypeTable;
  /** The number of arguments. */
  readonly count: number;
  /** The next argument, which must be of that type. */
  value(wanted: Type): Type;
  /** The next argument, of any type. */
  any(): Type;
  /** The next argument, which must be a list. */
  list(): Type & { kind: 'list' };
  /** The next argument, or the items of a list that is spread; gives the type of one. */
  each(wanted: Type): Type;
  /** Reports that something cannot be ordered by what the last argument gives. */
  ordered(of: Type): void;
  /** The next argument, an arrow with these parameters (fewer may be named); gives the type of its value. */
  arrow(params: readonly Type[], wanted?: Type, draws?: boolean): Type;
  /** The next argument must be a number written as such, within bounds. */
  digits(least: number, most: number): void;
  /** Reports that what the method is for does not fit these items; false if it does fit. */
  refuse(what: 'identity' | 'unsorted', of: Type): boolean;
}

export interface Signature {
  /** The least and the most arguments. */
  readonly takes: readonly [number, number];
  /** In words: 'a function of an item'. */
  readonly wanted: string;
  /** True if a list may be spread into arguments. */
  readonly spreads?: true;
  readonly type: (call: CallSite, item: Type) => Type;
}

const signature = (
  least: number,
  most: number,
  wanted: string,
  type: Signature['type'],
): Signature => ({
  takes: [least, most],
  wanted,
  type,
});

const ofItem = (result: (of: { item: Type; value: Type }) => Type, wanted?: Type): Signature =>
  signature(1, 1, 'a function of an item', (call, item) =>
    result({ item, value: call.arrow([item, integer], wanted) }),
  );

/** Where a few numbers stand, any number may. */
const widenNumbers = (item: Type, types: TypeTable): Type =>
  item.kind === 'named'
    ? item
    : union(
        membersOf(item, types).map((member) =>
          member.kind === 'literal' && typeof member.value === 'number' ? number : member,
        ),
      );

const search = (result: Type): Signature =>
  signature(1, 1, 'a value', (call, item) => {
    if (call.refuse('identity', item)) call.any();
    else call.value(widenNumbers(item, call.types));
    return result;
  });

const optionalIntegers = (call: CallSite, result: Type): Type => {
  for (let i = 0; i < call.count; i++) call.value(number);
  return result;
};

/** The methods of lists. */
export const listMethods: Readonly<Record<string, Signature>> = {
  map: ofItem(({ value }) => list(value)),
  filter: ofItem(({ item }) => list(item), boolean),
  find: ofItem(({ item }) => union([item, absent]), boolean),
  findLast: ofItem(({ item }) => union([item, absent]), boolean),
  findIndex: ofItem(() => integer, boolean),
  findLastIndex: ofItem(() => integer, boolean),
  some: ofItem(() => boolean, boolean),
  every: ofItem(() => boolean, boolean),
  flatMap: signature(1, 1, 'a function of an item', (call, item) => {
    const value = call.arrow([item, integer]);
    return list(
      union(membersOf(value, call.types).map((part) => (part.kind === 'list' ? part.item : part))),
    );
  }),
  includes: search(boolean),
  indexOf: search(integer),
  at: signature(1, 1, 'a position', (call, item) => {
    call.value(number);
    return union([item, absent]);
  }),
  slice: signature(0, 2, 'up to two positions', (call, item) => optionalIntegers(call, list(item))),
  concat: {
    ...signature(1, 9, 'lists', (call, item) => {
      const items = [item];
      for (let i = 0; i < call.count; i++) {
        const other = call.each(
          list(item.kind === 'never' ? unknown : widenNumbers(item, call.types)),
        );
        for (const part of membersOf(other, call.types))
          if (part.kind === 'list') items.push(part.item);
      }
      return list(union(items));
    }),
    spreads: true,
  },
  flat: signature(0, 0, 'nothing', (call, item) =>
    list(
      union(membersOf(item, call.types).map((part) => (part.kind === 'list' ? part.item : part))),
    ),
  ),
  lastIndexOf: search(integer),
  keys: signature(0, 0, 'nothing', () => list(integer)),
  entries: signature(0, 0, 'nothing', (_call, item) =>
    list({ kind: 'tuple', items: [integer, item] }),
  ),
  join: signature(0, 1, 'a separator', (call) => {
    if (call.count > 0) call.value(text);
    return text;
  }),
  toReversed: signature(0, 0, 'nothing', (_call, item) => list(item)),
  toSorted: signature(0, 1, 'a function of two items', (call, item) => {
    if (call.count > 0) call.arrow([item, item], number, false);
    else call.refuse('unsorted', item);
    return list(item);
  }),
};

const textTest = signature(1, 1, 'text', (call) => {
  call.value(text);
  return boolean;
});
const textChange = signature(0, 0, 'nothing', () => text);
const padding = signature(1, 2, 'a length and text', (call) => {
  call.digits(0, 1000);
  if (call.count > 1) call.value(text);
  return text;
});

/** The methods of texts. */
export const textMethods: Readonly<Record<string, Signature>> = {
  includes: textTest,
  startsWith: textTest,
  endsWith: textTest,
  indexOf: signature(1, 1, 'text', (call) => {
    call.value(text);
    return integer;
  }),
  lastIndexOf: signature(1, 1, 'text', (call) => {
    call.value(text);
    return integer;
  }),
  at: signature(1, 1, 'a position', (call) => {
    call.value(number);
    return union([text, absent]);
  }),
  codePointAt: signature(1, 1, 'a position', (call) => {
    call.value(number);
    return union([integer, absent]);
  }),
  repeat: signature(1, 1, 'a number of times', (call) => {
    call.digits(0, 1000);
    return text;
  }),
  substring: signature(1, 2, 'up to two positions', (call) => optionalIntegers(call, text)),
  charAt: signature(1, 1, 'a position', (call) => {
    call.value(number);
    return text;
  }),
  slice: signature(0, 2, 'up to two positions', (call) => optionalIntegers(call, text)),
  split: signature(1, 1, 'a separator', (call) => {
    call.value(text);
    return list(text);
  }),
  replace: signature(2, 2, 'two texts', (call) => {
    call.value(text);
    call.value(text);
    return text;
  }),
  replaceAll: signature(2, 2, 'two texts', (call) => {
    call.value(text);
    call.value(text);
    return text;
  }),
  padStart: padding,
  padEnd: padding,
  trim: textChange,
  trimStart: textChange,
  trimEnd: textChange,
  toUpperCase: textChange,
  toLowerCase: textChange,
};

/** The methods of numbers. */
export const numberMethods: Readonly<Record<string, Signature>> = {
  toFixed: signature(0, 1, 'a number of digits', (call) => {
    if (call.count > 0) call.digits(0, 100);
    return text;
  }),
};
