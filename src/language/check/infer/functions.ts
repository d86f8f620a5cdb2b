import type { LanguageFunction } from '../../../model/functions.js';
import {
  boolean,
  computed,
  integer,
  list,
  membersOf,
  never,
  nothing,
  number,
  text,
  union,
  unknown,
  type Type,
} from '../../../model/types.js';
import type { CallSite, Signature } from './methods.js';

const scalar: Type = union([text, computed, boolean, nothing]);

const ofNumbers = (least: number, most: number, result: Type): Signature => ({
  takes: [least, most],
  wanted: most === 1 ? 'a number' : 'numbers',
  type: (call) => {
    for (let i = 0; i < call.count; i++) call.value(number);
    return result;
  },
});

const ofManyNumbers: Signature = {
  takes: [1, 99],
  wanted: 'numbers',
  spreads: true,
  type: (call) => {
    for (let i = 0; i < call.count; i++) call.each(number);
    return computed;
  },
};

const drawn = (result: Type): Signature => ({
  takes: [0, 0],
  wanted: 'nothing',
  type: () => result,
});

/** What the functions take and give. */
export const functions: Readonly<Record<LanguageFunction, Signature>> = {
  'Math.abs': ofNumbers(1, 1, computed),
  'Math.ceil': ofNumbers(1, 1, computed),
  'Math.floor': ofNumbers(1, 1, computed),
  'Math.round': ofNumbers(1, 1, computed),
  'Math.trunc': ofNumbers(1, 1, computed),
  'Math.sign': ofNumbers(1, 1, computed),
  'Math.sqrt': ofNumbers(1, 1, computed),
  'Math.min': ofManyNumbers,
  'Math.max': ofManyNumbers,
  Number: {
    takes: [1, 1],
    wanted: 'text, a number, true, false or null',
    type: (call) => convert(call, computed),
  },
  String: {
    takes: [1, 1],
    wanted: 'text, a number, true, false or null',
    type: (call) => convert(call, text),
  },
  'Number.isFinite': ofNumbers(1, 1, boolean),
  'Number.isInteger': ofNumbers(1, 1, boolean),
  'Number.isNaN': ofNumbers(1, 1, boolean),
  'Number.isSafeInteger': ofNumbers(1, 1, boolean),
  'Number.parseFloat': {
    takes: [1, 1],
    wanted: 'text',
    type: (call) => {
      call.value(text);
      return computed;
    },
  },
  same: {
    takes: [2, 2],
    wanted: 'two values',
    type: (call) => {
      call.any();
      call.any();
      return boolean;
    },
  },
  sum: {
    takes: [1, 2],
    wanted: 'a list and a function that gives a number',
    type: (call) => {
      if (call.count === 1) {
        call.value(list(number));
        return computed;
      }
      call.arrow([call.list().item, integer], number);
      return computed;
    },
  },
  'Object.keys': ofDictionary(() => list(text)),
  'Object.values': ofDictionary((value) => list(value)),
  'Object.entries': ofDictionary((value) => list({ kind: 'tuple', items: [text, value] })),
  sortBy: {
    takes: [2, 9],
    wanted: 'a list and functions that give numbers or texts to order by',
    type: (call) => {
      const { item, key } = call.list();
      for (let i = 1; i < call.count; i++) call.ordered(call.arrow([item], undefined, false));
      return key === undefined ? list(item) : { kind: 'list', item, key };
    },
  },
  groupBy: {
    takes: [2, 2],
    wanted: 'a list and a function that gives the key of its group',
    type: (call) => {
      const { item, key } = call.list();
      call.arrow([item], text);
      return { kind: 'map', value: key === undefined ? list(item) : { kind: 'list', item, key } };
    },
  },
  toMap: {
    takes: [3, 3],
    wanted: 'a list, a function that gives the key of an item, and one that gives its value',
    type: (call) => {
      const { item } = call.list();
      call.arrow([item], text);
      return { kind: 'map', value: call.arrow([item]) };
    },
  },
  isoTime: ofNumbers(1, 1, text),
  isoDay: ofNumbers(1, 1, text),
  fits: {
    takes: [2, 2],
    wanted: "a value and a type's name",
    type: () => boolean,
  },
  newId: drawn(text),
  now: drawn(number),
  random: drawn({
    kind: 'number',
    integer: false,
    finite: true,
    bounds: { minimum: 0, exclusiveMaximum: 1 },
  }),
};

function convert(call: CallSite, result: Type): Type {
  call.value(scalar);
  return result;
}

function ofDictionary(result: (value: Type) => Type): Signature {
  return {
    takes: [1, 1],
    wanted: 'a dictionary',
    type: (call) => {
      const given = call.value({ kind: 'map', value: { kind: 'unknown' } });
      const values = membersOf(given, call.types).map((member) =>
        member.kind === 'map' ? member.value : member.kind === 'record' ? never : unknown,
      );
      return result(union(values));
    },
  };
}
