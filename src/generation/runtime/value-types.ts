// What values must be: each type judges by itself.

/** What a value must be, in the words of the schema. */
export type ValueType =
  | ScalarType
  | ConstantType
  | EnumType
  | MaybeType
  | UnionType
  | ListType
  | MapType
  | RecordType
  | LaterType;

interface Judge {
  /** The value if it fits, as a copy if it is given from outside; else a `Misfit`, which says where it does not. */
  readonly judge: (value: unknown, isGiven: boolean) => unknown;
}

export interface ScalarType extends Judge {
  readonly type: 'string' | 'number' | 'integer' | 'boolean' | 'null';
}

export interface ConstantType extends Judge {
  readonly const: string | number | boolean;
}

export interface EnumType extends Judge {
  readonly enum: readonly (string | number | boolean | null)[];
}

export interface MaybeType extends Judge {
  readonly maybe: ValueType;
}

export interface UnionType extends Judge {
  readonly oneOf: readonly ValueType[];
}

export interface ListType extends Judge {
  readonly list: ValueType;
  readonly by: string | undefined;
  /** True if a list came in and was judged: its items are not judged again when it is stored. */
  readonly wasJudged: (items: object) => boolean;
  /** True if a list, whatever its items, is one: its length, and those that are there twice. `fresh`: places where keys may be new. */
  readonly fitsWhole: (items: readonly unknown[], fresh: readonly number[] | undefined) => boolean;
}

export interface MapType extends Judge {
  readonly map: ValueType;
}

export interface RecordType extends Judge {
  readonly fields: Readonly<Record<string, ValueType>>;
  readonly optional: readonly string[];
}

/** A type that stands further down. */
export interface LaterType extends Judge {
  readonly later: () => ValueType;
}

/** The bounds of a text: its length in code points. */
export interface TextBounds {
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly format?: (text: string) => boolean;
}

export interface NumberBounds {
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly exclusiveMaximum?: number;
  readonly multipleOf?: number;
}

export interface ListBounds {
  /** The property by which items are told apart. */
  readonly by?: string;
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly uniqueItems?: boolean;
}

/** What the payload of an action must be. */
export interface PayloadCheck {
  readonly payload?: ValueType;
  /** Takes off properties that the type does not have. */
  readonly extra?: (value: unknown, type: ValueType) => unknown;
  /** Converts what comes as text, as form fields give it. */
  readonly from?: (value: unknown, type: ValueType) => unknown;
  /** Where it is not judged: takes off properties that are undefined. */
  readonly tidy?: (value: unknown) => unknown;
  /** What it is if none is given. */
  readonly default?: unknown;
}

/** What the payload of a task must be, and what comes back. */
export interface TaskCheck extends PayloadCheck {
  readonly result?: ValueType;
  /** What comes one after the other. */
  readonly results?: ValueType;
  /** The type of the data that a rejection carries. */
  readonly error?: ValueType;
  /** Takes off properties of a result that the type does not have. */
  readonly extraOfAnswer?: (value: unknown, type: ValueType) => unknown;
}

/** What fits the fields of a store, or its one value, and the payloads of its actions. */
export interface StoreChecks {
  readonly state?: ValueType;
  readonly actions?: Readonly<Record<string, PayloadCheck>>;
  readonly tasks?: Readonly<Record<string, TaskCheck>>;
  /** What fits what it begins with, where nothing else is judged. */
  readonly kept?: ValueType;
}
