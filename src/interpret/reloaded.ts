import type { Application } from '../model/application.js';
import { Beginning } from './beginning.js';
import { judgeOf } from './judge.js';
import { isObject } from '../base/json.js';

/**
 * What the stores of an application read of what is kept, parsed, by key: their saved fields, with the defaults where it cannot
 * be read.
 */
export function reloadedBy(
  application: Application,
): (kept: Readonly<Record<string, unknown>>) => Readonly<Record<string, unknown>> {
  const judge = judgeOf(application.types);
  return (kept) => {
    const getItem = (key: string) => (Object.hasOwn(kept, key) ? JSON.stringify(kept[key]) : null);
    const environment = {
      newId: () => '',
      now: () => 0,
      random: () => 0,
      onProblem: () => undefined,
      storage: { getItem, setItem: () => undefined },
    };
    const beginning = new Beginning(application, environment, judge, undefined);
    return Object.fromEntries(
      application.stores.flatMap((store) => {
        const { saved, single } = store;
        if (saved === undefined) return [];
        const state = beginning.of(store);
        if (single || !isObject(state)) return [[saved.key, state]];
        return [[saved.key, Object.fromEntries(saved.fields.map((name) => [name, state[name]]))]];
      }),
    );
  };
}
