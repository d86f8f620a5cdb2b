import type { Problems } from '../problems/problem.js';
import type { Source } from '../../base/source.js';
import { mostInside, tooDeepAt } from './depth.js';
import { deeperThan, type Located } from './located.js';
import { readTidyYaml } from './read-tidy-yaml.js';

/** Parses a YAML 1.2 (or JSON) file to located data; `undefined` with a problem if that fails. */
export async function readYaml(source: Source, problems: Problems): Promise<Located | undefined> {
  const other = otherFile(source.text);
  if (other !== undefined) {
    problems.add('not-a-schema', { source, start: 0, end: 1 }, other);
    return undefined;
  }
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

/** What a file is that Leeshore has written, and no schema; `undefined` for any other. */
function otherFile(text: string): { readonly what: string; readonly use: string } | undefined {
  const [, mark] = /^\s*\{\s*"(leeshore(?:Log|Script))"/.exec(text.slice(0, 200)) ?? [];
  if (mark === undefined) return undefined;
  return mark === 'leeshoreLog'
    ? { what: 'a log', use: 'leeshore timeline shows it, and leeshore replay does it again.' }
    : { what: 'a script', use: 'leeshore compare does it: --script FILE.' };
}

async function readAny(source: Source, problems: Problems): Promise<Located | undefined> {
  const { readAnyYaml } = await import('./read-any-yaml.js');
  return readAnyYaml(source, problems);
}
