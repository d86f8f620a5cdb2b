import type { Span } from '../base/source.js';
import type { Expr } from './expressions.js';
import type { Move } from './history.js';
import type { Type } from './types.js';

/** A place in the state of the step's own store. */
export interface Path {
  readonly field: string;
  readonly segments: readonly Segment[];
  /** The type of the value at that place. */
  readonly type: Type;
  readonly span: Span;
  /** As written. */
  readonly text: string;
}

/** A part of a path: a property, or an item found by key, entry or position. */
export type Segment =
  | { readonly kind: 'property'; readonly name: string; readonly optional: boolean }
  | { readonly kind: 'item'; readonly key: string; readonly value: Expr }
  | { readonly kind: 'entry'; readonly value: Expr }
  | { readonly kind: 'position'; readonly value: Expr };

/** A choice of items of a list: the one with a key, or all that match. */
export type Choice =
  | { readonly kind: 'key'; readonly key: string; readonly value: Expr }
  | { readonly kind: 'where'; readonly test: Expr };

/** One property that an `update` stores, or an object whose properties it stores. */
export type ItemChange =
  | { readonly kind: 'property'; readonly name: string; readonly type: Type; readonly value: Expr }
  | { readonly kind: 'spread'; readonly value: Expr };

/** The names under which a condition sees the key and the value of an entry. */
export type EntryNames = readonly [key: string, value: string];

interface Node {
  /** Where it stands in the schema: `deck.admit.steps[1]`. */
  readonly at: string;
  readonly span: Span;
}

/** A checked step of an action. */
export type Step =
  | (Node & {
      readonly kind: 'set';
      readonly entries: readonly { readonly path: Path; readonly value: Expr }[];
      readonly none: string | undefined;
    })
  | (Node & {
      /** `append`, `prepend` and `insert`. */
      readonly kind: 'add';
      readonly to: Path;
      readonly place: 'end' | 'start' | Expr;
      readonly value: Expr;
      readonly many: boolean;
    })
  | (Node & {
      readonly kind: 'put';
      readonly in: Path;
      /** The key of a dictionary's entry; a keyed list takes the item's own. */
      readonly key: Expr | undefined;
      readonly value: Expr;
      /** True if the value is a list of items that are put one after the other. */
      readonly many: boolean;
    })
  | (Node & {
      readonly kind: 'update';
      readonly in: Path;
      readonly each: string;
      readonly choice: Choice;
      readonly changes: readonly ItemChange[];
      readonly none: string | undefined;
    })
  | (Node & {
      readonly kind: 'remove';
      readonly from: Path;
      readonly each: string;
      readonly choice: Choice;
      readonly none: string | undefined;
    })
  | (Node & {
      /** An `update` over a dictionary: of all entries that match. */
      readonly kind: 'updateEntries';
      readonly in: Path;
      readonly each: EntryNames;
      readonly test: Expr;
      readonly changes: readonly ItemChange[];
    })
  | (Node & {
      readonly kind: 'removeEntries';
      readonly from: Path;
      readonly each: EntryNames;
      readonly test: Expr;
    })
  | (Node & {
      readonly kind: 'drop';
      readonly from: Path;
      /** The key of a dictionary's entry, or the name of an optional property. */
      readonly key: Expr | string;
      readonly none: string | undefined;
    })
  | (Node & {
      readonly kind: 'when';
      readonly test: Expr;
      readonly then: readonly Step[];
      readonly else: readonly Step[];
    })
  | (Node & { readonly kind: 'reset'; readonly fields: readonly string[] })
  /** Whole stores back to their defaults, in schema order. */
  | (Node & { readonly kind: 'resetStores'; readonly stores: readonly string[] })
  /** Another action as part of this one. */
  | (Node & {
      readonly kind: 'run';
      readonly store: string;
      readonly action: string;
      readonly payload: Expr | undefined;
    })
  /** A task that is started after the transaction. */
  | (Node & {
      readonly kind: 'start';
      readonly store: string;
      readonly task: string;
      readonly payload: Expr | undefined;
    })
  /** The runs of tasks are abandoned; with `per` those of one value. */
  | (Node & {
      readonly kind: 'cancel';
      readonly tasks: readonly TaskName[];
      readonly per: Expr | undefined;
    })
  /** The history of a store: gone through after the transaction, or emptied at its end. */
  | (Node & { readonly kind: 'history'; readonly store: string; readonly does: Move | 'reset' })
  | (Node & {
      /** Takes a value out of a list of scalars or adds it; turns a boolean where there is no value. */
      readonly kind: 'toggle';
      readonly in: Path;
      readonly value: Expr | undefined;
    })
  | (Node & {
      readonly kind: 'move';
      readonly in: Path;
      /** Which item: the one with a key, or at a position. */
      readonly from: { readonly key: string | undefined; readonly value: Expr };
      readonly to: Expr;
    })
  | (Node & { readonly kind: 'let'; readonly bindings: readonly Binding[] });

/** A task of a store. */
export interface TaskName {
  readonly store: string;
  readonly task: string;
}

/** A value under a name, computed once. */
export interface Binding {
  readonly name: string;
  readonly value: Expr;
}
