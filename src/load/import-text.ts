import { thrownText } from '../base/thrown-text.js';
import { counterNames } from './branches/instrument.js';
import type { Counters } from './branches/ways-gone.js';
import { LoadError } from './load-error.js';

/** What a module exports by default, given its text: it imports nothing but what is part of Node. Throws {@link LoadError}. */
export async function importText(path: string, text: string, ways?: CountText): Promise<unknown> {
  const counted = ways?.(text);
  if (counted !== undefined) {
    Reflect.set(globalThis, countersKey, counted.counters);
    const names = counterNames.join(', ');
    const key = JSON.stringify(Symbol.keyFor(countersKey));
    const prelude = `const { ${names} } = globalThis[Symbol.for(${key})];`;
    return importUncounted(path, `${prelude}${counted.code}`);
  }
  return importUncounted(path, text);
}

/** Where the code of a module finds its counters when it is loaded. */
const countersKey = Symbol.for('leeshore counters');

/** Puts counters into the code of a module; `undefined` if it is not counted. */
export type CountText = (
  text: string,
) => { readonly code: string; readonly counters: Counters } | undefined;

async function importUncounted(path: string, text: string): Promise<unknown> {
  const url = `data:text/javascript;base64,${Buffer.from(text).toString('base64')}`;
  try {
    const module = (await import(url)) as { readonly default?: unknown };
    return module.default;
  } catch (error) {
    throw new LoadError(path, thrownText(error));
  }
}
