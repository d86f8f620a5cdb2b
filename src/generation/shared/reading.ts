import { code, named, property, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import type { Application } from '../../model/application.js';
import type { CheckFiles } from './check-files.js';
import type { Reading } from './print-expression.js';
import type { TypeFile } from './type-file.js';

/** What is written alike wherever an expression stands in a module. */
export type SharedReading = Pick<
  Reading,
  'types' | 'constant' | 'check' | 'type' | 'applied' | 'helper' | 'global'
>;

/** What expressions use of the output besides their own module. */
export interface ReadFrom {
  readonly application: Application;
  readonly types: TypeFile;
  readonly checks: CheckFiles;
  /** A constant of a store, used in a module. */
  constant(store: string, name: string, module: Module): Code;
  /** A function of the schema, used in a module. */
  functionNamed(name: string, module: Module): Code;
}

export function sharedReading(output: ReadFrom, module: Module): SharedReading {
  return {
    types: output.application.types,
    constant: (store, name) => output.constant(store, name, module),
    check: (wanted) => output.checks.named(wanted.name, module),
    type: (type) => output.types.type(type, module),
    applied: (name) => output.functionNamed(name, module),
    helper: (name) =>
      named(module.value(`runtime/${name === 'fits' ? 'judging' : 'values'}`, name)),
    global: (name) => named(module.global(name)),
  };
}

/**
 * How an expression is written that asks nothing of the environment: it reads fields, derived values and tasks by
 * `read`.
 */
export function pureReading(
  output: ReadFrom,
  module: Module,
  read: (store: string, name: string) => Code,
): Reading {
  return {
    ...sharedReading(output, module),
    locals: new Map(),
    field: read,
    derived: read,
    asked: read,
    task: (store, name, reading) => code`${read(store, name)}${property(reading)}`,
    draw: () => {
      throw new Error('a derived value asks nothing of the environment');
    },
  };
}
