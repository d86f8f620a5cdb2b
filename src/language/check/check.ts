import type { Code } from '../problems/catalogue.js';
import { Problems, type Problem } from '../problems/problem.js';
import type { Source, Span } from '../../base/source.js';
import type { Json } from '../../base/json.js';
import type { Application, Store } from '../../model/application.js';
import { fits } from '../../model/fit.js';
import { exactTypeOfJson } from '../../model/type-of-json.js';
import { textOf, valueOf } from '../syntax/located.js';
import { ExpressionParser } from '../syntax/parse-expression.js';
import type { StoreDeclaration } from './declarations.js';
import { declareFunctions } from './declare-functions.js';
import { declareServices } from './declare-services.js';
import { declareStores } from './declare-stores.js';
import { Expressions } from './expressions.js';
import { advise } from './advice.js';
import { refuseTaskRings } from './task-rings.js';
import { refuseActionRings } from './circular-actions.js';
import { lowerActions } from './lower-actions.js';
import { lowerTasks } from './lower-tasks.js';
import { historyActions, lowerHistory } from './history.js';
import { lowerReactions } from './lower-reactions.js';
import { NameRegister } from './names.js';
import { readFiles, type SchemaAccess } from './read-files.js';
import type { BrokenPart } from './read-structure.js';
import { lowerSaved, refuseSharedKeys } from './saved.js';
import { readTypes } from './type-table.js';
import { usageOf } from './usage.js';
import { warn } from './warnings.js';

/** What checking gives: the model where nothing is wrong, and the problems. */
export interface Checked {
  readonly application: Application | undefined;
  readonly problems: Problems;
}

/**
 * Checks schema files as one schema: YAML, structure, types and names, then expressions and actions. Never
 * throws for what is in the files.
 */
export async function checkSources(
  sources: readonly Source[],
  access?: SchemaAccess,
): Promise<Checked> {
  const problems = new Problems();
  const application = await check(sources, access, problems).catch((error: unknown) => {
    const [first] = sources;
    if (first === undefined || !isTooDeep(error)) throw error;
    const detail =
      'Something here is nested, or leads from one thing to the next, too deeply to be checked.';
    problems.add('wrong-structure', { source: first, start: 0, end: 1 }, { detail });
    return undefined;
  });
  return { application: problems.hasErrors ? undefined : application, problems };
}

/** True if the stack ran out: of calls, or of a pattern. */
const isTooDeep = (error: unknown): boolean =>
  (error instanceof RangeError && error.message === 'Maximum call stack size exceeded') ||
  (error instanceof SyntaxError && error.message.endsWith('Regular expression too large'));

async function check(
  sources: readonly Source[],
  access: SchemaAccess | undefined,
  problems: Problems,
): Promise<Application | undefined> {
  const read = await readFiles(sources, access, problems);
  if (read === undefined) return undefined;
  const { root, broken } = read;
  const told = problems.count;
  const { types, reader } = readTypes(valueOf(root, 'types'), problems);
  const names = new NameRegister(problems);
  const functions = declareFunctions(valueOf(root, 'functions'), names, reader);
  const services = declareServices(valueOf(root, 'services'), reader, problems);
  const { stores, defaults } = declareStores(
    valueOf(root, 'stores'),
    reader,
    types,
    problems,
    names,
  );
  reader.finish(types);
  const parser = new ExpressionParser(problems);
  const cx = new Expressions({ types, functions, services, stores, parser, problems }, defaults);
  const checked = lowerStores([...stores.values()], cx);
  refuseActionRings(checked, problems);
  refuseTaskRings({ stores: checked }, problems);
  refuseSharedKeys(checked, problems);
  // Ajv takes longer to load than everything else here: only defaults that are not plain wait for it.
  const open = defaults.filter(
    ({ value, type }) => !fits(exactTypeOfJson(value as Json), type, types, 'proof'),
  );
  if (open.length > 0 && !problems.hasErrors) {
    const { checkDefaults } = await import('./check-defaults.js');
    checkDefaults(open, types, problems);
  }
  const application: Application = {
    title: textOf(valueOf(root, 'title')),
    about: textOf(valueOf(root, 'about')),
    types,
    functions: [...functions.values()].map((declaration) => cx.namedFunction(declaration)),
    services: [...services.values()],
    stores: checked,
  };
  if (broken.length > 0) problems.withdraw(told, (problem) => isConsequence(problem, broken));
  if (!problems.hasErrors) {
    const usage = usageOf(application);
    warn(application, usage, problems);
    advise(application, usage, problems);
  }
  return application;
}

/** The problems that there may be since something is missing of what they name. */
const ofMissing: ReadonlySet<Code> = new Set([
  'unknown-name',
  'unknown-type',
  'no-such-property',
  'wrong-arguments',
  'type-mismatch',
  'wrong-structure',
]);

/** True if a problem may only be there since something was taken out of a definition: it is in it, or misses it. */
function isConsequence(
  { code, span, about }: Pick<Problem, 'code' | 'span' | 'about'>,
  broken: readonly BrokenPart[],
): boolean {
  return broken.some(({ name, span: whole, step }) => {
    // A step may have bound a name for those after it.
    const within = step === undefined || code === 'unknown-name' ? whole : step;
    if (isWithin(span, within)) return true;
    if (step !== undefined || !ofMissing.has(code)) return false;
    return about.some((text) => text.split(/[^\w$]+/).includes(name));
  });
}

function isWithin(inner: Span, outer: Span): boolean {
  return inner.source === outer.source && outer.start <= inner.start && inner.end <= outer.end;
}

function lowerStores(stores: readonly StoreDeclaration[], cx: Expressions): Store[] {
  const derived = stores.map((store) =>
    [...store.derived.values()].map((declaration) => cx.derived(store.name, declaration)),
  );
  const actions = new Map(stores.map((store) => [store.name, lowerActions(store, cx)]));
  const tasks = new Map(stores.map((store) => [store.name, lowerTasks(store, cx)]));
  return stores.map((store, i) => ({
    name: store.name,
    about: store.about,
    span: store.span,
    single: store.single,
    lazy: store.lazy,
    constants: [...store.constants.values()],
    fields: [...store.fields.values()],
    derived: derived[i] ?? [],
    actions: [...(actions.get(store.name) ?? []), ...historyActions(store)],
    tasks: tasks.get(store.name) ?? [],
    reactions: lowerReactions(store, { actions, tasks }, cx),
    history: lowerHistory(store, cx),
    saved: lowerSaved(store, cx),
  }));
}
