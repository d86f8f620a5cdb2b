import type { Application } from '../../../model/application.js';
import { narrowedIn } from '../../action-writer.js';
import { code, id, joined, key, type Code } from '../../code.js';
import { Names, pascal } from '../../identifiers.js';
import { pureReading, renaming } from '../../pure-reading.js';
import { printExpr } from '../../print-expression.js';
import { Project } from '../../project.js';
import { emitUnitStores } from '../../unit-stores.js';
import type { UnitStyle } from '../../unit-style.js';

/** The atom style: one small unit of state each, derived values that note what they read. */
export function emitAtom(application: Application): Project {
  const project = new Project(application, 'atom', ['transaction', 'values', 'watchers']);
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
    const locals = new Names([...units.names.all, 'get']);
    const bound = new Map<string, Code>();
    const read = (store: string, field: string) =>
      bound.get(`${store}.${field}`) ?? code`get(${units.unit(store, field)})`;
    const bindings = narrowedIn([derived.value]).map((node) => {
      const constant = id(locals.allocate(`${pascalTail(node.store, node.name)}Now`));
      const line = code`const ${constant} = get(${units.unit(node.store, node.name)});`;
      return { reference: `${node.store}.${node.name}`, constant, line };
    });
    for (const { reference, constant } of bindings) bound.set(reference, constant);
    const value = printExpr(
      derived.value,
      pureReading(project.application.types, imports, read, renaming(locals)),
    );
    const type = project.types.type(derived.value.type, imports);
    const isPlain = bindings.length === 0 && !value.text.startsWith('{');
    const body = isPlain
      ? value
      : code`{ ${joined(
          bindings.map(({ line }) => line),
          '\n',
        )}\nreturn ${value}; }`;
    return code`graph.derived(${name}, (get): ${type} => ${body})`;
  },
  gathered(name, type, parts) {
    const entries = parts.map((part) => code`${key(part.name)}: get(${part.unit}),`);
    return code`graph.derived(${name}, (get): ${type} => ({ ${entries} }))`;
  },
};

function pascalTail(store: string, name: string): string {
  return `${store}${pascal(name)}`;
}
