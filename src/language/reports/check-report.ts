import type { Paint } from '../../report/paint.js';
import { problemToJson } from '../problems/render.js';
import type { Problem } from '../problems/problem.js';
import { counted, wrappedNames } from '../../report/value-text.js';
import type { Application, Store } from '../../model/application.js';

/** What is in a schema, in a few lines. */
export function summaryText(
  paths: readonly string[],
  application: Application,
  paint: Paint,
): string {
  const { stores, types, functions, title } = application;
  const actions = stores.reduce((total, store) => total + store.actions.length, 0);
  const derived = stores.reduce((total, store) => total + store.derived.length, 0);
  const tasks = stores.reduce((total, store) => total + store.tasks.length, 0);
  const counts = [
    counted(stores.length, 'store'),
    counted(types.size, 'type'),
    ...(functions.length > 0 ? [counted(functions.length, 'function')] : []),
    counted(actions, 'action'),
    `${derived} derived`,
    ...(tasks > 0 ? [counted(tasks, 'task')] : []),
  ];
  const head = `${paint.green('fine')}  ${paint.bold(paths.join(', '))}${title === undefined ? '' : `  ${title}`}`;
  return [
    head,
    paint.dim(`      ${counts.join(', ')}`),
    ...stores.map((store) => storeText(store, paint)),
  ].join('\n');
}

function storeText(store: Store, paint: Paint): string {
  const about = store.about === undefined ? '' : `  ${paint.dim(store.about)}`;
  const fields = store.single ? [] : store.fields.map(({ name }) => name);
  const sections: readonly (readonly [string, readonly string[]])[] = [
    ['state', store.single ? ['one value'] : fields],
    ['derived', store.derived.map(({ name }) => name)],
    ['actions', store.actions.map(({ name }) => name)],
    ['tasks', store.tasks.map(({ name }) => name)],
  ];
  const lines = sections
    .filter(([, names]) => names.length > 0)
    .map(
      ([title, names]) =>
        `    ${paint.cyan(title.padEnd(8))} ${wrappedNames(names, paint.columns - 13, 13)}`,
    );
  return [`\n  ${paint.bold(store.name)}${about}`, ...lines].join('\n');
}

/** The result of a check as one JSON value. */
export function checkToJson(
  paths: readonly string[],
  application: Application | undefined,
  problems: readonly Problem[],
) {
  return {
    leeshoreCheck: 1,
    fine: application !== undefined,
    files: paths,
    title: application?.title ?? null,
    stores: (application?.stores ?? []).map((store) => ({
      name: store.name,
      state: store.single ? 'one value' : store.fields.map(({ name }) => name),
      derived: store.derived.map(({ name }) => name),
      actions: store.actions.map(({ name }) => name),
      tasks: store.tasks.map(({ name }) => name),
    })),
    problems: problems.map(problemToJson),
  };
}
