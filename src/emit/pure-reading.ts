import { code, id, property, type Code } from './code.js';
import type { Names } from './identifiers.js';
import type { Imports } from './imports.js';
import type { Project } from './project.js';
import type { Reading } from './print-expression.js';
import { emittedFunction } from './runtime-names.js';

/** How the names in a derived value are written: it reads fields and other derived values alike. */
export function pureReading(
  project: Pick<Project, 'application' | 'guards' | 'types'>,
  imports: Imports,
  read: (store: string, name: string) => Code,
  local: (name: string) => Code,
): Reading {
  return {
    types: project.application.types,
    isExact: project.guards.checks !== 'never',
    field: read,
    derived: read,
    local,
    asked: (store, name, args) => code`${read(store, name)}(${args})`,
    constant: (store, name) => constantOf(store, name, imports),
    type: (type) => project.types.type(type, imports),
    check: (wanted) => project.guards.use(wanted, wanted.name, imports),
    draw: () => {
      throw new Error('a derived value asks nothing of the environment');
    },
    applied: (name) => imports.value('functions', emittedFunction(name)),
    helper: (name) => imports.value('values', name),
  };
}

/** A constant of a store. */
export function constantOf(store: string, name: string, imports: Imports): Code {
  return code`${imports.value('constants', `${store}Constants`)}${property(name)}`;
}

/** Gives each local of the schema an identifier that is free, the same each time. */
export function renaming(names: Names): (name: string) => Code {
  const given = new Map<string, string>();
  return (name) => {
    const known = given.get(name) ?? names.allocate(name);
    given.set(name, known);
    return id(known);
  };
}
