import type { Json } from '../../base/json.js';
import type { Span } from '../../base/source.js';
import type { Problems } from '../problems/problem.js';
import type {
  Constant,
  Derived,
  Field,
  NamedFunction,
  Parameter,
} from '../../model/application.js';
import type { Service } from '../../model/tasks.js';
import type { Type, TypeTable } from '../../model/types.js';
import type { Located } from '../syntax/located.js';
import type { ExpressionParser } from '../syntax/parse-expression.js';

/** A derived value before its expression is inferred; `result` is filled in when it is first needed. */
export interface DerivedDeclaration {
  readonly name: string;
  readonly about: string | undefined;
  readonly span: Span;
  readonly expression: Located;
  readonly params: readonly (Parameter & { readonly span: Span })[];
  /** What its value is said to be. */
  readonly asserted: Type | undefined;
  state: 'waiting' | 'running' | 'ready';
  result: Derived | undefined;
}

/** An action before its expressions and steps are checked. */
export interface ActionDeclaration {
  readonly span: Span;
  readonly body: Located;
  readonly payload: Type | undefined;
  readonly payloadDefault: Json | undefined;
  readonly acceptsText: boolean;
  readonly dropsExtra?: true;
}

/** A task before its expressions and steps are checked. */
export type TaskDeclaration = ActionDeclaration;

/** A part of a store that is checked once all stores are known. */
export interface Said {
  readonly body: Located;
  /** Of its key. */
  readonly span: Span;
}

/** What a store declares, by name, before its expressions and actions are checked. */
export interface StoreDeclaration {
  readonly name: string;
  readonly about: string | undefined;
  readonly span: Span;
  readonly single: boolean;
  readonly lazy: boolean;
  readonly constants: ReadonlyMap<string, Constant>;
  readonly fields: ReadonlyMap<string, Field>;
  readonly derived: ReadonlyMap<string, DerivedDeclaration>;
  readonly actions: ReadonlyMap<string, ActionDeclaration>;
  readonly tasks: ReadonlyMap<string, TaskDeclaration>;
  readonly reacts: readonly Located[];
  /** What is said of what can be undone, and where. */
  readonly history: Said | undefined;
  /** What is said of what is kept in storage. */
  readonly saved: Said | undefined;
  /** Actions that store a field, by their names. */
  readonly setters: ReadonlyMap<string, { readonly field: Field; readonly span: Span }>;
}

/** A function before its expression is inferred; `result` is filled in when it is first needed. */
export interface FunctionDeclaration {
  readonly name: string;
  readonly about: string | undefined;
  readonly span: Span;
  readonly params: readonly Parameter[];
  readonly expression: Located;
  state: 'waiting' | 'running' | 'ready';
  result: NamedFunction | undefined;
}

/** Everything that expressions can name, and where problems go. */
export interface Declarations {
  readonly types: TypeTable;
  readonly functions: ReadonlyMap<string, FunctionDeclaration>;
  readonly services: ReadonlyMap<string, Service>;
  readonly stores: ReadonlyMap<string, StoreDeclaration>;
  readonly parser: ExpressionParser;
  readonly problems: Problems;
}
