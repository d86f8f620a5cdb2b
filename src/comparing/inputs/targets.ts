import type { Application } from '../../model/application.js';
import type { Target } from '../../model/participant.js';
import { readings } from '../../model/task-readings.js';

/** Everything that can be watched: all, each store, each field and derived value, what goes on of each task. */
export function targetsOf(application: Application): readonly Target[] {
  return [
    '*',
    ...application.stores.flatMap((store) => [
      store.name,
      ...(store.single ? [] : store.fields.map(({ name }) => `${store.name}.${name}`)),
      ...store.derived
        .filter(({ params }) => params.length === 0)
        .map(({ name }) => `${store.name}.${name}`),
      ...store.tasks.flatMap(({ name }) =>
        readings.map((reading) => `${store.name}.${name}.${reading}`),
      ),
    ]),
  ];
}
