import type { Application } from '../../model/application.js';
import type { Target } from '../../model/participant.js';

/** Everything that can be watched: all, each store, each field and derived value. */
export function targetsOf(application: Application): readonly Target[] {
  return [
    '*',
    ...application.stores.flatMap((store) => [
      store.name,
      ...(store.single ? [] : store.fields.map(({ name }) => `${store.name}.${name}`)),
      ...store.derived
        .filter(({ params }) => params.length === 0)
        .map(({ name }) => `${store.name}.${name}`),
    ]),
  ];
}
