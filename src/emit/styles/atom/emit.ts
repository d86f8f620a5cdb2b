import type { EmitOptions } from '../../emit-options.js';
import type { Application, Derived } from '../../../model/application.js';
import { narrowedIn } from '../../expression-facts.js';
import { code, id, joined, key, type Code } from '../../code.js';
import { Names, pascal } from '../../identifiers.js';
import { pureReading, renaming } from '../../pure-reading.js';
import { printExpr } from '../../print-expression.js';
import { answersOf } from '../../answers.js';
import type { Imports } from '../../imports.js';
import { sourcesOf } from '../../sources.js';
import { Project } from '../../project.js';
import { emitUnitStores } from '../../unit-stores.js';
import type { Units, UnitStyle } from '../../unit-style.js';

/** The atom style: one small unit of state each, derived values that note what they read. */
export function emitAtom(application: Application, options: EmitOptions): Project {
  const project = new Project(
    application,
    'atom',
    ['transaction', 'cell', 'values', 'watchers', 'followed'],
    options,
  );
  return emitUnitStores(
    project,
    atomStyle,
    'Stores of atoms: get and watch one at a time, change them by actions.',
  );
}

const atomStyle: UnitStyle = {
  owner: 'graph',
  ownerType: 'Graph',
  unitType: 'GraphNode',
  transactionType: 'Transaction',
  transaction: 'tx',
  read: 'get',
  write: 'set',
  field: (name, initial) => code`graph.atom(${name}, ${initial})`,
  derived(name, derived, units, imports, project) {
    if (derived.params.length > 0) return answers(name, derived, units, imports, project);
    const locals = new Names(units.names.all);
    const bound = new Map<string, Code>();
    const read = (store: string, field: string) =>
      bound.get(`${store}.${field}`) ?? code`get(${units.unit(store, field)})`;
    const bindings = narrowedIn([derived.value]).map((node) => {
      const constant = id(locals.allocate(`${pascalTail(node.store, node.name)}Now`));
      const line = code`const ${constant} = get(${units.unit(node.store, node.name)});`;
      return { reference: `${node.store}.${node.name}`, constant, line };
    });
    for (const { reference, constant } of bindings) bound.set(reference, constant);
    const value = printExpr(derived.value, pureReading(project, imports, read, renaming(locals)));
    const type = project.types.type(derived.value.type, imports);
    const isPlain = bindings.length === 0 && !value.text.startsWith('{');
    const body = isPlain
      ? value
      : code`{ ${joined(
          bindings.map(({ line }) => line),
          '\n',
        )}\nreturn ${value}; }`;
    const readsAny = sourcesOf(derived, new Names()).list.length > 0;
    return code`graph.derived(${name}, (${readsAny ? code`get` : code``}): ${type} => ${body})`;
  },
  answer: (name, answers, type, args) =>
    code`graph.derived(${name}, (get): ${type} => get(${answers})(${args}))`,
  gathered(name, type, parts) {
    const entries = parts.map((part) => code`${key(part.name)}: get(${part.unit}),`);
    return code`graph.derived(${name}, (get): ${type} => ({ ${entries} }))`;
  },
};

/** A derived value with parameters reads all that it needs at once, so that the graph notes it. */
function answers(
  name: Code,
  derived: Derived,
  units: Units,
  imports: Imports,
  project: Project,
): Code {
  const sources = sourcesOf(derived, new Names([...units.names.all, 'get']));
  const reads = sources.list.map(
    (source) => code`const ${id(source.param)} = get(${units.unit(source.store, source.name)});`,
  );
  const value = printExpr(
    derived.value,
    pureReading(project, imports, sources.param, sources.local),
  );
  const computed = answersOf(derived, value, sources.local, project, imports);
  const get = reads.length === 0 ? code`` : code`get`;
  return code`graph.derived(${name}, (${get}) => {\n${joined([...reads, code`return ${computed};`], '\n')}\n})`;
}

function pascalTail(store: string, name: string): string {
  return `${store}${pascal(name)}`;
}
