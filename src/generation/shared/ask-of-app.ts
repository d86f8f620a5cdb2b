import type { Store } from '../../model/application.js';
import type { Task } from '../../model/tasks.js';
import { arrow, code, entry, Name, named, nothing, object, objectType } from '../build/code.js';
import type { Module } from '../build/module.js';
import { localsRead } from './expression-facts.js';
import { memberOf, within } from './lazy-stores.js';
import type { Output } from './output.js';
import { boundOf, boundPattern } from './payload-parameters.js';
import { printExpr } from './print-expression.js';
import { pureReading } from './reading.js';
import type { Given, WriteAsk } from './task-plan.js';

/** Writes expressions of a task as functions of the stores as derived values read them, and of what is given. */
export function askOfApp(
  output: Output,
  module: Module,
  app: string,
  store: Store,
  task: Task,
): WriteAsk {
  const payload: readonly Given[] =
    task.payload === undefined ? [] : [{ name: 'payload', type: task.payload }];
  return (expr, given) => {
    const read = new Set(localsRead(expr));
    const taken = boundOf([...payload, ...given].filter(({ name }) => read.has(name)));
    const stores = new Map<string, Name>();
    const storeOf = (name: string): Name => {
      const known = stores.get(name) ?? new Name(name);
      stores.set(name, known);
      return known;
    };
    const readOf = (owner: string, name: string) =>
      code`${storeOf(owner)}${memberOf(output.application, store, owner, name)}`;
    const value = printExpr(expr, {
      ...pureReading(output, module, readOf),
      asked: (owner, name, args) => code`${readOf(owner, name)}(${args})`,
      locals: new Map(taken.map(({ name, own }) => [name, named(own)])),
    });
    const unused = new Name('_app');
    const inOrder = output.application.stores.flatMap(({ name }) => stores.get(name) ?? []);
    const type = within(store, output.types.use(app, module), module);
    const first =
      inOrder.length > 0
        ? code`${object(inOrder.map((name) => entry(name.wanted, named(name))))}: ${type}`
        : taken.length > 0
          ? code`${unused}: ${type}`
          : nothing;
    const types = taken.map(({ name, type: own }) =>
      name === 'payload'
        ? code`readonly ${entry(name, output.types.payload(store, task, module))}`
        : code`readonly ${entry(name, output.types.type(own, module))}`,
    );
    const second = taken.length === 0 ? [] : [code`${boundPattern(taken)}: ${objectType(types)}`];
    return arrow(
      [...inOrder, unused, ...taken.map(({ own }) => own)],
      value,
      first === nothing ? second : [first, ...second],
    );
  };
}
