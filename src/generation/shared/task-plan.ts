import type { Application } from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import { errorType, type Task } from '../../model/tasks.js';
import { operationNamed } from '../../model/application.js';
import { number, type Type } from '../../model/types.js';
import { code, data, entry, named, object, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import { givenAt } from './task-deeds.js';

/** Something that can be read where an expression of a task stands, besides the payload. */
export interface Given {
  readonly name: string;
  readonly type: Type;
}

/** True if any task starts by itself. */
export const startsByItself = ({ stores }: Application): boolean =>
  stores.some(({ tasks }) => tasks.some(({ auto }) => auto !== undefined));

/** Writes a function that computes an expression of a task from the payload and what is given. */
export type WriteAsk = (expr: Expr, given: readonly Given[]) => Code;

/** The entries of a task's plan but for what it does: its operation, times and rules. */
export function planEntries(
  application: Application,
  module: Module,
  task: Task,
  ask: WriteAsk,
): readonly Code[] {
  const given = givenAt(application, task);
  const { operation, overlap, per, wait, timeLimit, retry, every, auto } = task;
  const failing = [
    ...given,
    { name: 'error', type: errorType(operation && operationNamed(application, operation).error) },
    { name: 'attempt', type: number },
  ];
  const time = (expr: Expr, known: readonly Given[]) =>
    expr.kind === 'literal' && isTime(expr.value) ? data(Math.ceil(expr.value)) : ask(expr, known);
  const entries: Code[] = [];
  const add = (name: string, value: Code | undefined) => {
    if (value !== undefined) entries.push(entry(name, value));
  };
  add('operation', operation && data(`${operation.service}.${operation.operation}`));
  add('with', task.with && ask(task.with, given));
  if (wait?.kind === 'literal') add('wait', time(wait, given));
  const times = (name: string, of: Code) =>
    code`${module.value('runtime/task-times', name)}(${of})`;
  if (timeLimit !== undefined) add('timeLimit', times('within', time(timeLimit, given)));
  add('overlap', overlap === 'latest' ? undefined : data(overlap));
  add('per', per && ask(per, []));
  if (retry !== undefined) {
    const parts = [entry('times', data(retry.times))];
    if (retry.wait !== undefined) parts.push(entry('wait', time(retry.wait, failing)));
    if (retry.when !== undefined) parts.push(entry('when', ask(retry.when, failing)));
    add('retry', times('again', object(parts)));
  }
  if (every !== undefined) add('every', times('repeating', time(every, given)));
  const called = operation && operationNamed(application, operation);
  if (called?.results !== undefined)
    entries.push(entry('stream', named(module.value('runtime/streaming', 'stream'))));
  if (auto?.kind === 'once') add('auto', data('once'));
  if (auto?.kind === 'while') add('auto', object([entry('while', ask(auto.test, []))]));
  if (auto?.kind === 'follows')
    add(
      'auto',
      object([
        entry('follows', ask(auto.value, [])),
        ...(auto.first ? [entry('first', code`true`)] : []),
      ]),
    );
  return entries;
}

function isTime(value: unknown): value is number {
  return typeof value === 'number' && value >= 0 && value <= 2_147_483_647;
}
