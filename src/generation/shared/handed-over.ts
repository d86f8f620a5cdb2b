import {
  hasHistory,
  hasLazy,
  hasSaved,
  hasTasks,
  type Application,
} from '../../model/application.js';
import {
  code,
  data,
  entry,
  joined,
  Name,
  named,
  nothing,
  object,
  word,
  type Code,
} from '../build/code.js';
import type { Module } from '../build/module.js';
import { eagerStores, orderOf } from './lazy-stores.js';
import { schemaForLog, secretsForLog } from './logged.js';
import type { Output } from './output.js';
import { startsByItself } from './task-plan.js';

/** A value of the run time: the file that it is in, and its name there. */
export type RuntimeValue = readonly [file: string, name: string];

/** How the stores of a style are given what not all applications need. */
export interface Capabilities {
  /** The class of the engine. */
  readonly engine: RuntimeValue;
  readonly lazy: { readonly made: RuntimeValue; readonly isClass: boolean };
  readonly saved: { readonly made: RuntimeValue; readonly isClass: boolean };
  readonly histories: { readonly made: RuntimeValue; readonly isClass: boolean };
  /** The class for tasks where nothing is logged, and what is done with them. */
  readonly tasks: RuntimeValue;
  /** What is written for the tasks, once they are there. */
  readonly working?: (
    engine: Name,
    tasks: { readonly run: Name; readonly own: Name },
    given: Name,
    module: Module,
  ) => Code;
  /** True if that declares tasks of its own. */
  readonly hasOwnTasks?: boolean;
  /** What gives the committed states of all stores, for a log. */
  readonly states: (engine: Name, order: Code | undefined, module: Module) => Code;
}

/** What is handed over to an engine: lines before the stores are made, and after, and the names in them. */
export interface HandedOver {
  readonly before: readonly Code[];
  readonly after: readonly Code[];
  readonly lazy: Name | undefined;
  readonly saved: Name | undefined;
  readonly histories: Name | undefined;
  /** The tasks as the stores use them, and those that do the work: the same where the style has nothing to add. */
  readonly tasks: Name | undefined;
  readonly run: Name | undefined;
  readonly logging: Name | undefined;
  readonly order: Code | undefined;
}

/** Writes what is handed over to an engine. `given`: the options. `usesHistories`: whether anything is done with them later. */
export function handedOver(
  output: Output,
  module: Module,
  style: Capabilities,
  engine: Name,
  given: Name,
  usesHistories = true,
): HandedOver {
  const { application, options } = output;
  const before: Code[] = [];
  const after: Code[] = [];
  const name = (wanted: string, isWanted: boolean) => (isWanted ? new Name(wanted) : undefined);
  const make = (own: Name, made: RuntimeValue, isClass: boolean, args: readonly Code[]) => {
    const all = joined([named(engine), ...args], ', ');
    before.push(
      code`const ${own} = ${isClass ? code`new ` : nothing}${module.value(...made)}(${all});`,
    );
  };
  if (output.hasDrawn('newId'))
    before.push(code`${engine}.turns.drawIds(${module.value('runtime/ids', 'uuid')});`);
  const lazy = name('lazy', hasLazy(application));
  const order = lazy && orderConstant(output, module);
  if (lazy !== undefined && order !== undefined) {
    const later = application.stores.filter((store) => store.lazy).map((store) => store.name);
    const more = style.lazy.isClass ? [] : [data(later)];
    make(lazy, style.lazy.made, style.lazy.isClass, [order, ...more]);
  }
  if (options.begin === 'state')
    before.push(code`${module.value('runtime/beginnings', 'beginFrom')}(${engine}, ${given});`);
  const saved = name('saved', hasSaved(application));
  if (saved !== undefined) make(saved, style.saved.made, style.saved.isClass, [named(given)]);
  const histories = name('histories', hasHistory(application));
  if (histories !== undefined && usesHistories)
    make(histories, style.histories.made, style.histories.isClass, []);
  else if (histories !== undefined)
    before.push(code`${module.value(...style.histories.made)}(${engine});`);
  const logging = name('logging', options.log);
  if (logging !== undefined)
    before.push(code`const ${logging} = new ${module.value('runtime/logging', 'Logging')}();`);
  const run = name('tasks', hasTasks(application));
  const tasks = run && (style.hasOwnTasks === true ? new Name('reducerTasks') : run);
  if (run !== undefined && tasks !== undefined) {
    const made: RuntimeValue =
      logging === undefined ? style.tasks : ['runtime/logged-tasks', 'LoggedTasks'];
    const more = logging === undefined ? [] : [code`() => ${logging}.log`];
    make(run, made, true, [named(given), ...more]);
    if (style.working !== undefined)
      before.push(style.working(engine, { run, own: tasks }, given, module));
    if (startsByItself(application))
      after.push(code`${module.value('runtime/following', 'followAll')}(${run});`);
  }
  if (logging !== undefined) {
    const secrets = secretsForLog(application);
    const mask =
      secrets === undefined
        ? []
        : [code`${module.value('runtime/secrets', 'masking')}(${secrets})`];
    const states = style.states(engine, order, module);
    const args = [named(engine), named(given), schemaForLog(application), states, ...mask];
    after.unshift(code`${logging}.begin(${joined(args, ', ')});`);
  }
  return { before, after, lazy, saved, histories, tasks, run, logging, order };
}

/** The names of all stores in the order of the schema, as a constant of the file. */
function orderConstant(output: Output, module: Module): Code | undefined {
  const order = orderOf(output.application);
  if (order === undefined) return undefined;
  const own = module.own('order');
  module.add(code`const ${own} = ${order};`);
  return named(own);
}

/** All stores that are there from the beginning, by name; `of` gives what stands for one. */
export const tableOfStores = (output: Output, of: (store: string) => Code): Code =>
  object(eagerStores(output.application).map(({ name }) => entry(name, of(name))));

/** The members of what stores are given for what is handed over: a type for each. */
export function aroundMembers(
  application: Application,
  module: Module,
  own: Readonly<Record<'tasks' | 'histories', RuntimeValue>>,
): readonly Code[] {
  const members: Code[] = [];
  const add = (name: string, type: RuntimeValue): void => {
    members.push(code`readonly ${word(name)}: ${module.type(...type)};`);
  };
  if (hasSaved(application)) add('saved', ['runtime/saved', 'SavedStores']);
  if (hasHistory(application)) add('histories', own.histories);
  if (hasTasks(application)) add('tasks', own.tasks);
  return members;
}

/** What stores are given for what is handed over; `tasks` stands for the tasks there. */
export function aroundEntries(
  names: Readonly<Record<string, Name | undefined>>,
  tasks: Code | undefined,
): readonly Code[] {
  const entries = Object.entries(names).flatMap(([name, own]) =>
    own === undefined ? [] : [entry(name, named(own))],
  );
  return tasks === undefined ? entries : [...entries, entry('tasks', tasks)];
}
