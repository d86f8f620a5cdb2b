import { nearest } from '../base/suggest.js';
import { LoadError } from './load-error.js';

/** Refuses a name in a part of a file that is none of those that are known. Throws {@link LoadError}. */
export function requireOneOf(
  file: string,
  part: string,
  name: string,
  known: readonly string[],
): void {
  if (known.includes(name)) return;
  const near = nearest(name, known);
  const hint = near === undefined ? '' : `; did you mean '${near}'?`;
  throw new LoadError(file, `'${part}' has '${name}', which the schema does not have${hint}`);
}
