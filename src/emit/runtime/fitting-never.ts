// Where nothing is judged, everything fits.
import type { ListType, ValueType } from './value-types.js';

export const misfit = (_value: unknown, _type: ValueType): string | undefined => undefined;
export const fits = (_value: unknown, _type: ValueType): boolean => true;
export const fitsAsList = (_list: readonly unknown[], _type: ListType): boolean => true;
export const secondWithKey = (_list: readonly unknown[], _by: string | undefined): number => -1;
export const isMeant = (_value: unknown, _type: ValueType): boolean => false;
export const noteJudged = (_value: unknown, _type: ValueType): void => undefined;
export const wasJudged = (_list: object, _item: ValueType): boolean => true;
