// What values must be, as data: what is judged is judged by that.

/** What a value must be, in the words of the schema. */
export type ValueType =
  | 'string'
  | 'number'
  | 'integer'
  | 'boolean'
  | 'null'
  | BoundedType
  | { readonly const: string | number | boolean }
  | { readonly enum: readonly (string | number | boolean | null)[] }
  | { readonly maybe: ValueType }
  | { readonly oneOf: readonly ValueType[] }
  | ListType
  | { readonly map: ValueType }
  | RecordType
  /** A type that stands further down. */
  | (() => ValueType);

/** A text or a number, and its bounds. */
export interface BoundedType {
  readonly type: 'string' | 'number' | 'integer';
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly format?: (text: string) => boolean;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly exclusiveMaximum?: number;
  readonly multipleOf?: number;
}

export interface ListType {
  readonly list: ValueType;
  /** The property by which items are told apart. */
  readonly by?: string;
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly uniqueItems?: boolean;
}

export interface RecordType {
  readonly fields: Readonly<Record<string, ValueType>>;
  readonly optional?: readonly string[];
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
  /** What a rejection carries. */
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
