import { expect, test } from '@jest/globals';
import { parse, stringify } from 'yaml';
import { Random } from '../../src/base/random.js';
import { checkSchemas } from '../../src/pipeline.js';
import { overviewOf } from '../../src/report/overview.js';
import { ferryText } from '../helpers.js';

/** How many files are spoilt; `npm run soak` does all. */
const files = process.env.LEESHORE_SOAK === undefined ? 400 : 20_000;

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

test(`${files} spoilt schemas end in problems or success, never in an exception`, async () => {
  const random = new Random(11);
  let fine = 0;
  let slowest = 0;
  for (let i = 0; i < files; i++) {
    const text = random.chance(0.3) ? restructured(ferryText, random) : spoilt(ferryText, random);
    const start = performance.now();
    const { application, problems } = await checkSchemas([{ path: 'spoilt', text }]);
    slowest = Math.max(slowest, performance.now() - start);
    expect(application !== undefined || problems.length > 0).toBe(true);
    if (application !== undefined) expect(overviewOf(application).stores).not.toEqual([]);
    for (const { span, message } of problems) {
      expect(message).not.toMatch(/undefined|\[object/);
      expect(span.start >= 0 && span.end <= text.length + 1 && span.start <= span.end).toBe(true);
    }
    if (application !== undefined) fine++;
  }
  expect(fine).toBeGreaterThan(0);
  expect(fine).toBeLessThan(files);
  if (files > 1000) {
    expect(slowest).toBeLessThan(2000);
    expect(process.resourceUsage().maxRSS).toBeLessThan(1024 * 1024);
  }
}, 3_600_000);
