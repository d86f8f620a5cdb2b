import {
  boolean,
  computed,
  integer,
  list,
  nothing,
  number,
  text,
  union,
  type Type,
} from '../../model/types.js';
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

const drawn = (result: Type): Signature => ({
  takes: [0, 0],
  wanted: 'nothing',
  type: () => result,
});

/** The functions, by the name they are called under. */
export const functions: Readonly<Record<string, Signature>> = {
  'Math.abs': ofNumbers(1, 1, computed),
  'Math.ceil': ofNumbers(1, 1, computed),
  'Math.floor': ofNumbers(1, 1, computed),
  'Math.round': ofNumbers(1, 1, computed),
  'Math.trunc': ofNumbers(1, 1, computed),
  'Math.sign': ofNumbers(1, 1, computed),
  'Math.sqrt': ofNumbers(1, 1, computed),
  'Math.min': ofNumbers(1, 99, computed),
  'Math.max': ofNumbers(1, 99, computed),
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
      const items = call.any();
      call.arrow([items.kind === 'list' ? items.item : { kind: 'unknown' }, integer], number);
      return computed;
    },
  },
  'Object.keys': ofDictionary(() => list(text)),
  'Object.values': ofDictionary((value) => list(value)),
  newId: drawn(text),
  now: drawn(number),
};

/** The functions that ask the environment. */
export const drawingFunctions: ReadonlySet<string> = new Set(['newId', 'now']);

/** Functions of the format that are not there yet. */
export const laterFunctions: ReadonlySet<string> = new Set([
  'random',
  'sortBy',
  'groupBy',
  'fits',
  'Object.entries',
]);

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
      return given.kind === 'map' ? result(given.value) : { kind: 'unknown' };
    },
  };
}
