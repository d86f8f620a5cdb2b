import type { Expr } from '../../model/expressions.js';
import { typeText } from '../../model/type-text.js';
import {
  errorType,
  type Auto,
  type Moment,
  type Operation,
  type OperationName,
  type Overlap,
  type Retry,
  type Task,
} from '../../model/tasks.js';
import { number, type Type } from '../../model/types.js';
import { nearest } from '../../base/suggest.js';
import { entryOf, itemsOf, textOf, valueOf, type Located } from '../syntax/located.js';
import type { StoreDeclaration, TaskDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';
import { requireFit } from './infer/inference.js';
import { checkLocalName } from './infer/local-names.js';
import { requireCondition } from './infer/operators.js';
import { emptyScope, withLocals, type Scope } from './infer/scope.js';
import { lowerRequires } from './lower-actions.js';
import { lowerLet } from './lower-let.js';
import { lowerSteps } from './lower-steps.js';

/** Checks the tasks of a store. */
export function lowerTasks(store: StoreDeclaration, cx: Expressions): Task[] {
  return [...store.tasks].map(([name, declared]) =>
    new TaskLowering(name, declared, store, cx).lower(),
  );
}

class TaskLowering {
  readonly #at: string;
  readonly #node: Located;

  constructor(
    readonly name: string,
    readonly declared: TaskDeclaration,
    readonly store: StoreDeclaration,
    readonly cx: Expressions,
  ) {
    this.#at = `${store.name}.${name}`;
    this.#node = declared.body;
  }

  lower(): Task {
    const { span, payload, payloadDefault, acceptsText, dropsExtra } = this.declared;
    const { cx } = this;
    const start = emptyScope(this.store, false);
    const given = payload === undefined ? start : withLocals(start, [['payload', payload]]);
    const called = this.#operation();
    const operation = called?.of;
    const per = this.#read('per', given);
    const requires = lowerRequires(itemsOf(valueOf(this.#node, 'requires')), this.#at, given, cx);
    const bound = lowerLet(valueOf(this.#node, 'let'), { ...requires.scope, draws: true }, cx);
    const scope: Scope = { ...bound.scope, draws: false };
    const steps = this.#steps(scope, operation);
    this.#refuseMisplaced(operation);
    return {
      name: this.name,
      about: textOf(valueOf(this.#node, 'about')),
      span,
      payload,
      payloadDefault,
      acceptsText,
      ...(dropsExtra && { dropsExtra }),
      requires: requires.requires,
      let: bound.bindings,
      operation: called?.name,
      with: this.#with(scope, operation, called?.name),
      wait: this.#milliseconds('wait', scope),
      timeLimit: this.#milliseconds('timeLimit', scope),
      retry: this.#retry(scope, operation),
      every: this.#milliseconds('every', scope),
      auto: this.#auto(start),
      overlap: (textOf(valueOf(this.#node, 'overlap')) ?? 'latest') as Overlap,
      per,
      steps,
    };
  }

  #wrong(key: string, detail: string, hint?: string): void {
    const span = entryOf(this.#node, key)?.keySpan ?? this.declared.span;
    this.cx.problems.add('wrong-structure', span, { detail, hint });
  }

  #operation(): { readonly of: Operation; readonly name: OperationName } | undefined {
    const node = valueOf(this.#node, 'operation');
    if (node === undefined) return undefined;
    const written = textOf(node) ?? '';
    const { services } = this.cx.declarations;
    const [service = '', operation = ''] = written.split('.');
    const of = services.get(service)?.operations.find(({ name }) => name === operation);
    if (of !== undefined) return { of, name: { service, operation } };
    const known = [...services.values()].flatMap(({ name, operations }) =>
      operations.map((one) => `${name}.${one.name}`),
    );
    const near = nearest(written, known);
    this.cx.problems.add('unknown-name', node.span, { name: written, near, textFits: false });
    return undefined;
  }

  #read(key: string, scope: Scope): Expr | undefined {
    const node = valueOf(this.#node, key);
    return node === undefined ? undefined : this.cx.read(node, scope);
  }

  #milliseconds(key: string, scope: Scope): Expr | undefined {
    return this.#number(valueOf(this.#node, key), `'${key}'`, scope);
  }

  #number(node: Located | undefined, where: string, scope: Scope): Expr | undefined {
    if (node === undefined) return undefined;
    const value = this.cx.read(node, scope, number);
    requireFit(this.cx, value, number, where);
    return value;
  }

  #with(
    scope: Scope,
    operation: Operation | undefined,
    called: OperationName | undefined,
  ): Expr | undefined {
    const node = valueOf(this.#node, 'with');
    if (operation === undefined || called === undefined)
      return node === undefined ? undefined : this.cx.read(node, scope);
    const name = `'${called.service}.${called.operation}'`;
    const wanted = operation.payload;
    if (node !== undefined) {
      const value = this.cx.read(node, scope, wanted);
      if (wanted === undefined) this.#wrong('with', `${name} is called with nothing.`);
      else requireFit(this.cx, value, wanted, name);
      return value;
    }
    const { payload, span } = this.declared;
    if (wanted === undefined) return undefined;
    if (payload === undefined)
      this.#wrong(
        'operation',
        `${name} is called with ${typeText(wanted, this.cx.types)}, and the task has no payload.`,
        'Say what it is called with: with: "...".',
      );
    else {
      const at = valueOf(this.#node, 'operation')?.span ?? span;
      requireFit(this.cx, { span: at, type: payload }, wanted, name);
    }
    return undefined;
  }

  #retry(scope: Scope, operation: Operation | undefined): Retry | undefined {
    const node = valueOf(this.#node, 'retry');
    if (node === undefined) return undefined;
    const own = this.#withLocal(this.#withError(scope, operation, node), 'attempt', number, node);
    const when = valueOf(node, 'when');
    const test = when === undefined ? undefined : this.cx.read(when, own);
    if (test !== undefined) requireCondition(this.cx, test, "'when'");
    const times = valueOf(node, 'times');
    return {
      times: times?.kind === 'scalar' ? Number(times.value) : 0,
      wait: this.#number(valueOf(node, 'wait'), "'wait'", own),
      when: test,
    };
  }

  #withLocal(scope: Scope, name: string, type: Type, node: Located): Scope {
    checkLocalName(this.cx, name, scope, node.span);
    return withLocals(scope, [[name, type]]);
  }

  #withError(scope: Scope, operation: Operation | undefined, node: Located): Scope {
    return this.#withLocal(scope, 'error', errorType(operation?.error), node);
  }

  #steps(scope: Scope, operation: Operation | undefined): Task['steps'] {
    const read = (moment: Moment, more: (from: Scope, node: Located) => Scope) => {
      const entry = entryOf(this.#node, moment);
      if (entry === undefined) return [];
      const { value: node, keySpan } = entry;
      const within = more({ ...scope, draws: true }, { ...node, span: keySpan });
      return lowerSteps(itemsOf(node), `${this.#at}.${moment}`, within, this.cx);
    };
    const withResult = (type: Type | undefined) => (from: Scope, node: Located) =>
      type === undefined ? from : this.#withLocal(from, 'result', type, node);
    return {
      start: read('start', (from) => from),
      each: read('each', withResult(operation?.results)),
      finish: read('finish', withResult(operation?.result)),
      fail: read('fail', (from, node) => this.#withError(from, operation, node)),
      cancel: read('cancel', (from) => from),
    };
  }

  #auto(scope: Scope): Auto | undefined {
    const node = valueOf(this.#node, 'auto');
    if (node === undefined) return undefined;
    const { payload, payloadDefault } = this.declared;
    const needsNone = payload === undefined || payloadDefault !== undefined;
    if (node.kind !== 'map') {
      if (textOf(node) !== 'once')
        this.#wrong('auto', "'auto' is 'once', { follows: ... } or { while: ... }.");
      else if (!needsNone)
        this.#wrong('auto', "A task that starts by 'once' takes no payload, or has a default.");
      return { kind: 'once' };
    }
    const [follows, during] = [valueOf(node, 'follows'), valueOf(node, 'while')];
    if ((follows === undefined) === (during === undefined)) {
      this.#wrong('auto', "'auto' has either 'follows' or 'while'.");
      return undefined;
    }
    if (during !== undefined) {
      const test = this.cx.read(during, scope);
      requireCondition(this.cx, test, "'while'");
      if (!needsNone)
        this.#wrong('auto', "A task that starts by 'while' takes no payload, or has a default.");
      return { kind: 'while', test };
    }
    const value = this.cx.read(follows as Located, scope);
    if (payload === undefined)
      this.#wrong('auto', "What 'follows' gives is the payload: the task lacks 'payload'.");
    else
      requireFit(
        this.cx,
        value,
        { kind: 'union', members: [payload, { kind: 'null' }] },
        "'follows'",
      );
    return { kind: 'follows', value, first: plainTrue(valueOf(node, 'first')) };
  }

  /** What goes only with something else. */
  #refuseMisplaced(operation: Operation | undefined): void {
    const has = (key: string) => entryOf(this.#node, key) !== undefined;
    const needs = (key: string, isMet: boolean, what: string) => {
      if (has(key) && !isMet) this.#wrong(key, `'${key}' needs ${what}.`);
    };
    const calls = has('operation');
    needs('with', calls, "an 'operation'");
    needs('timeLimit', calls, "an 'operation'");
    needs('retry', calls, "an 'operation'");
    const isKnown = operation !== undefined || !calls;
    if (isKnown) needs('each', operation?.results !== undefined, "an operation with 'results'");
    if (!calls && !has('wait') && !has('every'))
      this.#wrong(
        'wait',
        `'${this.name}' calls nothing and waits for nothing.`,
        "Give it an 'operation', or a 'wait' in milliseconds.",
      );
    if (has('every') && textOf(valueOf(this.#node, 'overlap')) === 'queue')
      this.#wrong('overlap', "'queue' does not go with 'every': a run would never end.");
    if (has('per') && this.declared.payload === undefined)
      this.#wrong('per', "'per' needs a 'payload': what it is computed from.");
  }
}

function plainTrue(node: Located | undefined): boolean {
  return node?.kind === 'scalar' && node.value === true;
}
