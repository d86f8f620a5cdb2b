import type { Derived } from '../model/application.js';
import { arrowValue, code, joined, type Code } from './code.js';
import { localsRead } from './expression-facts.js';
import { Names } from './identifiers.js';
import type { Imports } from './imports.js';
import type { Project } from './project.js';
import { renaming } from './pure-reading.js';

/** The parameters of a derived value, with their types: `lane: Lane`. */
export function parametersOf(
  derived: Derived,
  local: (name: string) => Code,
  project: Project,
  imports: Imports,
): Code {
  const params = derived.params.map(
    ({ name, type }) => code`${local(name)}: ${project.types.type(type, imports)}`,
  );
  return joined(params, ', ');
}

/** What a derived value with parameters is: a function that computes once for equal arguments. */
export function answersOf(
  derived: Derived,
  value: Code,
  local: (name: string) => Code,
  project: Project,
  imports: Imports,
): Code {
  const used = new Set(localsRead(derived.value));
  // Lint rules let a name with an underscore pass that nothing reads.
  const named = (name: string) => (used.has(name) ? local(name) : code`_${local(name)}`);
  const params = parametersOf(derived, named, project, imports);
  const type = project.types.type(derived.value.type, imports);
  return code`${imports.value('arguments', 'perArguments')}((${params}): ${type} => ${arrowValue(value)})`;
}

/** The type of such a function. */
export function answersType(derived: Derived, project: Project, imports: Imports): Code {
  const params = parametersOf(derived, renaming(new Names()), project, imports);
  return code`(${params}) => ${project.types.type(derived.value.type, imports)}`;
}
