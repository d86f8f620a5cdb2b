import { parse, stringify } from 'yaml';
import type { Random } from '../src/base/random.js';

const odd = [
  '"',
  "'",
  '{',
  '}',
  '[',
  ']',
  ':',
  ': ',
  '- ',
  '#',
  '!',
  '*',
  '&',
  '|',
  '>',
  '?',
  '\t',
  '\n',
  '\\',
  '`',
  '${',
  '=>',
  '...',
  '??',
  '\u0000',
  '⛴',
  '__proto__',
  'constructor',
  '~',
  '%',
  '@',
  '9'.repeat(400),
  '('.repeat(60),
];

type Data = null | string | number | boolean | Data[] | { [key: string]: Data };

/** The schema's data with a part taken out, doubled, put elsewhere or replaced, written as YAML again. */
function restructured(text: string, random: Random): string {
  const root = parse(text) as Data;
  const places: { of: Data[] | Record<string, Data>; key: string | number }[] = [];
  const collect = (node: Data): void => {
    if (typeof node !== 'object' || node === null) return;
    for (const [key, part] of Object.entries(node)) {
      places.push({ of: node, key });
      collect(part);
    }
  };
  collect(root);
  const at = (place: { of: Data[] | Record<string, Data>; key: string | number }) =>
    (place.of as Record<string, Data>)[place.key] ?? null;
  for (let i = 0; i <= random.below(3); i++) {
    const [one, other] = [random.pick(places), random.pick(places)];
    const replacements: readonly Data[] = [null, '', 0, [], {}, '!x', at(other), { a: at(other) }];
    const into = one.of as Record<string, Data>;
    if (random.chance(0.2)) Reflect.deleteProperty(into, one.key);
    else into[one.key] = structuredClone(random.pick(replacements));
  }
  return stringify(root);
}

/** The schema with a few slips in it: characters, lines and pieces lost, doubled or moved. */
function spoilt(text: string, random: Random): string {
  let now = text;
  for (let i = 0; i <= random.below(4); i++) {
    const at = random.below(now.length);
    const lines = now.split('\n');
    const line = random.below(lines.length);
    const kind = random.below(5);
    if (kind === 0) now = now.slice(0, at) + now.slice(at + 1 + random.below(6));
    else if (kind === 1) now = now.slice(0, at) + random.pick(odd) + now.slice(at);
    else if (kind === 2) now = lines.toSpliced(line, 1).join('\n');
    else if (kind === 3)
      now = lines.toSpliced(line, 0, lines[random.below(lines.length)] ?? '').join('\n');
    else
      now = lines
        .map((own, n) =>
          n === line
            ? own.replace(
                /\w+/,
                random.pick(['deck', 'vehicles', 'payload', 'null', 'then', 'toString']),
              )
            : own,
        )
        .join('\n');
  }
  return now;
}

/** The schema with something wrong in it, mostly: some of these still are schemas. */
export function spoiltAnyhow(text: string, random: Random): string {
  return random.chance(0.3) ? restructured(text, random) : spoilt(text, random);
}
