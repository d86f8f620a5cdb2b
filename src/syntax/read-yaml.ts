import type { Problems } from '../diagnostics/problem.js';
import type { Source } from '../diagnostics/source.js';
import { mostInside, tooDeepAt } from './depth.js';
import { deeperThan, type Located } from './located.js';
import { readTidyYaml } from './read-tidy-yaml.js';

/** Parses a YAML 1.2 (or JSON) file to located data; `undefined` with a problem if that fails. */
export async function readYaml(source: Source, problems: Problems): Promise<Located | undefined> {
  const deep = tooDeepAt(source.text);
  if (deep !== undefined) {
    const detail = 'it is nested too deeply.';
    problems.add('not-yaml', { source, start: deep, end: deep + 1 }, { detail });
    return undefined;
  }
  const root = readTidyYaml(source) ?? (await readAny(source, problems));
  const inside = root && deeperThan(root, mostInside);
  if (inside === undefined) return root;
  const { start } = inside.span;
  const detail = `it is nested too deeply: at most ${mostInside} levels of lists and mappings are allowed.`;
  problems.add('not-yaml', { source, start, end: start + 1 }, { detail });
  return undefined;
}

async function readAny(source: Source, problems: Problems): Promise<Located | undefined> {
  const { readAnyYaml } = await import('./read-any-yaml.js');
  return readAnyYaml(source, problems);
}
