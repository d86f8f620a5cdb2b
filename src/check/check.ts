import { Problems } from '../diagnostics/problem.js';
import type { Source } from '../diagnostics/source.js';
import type { Application, Store } from '../model/application.js';
import { readYaml } from '../syntax/read-yaml.js';
import { textOf, valueOf } from '../syntax/located.js';
import type { StoreDeclaration } from './declarations.js';
import { declareFunctions } from './declare-functions.js';
import { declareStores } from './declare-stores.js';
import { Expressions } from './expressions.js';
import { refuseActionRings } from './action-rings.js';
import { lowerActions } from './lower-actions.js';
import { lowerReactions } from './lower-reactions.js';
import { NameRegister } from './names.js';
import { checkStructure } from './read-structure.js';
import { readTypes } from './read-types.js';
import { refuseLater } from './refuse-later.js';

/** What checking gives: the model where nothing is wrong, and the problems. */
export interface Checked {
  readonly application: Application | undefined;
  readonly problems: Problems;
}

/** Checks a schema file: YAML, structure, types and names, then expressions and actions. Never throws for what is in the file. */
export async function checkSource(source: Source): Promise<Checked> {
  const problems = new Problems();
  const application = await check(source, problems);
  return { application: problems.hasErrors ? undefined : application, problems };
}

async function check(source: Source, problems: Problems): Promise<Application | undefined> {
  const root = readYaml(source, problems);
  if (root === undefined || problems.hasErrors) return undefined;
  checkStructure(root, problems);
  if (problems.hasErrors) return undefined;
  refuseLater('file', root, problems);
  const { types, reader } = readTypes(valueOf(root, 'types'), problems);
  const names = new NameRegister(problems);
  const functions = declareFunctions(valueOf(root, 'functions'), names, reader);
  const { stores, defaults } = declareStores(
    valueOf(root, 'stores'),
    reader,
    types,
    problems,
    names,
  );
  reader.finish(types);
  const cx = new Expressions({ types, functions, stores, problems }, defaults);
  const checked = lowerStores([...stores.values()], cx);
  refuseActionRings(checked, problems);
  if (defaults.length > 0 && !problems.hasErrors) {
    // Ajv takes longer to load than everything else here: only files with defaults wait for it.
    const { checkDefaults } = await import('./check-defaults.js');
    checkDefaults(defaults, types, problems);
  }
  return {
    title: textOf(valueOf(root, 'title')),
    about: textOf(valueOf(root, 'about')),
    types,
    functions: [...functions.values()].map((declaration) => cx.namedFunction(declaration)),
    stores: checked,
  };
}

function lowerStores(stores: readonly StoreDeclaration[], cx: Expressions): Store[] {
  const derived = stores.map((store) =>
    [...store.derived.values()].map((declaration) => cx.derived(store.name, declaration)),
  );
  const actions = new Map(stores.map((store) => [store.name, lowerActions(store, cx)]));
  return stores.map((store, i) => ({
    name: store.name,
    about: store.about,
    span: store.span,
    single: store.single,
    constants: [...store.constants.values()],
    fields: [...store.fields.values()],
    derived: derived[i] ?? [],
    actions: actions.get(store.name) ?? [],
    reactions: lowerReactions(store, actions, cx),
  }));
}
