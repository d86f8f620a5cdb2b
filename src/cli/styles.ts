import type { Framework, Style } from '../core.js';
import { Unusable } from './io.js';

/** The styles of a comma-separated list, or of `none`. Throws {@link Unusable}. */
export async function stylesOrNone(text: string): Promise<readonly Style[]> {
  return text.trim() === 'none' ? [] : styleList(text);
}

/** The styles of a comma-separated list. Throws {@link Unusable}. */
export async function styleList(text: string): Promise<readonly Style[]> {
  const { styles } = await import('../core.js');
  return listed('style', text, styles);
}

/** The user interface frameworks of a comma-separated list. Throws {@link Unusable}. */
export async function frameworkList(text: string): Promise<readonly Framework[]> {
  const { frameworks } = await import('../core.js');
  return listed('framework', text, frameworks);
}

function listed<Name extends string>(
  kind: string,
  text: string,
  all: readonly Name[],
): readonly Name[] {
  const names = text.split(',').map((name) => name.trim());
  const odd = names.find((name) => !(all as readonly string[]).includes(name));
  if (odd !== undefined)
    throw new Unusable(`There is no ${kind} '${odd}'.`, `There are: ${all.join(', ')}.`);
  return all.filter((one) => names.includes(one));
}
