import type { Style } from '../core.js';
import { Unusable } from './io.js';

/** The styles of a comma-separated list, or of `none`. Throws {@link Unusable}. */
export async function stylesOrNone(text: string): Promise<readonly Style[]> {
  return text.trim() === 'none' ? [] : styleList(text);
}

/** The styles of a comma-separated list. Throws {@link Unusable}. */
export async function styleList(text: string): Promise<readonly Style[]> {
  const { styles } = await import('../core.js');
  const names = text.split(',').map((name) => name.trim());
  const odd = names.find((name) => !(styles as readonly string[]).includes(name));
  if (odd !== undefined)
    throw new Unusable(`There is no style '${odd}'.`, `There are: ${styles.join(', ')}.`);
  return styles.filter((style) => names.includes(style));
}
