import {
  deedsOf,
  exprOf,
  operationNamed,
  type Application,
  type Store,
} from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import { effectsOf, readsOf } from '../../model/footprint.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';
import { exprsOfTask, moments, type Moment, type Task } from '../../model/tasks.js';
import { typeText } from '../../model/type-text.js';

/** What the checker understood of a task. */
export interface TaskOverview {
  readonly name: string;
  readonly payload: string | null;
  readonly requires: readonly string[];
  /** The operation that it calls; null for a delay. */
  readonly calls: string | null;
  /** What the operation gives, in words; null for nothing. */
  readonly result: string | null;
  readonly overlap: string;
  /** `wait`, `timeLimit`, `retry`, `every` and `per`, each as it is written, if it is: `timeLimit: '5000'`. */
  readonly settings: Readonly<Record<string, string>>;
  /** What starts it, and what cancels it, besides callers: actions, moments of tasks, or what it follows. */
  readonly startedBy: readonly string[];
  readonly cancelledBy: readonly string[];
  /** The fields that its steps store to, at each moment that has steps. */
  readonly moments: readonly { readonly moment: Moment; readonly stores: readonly string[] }[];
  readonly reads: readonly string[];
}

/** What the checker understood of a service. */
export interface ServiceOverview {
  readonly name: string;
  readonly about: string | null;
  readonly operations: readonly {
    readonly name: string;
    readonly payload: string | null;
    readonly result: string | null;
    /** The tasks that call it. */
    readonly calledBy: readonly string[];
  }[];
}

export function taskOverview(task: Task, store: Store, application: Application): TaskOverview {
  const { name, payload, requires, operation, overlap, steps } = task;
  const full = `${store.name}.${name}`;
  const called = operation && operationNamed(application, operation);
  const result = called?.results ?? called?.result;
  const own = moments.flatMap((moment) => allSteps(steps[moment]).flatMap(exprsOf));
  return {
    name,
    payload: payload === undefined ? null : typeText(payload, application.types),
    requires: requires.map(({ otherwise }) => otherwise),
    calls: operation === undefined ? null : `${operation.service}.${operation.operation}`,
    result:
      result === undefined
        ? null
        : `${called?.results === undefined ? '' : 'many: '}${typeText(result, application.types)}`,
    overlap,
    settings: settingsOf(task),
    startedBy: [...followed(task), ...doersOf(application, full, 'starts')],
    cancelledBy: doersOf(application, full, 'cancels'),
    moments: moments
      .filter((moment) => steps[moment].length > 0)
      .map((moment) => ({
        moment,
        stores: [...effectsOf(steps[moment], store.name, application).stores],
      })),
    reads: [
      ...readsOf([...requires.map(exprOf), ...exprsOfTask(task), ...own], application).written,
    ],
  };
}

/** An expression as it stands in the schema, on one line. */
function written({ span: { source, start, end } }: Expr): string {
  return source.text.slice(start, end).replace(/\s+/g, ' ');
}

function settingsOf({ wait, timeLimit, retry, every, per }: Task): Record<string, string> {
  const exprs = { wait, timeLimit, every, per };
  const texts = Object.entries(exprs).flatMap(([name, expr]) =>
    expr === undefined ? [] : [[name, written(expr)] as const],
  );
  return {
    ...Object.fromEntries(texts),
    ...(retry === undefined ? {} : { retry: String(retry.times) }),
  };
}

/** What starts a task by itself. */
function followed({ auto }: Task): readonly string[] {
  if (auto === undefined) return [];
  if (auto.kind === 'once') return ['the creation of the stores'];
  return auto.kind === 'while'
    ? [`while ${written(auto.test)}`]
    : [`each change of ${written(auto.value)}`];
}

/** The actions, moments and reactions with a step that starts or cancels a task. */
function doersOf(application: Application, task: string, kind: 'starts' | 'cancels'): string[] {
  return application.stores.flatMap((store) =>
    deedsOf(store)
      .filter(({ steps }) => effectsOf(steps, store.name, application)[kind].has(task))
      .map(({ at }) => at),
  );
}

export function serviceOverviews({ services, stores, types }: Application): ServiceOverview[] {
  return services.map((service) => ({
    name: service.name,
    about: service.about ?? null,
    operations: service.operations.map(({ name, payload, result, results }) => ({
      name,
      payload: payload === undefined ? null : typeText(payload, types),
      result:
        (results ?? result) === undefined
          ? null
          : `${results === undefined ? '' : 'many: '}${typeText(results ?? (result as NonNullable<typeof result>), types)}`,
      calledBy: stores.flatMap((store) =>
        store.tasks
          .filter(
            ({ operation }) => operation?.service === service.name && operation.operation === name,
          )
          .map((task) => `${store.name}.${task.name}`),
      ),
    })),
  }));
}
