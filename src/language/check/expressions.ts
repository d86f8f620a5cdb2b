import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { longestChain } from '../syntax/depth.js';
import { fits } from '../../model/fit.js';
import type { Derived, NamedFunction, Parameter } from '../../model/application.js';
import type { Expr, ObjectPart } from '../../model/expressions.js';
import {
  literal,
  membersOf,
  never,
  nothing,
  union,
  unknown,
  type Type,
  type TypeTable,
} from '../../model/types.js';
import type { Located } from '../syntax/located.js';
import type {
  Declarations,
  DerivedDeclaration,
  FunctionDeclaration,
  StoreDeclaration,
} from './declarations.js';
import type { WrittenDefault } from './written-default.js';
import { requireFit, type Results } from './infer/inference.js';
import { ExpressionInference } from './infer/infer.js';
import { checkLocalName } from './infer/local-names.js';
import { objectOf } from './infer/objects.js';
import { emptyScope, withLocals, type Scope } from './infer/scope.js';

/** Turns the places of a file where expressions stand into checked expressions. */
export class Expressions implements Results {
  /** What is being inferred now, outermost first. */
  readonly #running: string[];

  constructor(
    readonly declarations: Declarations,
    /** Defaults that are written in the file, to be held against their types at the end. */
    readonly defaults: WrittenDefault[] = [],
    running: string[] = [],
  ) {
    this.#running = running;
  }

  get problems(): Problems {
    return this.declarations.problems;
  }

  get types(): TypeTable {
    return this.declarations.types;
  }

  /** What stands where an expression may: a text is one; mappings and lists are built of those within. */
  read(node: Located, scope: Scope, wanted?: Type): Expr {
    if (node.kind === 'scalar') {
      if (typeof node.value === 'string') return this.#parsed(node, scope, wanted);
      const { value, span } = node;
      return { kind: 'literal', value, span, type: value === null ? nothing : literal(value) };
    }
    if (node.kind === 'list') {
      const items = node.items.map((item) => ({ spread: false, value: this.read(item, scope) }));
      const item = items.length === 0 ? never : union(items.map(({ value }) => value.type));
      return { kind: 'list', items, span: node.span, type: { kind: 'list', item } };
    }
    const parts = node.entries.map(({ key, value }): ObjectPart => {
      const expr = this.read(value, scope, propertyType(wanted, key, this.types));
      return key === '...'
        ? { kind: 'spread', value: expr }
        : { kind: 'property', name: key, value: expr };
    });
    return objectOf(this, parts, node.span);
  }

  #parsed(node: Located & { kind: 'scalar' }, scope: Scope, wanted: Type | undefined): Expr {
    const tree = this.declarations.parser.parse(node.text);
    if (tree === undefined) return { kind: 'undefined', span: node.span, type: unknown };
    const textFits = wanted !== undefined && membersOf(wanted, this.types).some(takesText);
    const inference = new ExpressionInference(this.declarations, node.text, textFits, this);
    return inference.infer(tree, scope);
  }

  /** The checked derived value, inferred when first asked for. */
  derived(store: string, declaration: DerivedDeclaration): Derived {
    if (declaration.result !== undefined) return declaration.result;
    const owner = this.declarations.stores.get(store);
    if (owner === undefined) throw new Error(`no store '${store}' is declared`);
    declaration.state = 'running';
    this.#running.push(`${store}.${declaration.name}`);
    const params = this.#paramsOf(declaration, emptyScope(owner, false));
    const scope = withLocals(
      emptyScope(owner, false),
      params.map((param) => [param.name, param.type] as const),
    );
    let value = this.read(declaration.expression, scope, declaration.asserted);
    const { asserted } = declaration;
    if (asserted !== undefined) {
      requireFit(this, value, asserted, `'${declaration.name}'`);
      if (fits(value.type, asserted, this.types, 'proof')) value = { ...value, type: asserted };
    }
    if (membersOf(value.type, this.types).some(({ kind }) => kind === 'absent')) {
      const where = 'a derived value';
      this.problems.add('maybe-missing', value.span, {
        what: 'This value',
        missing: 'absent',
        where,
      });
      value = { ...value, type: unknown };
    }
    this.#running.pop();
    declaration.state = 'ready';
    const { name, about, span } = declaration;
    return (declaration.result = { name, about, span, params, value });
  }

  #paramsOf({ params }: DerivedDeclaration, scope: Scope): Parameter[] {
    for (const [i, { name, span }] of params.entries()) {
      const before = params.slice(0, i).map((param) => param.name);
      checkLocalName(this, name, scope, span, before);
    }
    return params.map(({ name, type }) => ({ name, type }));
  }

  /** The checked function, inferred when first asked for: it sees its parameters and other functions only. */
  namedFunction(declaration: FunctionDeclaration): NamedFunction {
    if (declaration.result !== undefined) return declaration.result;
    const { name, about, span, params, expression } = declaration;
    declaration.state = 'running';
    this.#running.push(`${name}()`);
    const alone = new Expressions(
      { ...this.declarations, stores: new Map() },
      this.defaults,
      this.#running,
    );
    const locals = params.map((param) => [param.name, param.type] as const);
    const value = alone.read(expression, withLocals(emptyScope(noStore(span), false), locals));
    this.#running.pop();
    declaration.state = 'ready';
    return (declaration.result = { name, about, span, params, value });
  }

  /** Reads an expression of one value under a name, and of nothing else. */
  readOf(name: string, type: Type, node: Located): Expr {
    const alone = new Expressions({ ...this.declarations, stores: new Map() }, this.defaults);
    const scope = withLocals(emptyScope(noStore(node.span), false), [[name, type]]);
    return alone.read(node, { ...scope, isOpen: true });
  }

  functionType(name: string, span: Span): Type {
    const declaration = this.declarations.functions.get(name);
    if (declaration === undefined) return unknown;
    if (declaration.state === 'running') return this.#ring(`${name}()`, span);
    if (declaration.state === 'waiting' && this.#isTooLong(`${name}()`, span)) return unknown;
    return this.namedFunction(declaration).value.type;
  }

  /** Reports that one thing leads to the next too often; whether it does. */
  #isTooLong(full: string, span: Span): boolean {
    if (this.#running.length < longestChain) return false;
    const detail = `${this.#running[0] ?? full} leads through more than ${longestChain} other definitions.`;
    const hint = 'Shorten the chain: compute some of them directly.';
    this.problems.add('wrong-structure', span, { detail, hint });
    return true;
  }

  /** Reports something that is asked for while it is being inferred itself. */
  #ring(full: string, span: Span): Type {
    const ring = [...this.#running.slice(this.#running.indexOf(full)), full];
    this.problems.add('circular-value', span, { ring });
    return unknown;
  }

  derivedType(store: string, name: string, span: Span): Type {
    const declaration = this.declarations.stores.get(store)?.derived.get(name);
    if (declaration === undefined) return unknown;
    if (declaration.state === 'running') return this.#ring(`${store}.${name}`, span);
    if (declaration.state === 'waiting' && this.#isTooLong(`${store}.${name}`, span))
      return unknown;
    return this.derived(store, declaration).value.type;
  }
}

function takesText(member: Type): boolean {
  return (
    member.kind === 'string' || (member.kind === 'literal' && typeof member.value === 'string')
  );
}

function propertyType(wanted: Type | undefined, name: string, types: TypeTable): Type | undefined {
  if (wanted === undefined) return undefined;
  for (const member of membersOf(wanted, types)) {
    const field =
      member.kind === 'record'
        ? member.fields.find((candidate) => candidate.name === name)
        : undefined;
    if (field !== undefined) return field.type;
  }
  return undefined;
}

/** What a function sees in place of a store: nothing. */
function noStore(span: Span): StoreDeclaration {
  const none = new Map<string, never>();
  const names = {
    constants: none,
    fields: none,
    derived: none,
    actions: none,
    tasks: none,
    reacts: [],
    setters: none,
    history: undefined,
    saved: undefined,
  };
  return { name: '', about: undefined, span, single: false, lazy: false, ...names };
}
