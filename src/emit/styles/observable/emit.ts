import type { EmitOptions } from '../../emit-options.js';
import type { Application } from '../../../model/application.js';
import { arrowValue, code, id, joined, key } from '../../code.js';
import { Names } from '../../identifiers.js';
import { pureReading } from '../../pure-reading.js';
import { printExpr } from '../../print-expression.js';
import { answersOf } from '../../answers.js';
import { emittedNames } from '../../runtime-names.js';
import { Project } from '../../project.js';
import { sourcesOf } from '../../sources.js';
import { emitUnitStores } from '../../unit-stores.js';
import type { UnitStyle } from '../../unit-style.js';

/** The observable style: a stream per field and per derived value, actions as what is put into them. */
export function emitObservable(application: Application, options: EmitOptions): Project {
  const project = new Project(
    application,
    'observable',
    ['transaction', 'cell', 'values', 'watchers', 'followed'],
    options,
  );
  return emitUnitStores(
    project,
    observableStyle,
    'Stores of streams: subscribe to values, change them by actions.',
  );
}

const observableStyle: UnitStyle = {
  owner: 'hub',
  ownerType: 'Hub',
  unitType: 'Stream',
  transactionType: 'Change',
  transaction: 'change',
  read: 'latest',
  write: 'next',
  field: (name, initial) => code`hub.source(${name}, ${initial})`,
  derived(name, derived, units, imports, project) {
    const sources = sourcesOf(derived, new Names(emittedNames(project.application)));
    const streams = joined(
      sources.list.map((source) => units.unit(source.store, source.name)),
      ', ',
    );
    const value = printExpr(
      derived.value,
      pureReading(project, imports, sources.param, sources.local),
    );
    const type = project.types.type(derived.value.type, imports);
    const params = joined(
      sources.list.map(({ param }) => id(param)),
      ', ',
    );
    if (derived.params.length > 0) {
      const answers = answersOf(derived, value, sources.local, project, imports);
      return code`hub.combine(${name}, () => [${streams}], (${params}) => ${answers})`;
    }
    return code`hub.combine(${name}, () => [${streams}], (${params}): ${type} => ${arrowValue(value)})`;
  },
  answer: (name, answers, type, args) =>
    code`hub.combine(${name}, () => [${answers}], (answer): ${type} => answer(${args}))`,
  gathered(name, type, parts) {
    const names = new Names();
    const params = parts.map((part) => ({ ...part, param: names.allocate(part.name) }));
    const streams = joined(
      params.map(({ unit }) => unit),
      ', ',
    );
    const entries = params.map((part) =>
      part.param === part.name ? id(part.name) : code`${key(part.name)}: ${id(part.param)}`,
    );
    const list = joined(
      params.map(({ param }) => id(param)),
      ', ',
    );
    return code`hub.combine(${name}, () => [${streams}], (${list}): ${type} => ({ ${joined(entries, ', ')} }))`;
  },
};
