import { thrownText } from '../base/thrown-text.js';
import { counterNames } from './branches/instrument.js';
import type { Counters } from './branches/ways-gone.js';
import { LoadError } from './load-error.js';

/**
 * What a module exports by default, given its text: it imports nothing but what is part of Node. `count` may put counters into
 * it. Throws {@link LoadError}.
 */
export async function importText(path: string, text: string, count?: CountText): Promise<unknown> {
  const counted = count?.(text);
  try {
    return await (counted === undefined ? imported(text) : importedWith(counted));
  } catch (error) {
    throw new LoadError(path, thrownText(error));
  }
}

/** Puts counters into the code of a module; `undefined` if it is not counted. */
export type CountText = (
  text: string,
) => { readonly code: string; readonly counters: Counters } | undefined;

/** Where the code of a module finds its counters when it is loaded. */
const countersKey = 'leeshore counters';

async function importedWith({ code, counters }: NonNullable<ReturnType<CountText>>) {
  Reflect.set(globalThis, Symbol.for(countersKey), counters);
  const found = `globalThis[Symbol.for(${JSON.stringify(countersKey)})]`;
  try {
    return await imported(`const { ${counterNames.join(', ')} } = ${found};${code}`);
  } finally {
    Reflect.deleteProperty(globalThis, Symbol.for(countersKey));
  }
}

async function imported(text: string): Promise<unknown> {
  const url = `data:text/javascript;base64,${Buffer.from(text).toString('base64')}`;
  const module = (await import(url)) as { readonly default?: unknown };
  return module.default;
}
