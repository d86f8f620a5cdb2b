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
  const { stores } = application;
  const isOld = (key: string) =>
    stores.every(({ saved }) => saved?.key !== key) &&
    stores.some(({ saved }) => saved?.old?.keys.some((one) => one.key === key) === true);
  return (kept) => {
    const getItem = (key: string) =>
      Object.hasOwn(kept, key) ? textOf(kept[key], isOld(key)) : null;
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

/** A text that is no JSON, or that was there before a schema, is told as `{ text }`. */
function textOf(kept: unknown, isOld: boolean): string {
  const text = isObject(kept) && typeof kept.text === 'string' ? kept.text : undefined;
  if (text === undefined || Object.keys(kept as object).length > 1) return JSON.stringify(kept);
  if (isOld) return text;
  try {
    JSON.parse(text);
    return JSON.stringify(kept);
  } catch {
    return text;
  }
}
