import { thrownText } from '../base/thrown-text.js';
import { LoadError } from './load-error.js';

/** What a module exports by default, given its text: it imports nothing but what is part of Node. Throws {@link LoadError}. */
export async function importText(path: string, text: string): Promise<unknown> {
  const url = `data:text/javascript;base64,${Buffer.from(text).toString('base64')}`;
  try {
    const module = (await import(url)) as { readonly default?: unknown };
    return module.default;
  } catch (error) {
    throw new LoadError(path, thrownText(error));
  }
}
