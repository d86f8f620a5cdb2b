import { same } from '../../base/same.js';
import { checkStructure } from './read-structure.js';
import { Problems, type Problem } from '../problems/problem.js';
import { Source } from '../../base/source.js';
import { formatYaml } from '../syntax/format-yaml.js';
import { plainOf, type Located } from '../syntax/located.js';
import { readYaml } from '../syntax/read-yaml.js';

/** A schema file in its one tidy form, or what keeps it from having one. */
export type Formatted = { readonly text: string } | { readonly problems: readonly Problem[] };

/** Formats a schema file; what it says stays the same, comments included. */
export async function formatSource({ path, text }: Source): Promise<Formatted> {
  const problems = new Problems();
  const root = await read(path, text, problems);
  if (root === undefined) return { problems: problems.inOrder() };
  const formatted = formatYaml(text);
  const again = await read(path, formatted, problems);
  if (again === undefined || !same(meaningOf(plainOf(again)), meaningOf(plainOf(root))))
    throw new Error(`formatting ${path} would change what it says`);
  return { text: formatted };
}

async function read(path: string, text: string, problems: Problems): Promise<Located | undefined> {
  const root = await readYaml(new Source(path, text), problems);
  if (root !== undefined) checkStructure(root, problems);
  return problems.hasErrors ? undefined : root;
}

/** The data with white space at the ends and between words of texts left out of account: folding changes it. */
function meaningOf(data: unknown): unknown {
  if (typeof data === 'string') return data.trim().replace(/\s+/g, ' ');
  if (Array.isArray(data)) return data.map(meaningOf);
  if (typeof data !== 'object' || data === null) return data;
  return Object.fromEntries(Object.entries(data).map(([key, part]) => [key, meaningOf(part)]));
}
