import type { Store } from '../../model/application.js';
import type { Task } from '../../model/tasks.js';
import { arrow, Name, named, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { localsRead } from './expression-facts.js';
import type { Output } from './output.js';
import { boundOf, payloadParameters } from './payload-parameters.js';
import { printExpr, type Reading } from './print-expression.js';
import type { WriteAsk } from './task-plan.js';

/** Writes expressions of a task as functions within its store, of the payload and of what is given. */
export function askInStore(
  output: Output,
  module: Module,
  store: Store,
  task: Task,
  reading: Reading,
): WriteAsk {
  return (expr, given) => {
    const read = new Set(localsRead(expr));
    const payload = new Name('payload');
    const bound = boundOf(given.filter(({ name }) => read.has(name)));
    const locals = new Map<string, Code>(bound.map(({ name, own }) => [name, named(own)]));
    locals.set('payload', named(payload));
    const { names, written } = payloadParameters(
      output,
      module,
      read.has('payload') ? payload : undefined,
      output.types.payload(store, task, module),
      bound,
    );
    return arrow(names, printExpr(expr, { ...reading, locals }), written);
  };
}
