import type { Type } from '../../model/types.js';
import type { Located } from '../syntax/located.js';

/** A default that is written in the file, to be held against its type. */
export interface WrittenDefault {
  readonly name: string;
  readonly type: Type;
  readonly value: unknown;
  readonly node: Located;
}
