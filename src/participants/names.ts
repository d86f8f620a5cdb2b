import type { Application } from '../model/application.js';

/** What there is in an application, by store. */
export interface Names {
  /** A store that is one value has one, called `value`. */
  readonly fields: Readonly<Record<string, readonly string[]>>;
  readonly derived: Readonly<Record<string, readonly string[]>>;
  /** Stores that have tasks only. */
  readonly tasks: Readonly<Record<string, readonly string[]>>;
  /** The stores whose whole state is one value. */
  readonly single: ReadonlySet<string>;
}

/** The names that the adapters of an application's participants need. */
export function namesOf(application: Application): Names {
  const { stores } = application;
  return {
    fields: Object.fromEntries(
      stores.map(({ name, fields }) => [name, fields.map((field) => field.name)]),
    ),
    derived: Object.fromEntries(
      stores.map((store) => [
        store.name,
        store.derived.filter(({ params }) => params.length === 0).map(({ name }) => name),
      ]),
    ),
    tasks: Object.fromEntries(
      stores
        .filter(({ tasks }) => tasks.length > 0)
        .map(({ name, tasks }) => [name, tasks.map((task) => task.name)]),
    ),
    single: new Set(stores.filter(({ single }) => single).map(({ name }) => name)),
  };
}
