import { storeNamed, type Derived } from '../../../model/application.js';
import {
  arrowValue,
  code,
  doc,
  id,
  joined,
  key,
  nothing,
  property,
  type Code,
} from '../../code.js';
import { derivedInOrder } from '../../derived-order.js';
import { Names, pascal } from '../../identifiers.js';
import { Imports } from '../../imports.js';
import { printExpr } from '../../print-expression.js';
import type { Project } from '../../project.js';
import { answersOf } from '../../answers.js';
import { pureReading } from '../../pure-reading.js';
import { emittedNames } from '../../runtime-names.js';
import { sourcesOf } from '../../sources.js';

/** Writes the file of the selectors: the derived values of all stores. */
export function emitSelectors(project: Project): void {
  const { application, types } = project;
  const imports = new Imports();
  const names = new Map<string, string>();
  const taken = new Names(['app', ...emittedNames(application)]);
  const lines = derivedInOrder(application).map(({ store, derived }) => {
    const name = taken.allocate(`${store.name}${pascal(derived.name)}`);
    names.set(`${store.name}.${derived.name}`, name);
    return code`const ${id(name)} = ${selector(project, derived, names, imports)};`;
  });
  const groups = application.stores.map((store) => {
    const entries = store.derived.map((derived) => {
      const own = id(names.get(`${store.name}.${derived.name}`) ?? '');
      const given =
        derived.params.length === 0 ? own : code`${imports.value('answered', 'answered')}(${own})`;
      return code`${doc(derived.about)}${key(derived.name)}: ${given},`;
    });
    return code`${key(store.name)}: { ${entries} },`;
  });
  project.add(
    'selectors',
    'What is computed from the state, and remembered until its sources change.',
    imports,
    [
      code`${doc('Selectors of its own for one store of state: what they remember belongs to it.')}export function createSelectors() {
${lines.length === 0 ? nothing : code`const select = ${imports.value('runtime', 'selectFrom')}<${types.app(imports)}>();\n${lines}`}
return { ${groups} };
}`,
      code`export type Selectors = ReturnType<typeof createSelectors>;`,
    ],
  );
}

function selector(
  project: Project,
  derived: Derived,
  names: ReadonlyMap<string, string>,
  imports: Imports,
): Code {
  const sources = sourcesOf(derived, new Names(emittedNames(project.application)));
  const inputs = sources.list.map((source) => {
    if (source.kind === 'derived') return id(names.get(`${source.store}.${source.name}`) ?? '');
    const store = storeNamed(project.application, source.store);
    const field = store.single ? code`` : property(source.name);
    return code`(app) => app${property(source.store)}${field}`;
  });
  const params = sources.list.map(({ param }) => id(param));
  const body = printExpr(
    derived.value,
    pureReading(project, imports, sources.param, sources.local),
  );
  if (derived.params.length > 0) {
    const answers = answersOf(derived, body, sources.local, project, imports);
    return code`select([${joined(inputs, ', ')}], (${joined(params, ', ')}) => ${answers})`;
  }
  const result = project.types.type(derived.value.type, imports);
  return code`select([${joined(inputs, ', ')}], (${joined(params, ', ')}): ${result} => ${arrowValue(body)})`;
}
