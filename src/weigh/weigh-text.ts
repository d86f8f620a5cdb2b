import Table from 'cli-table3';
import type { Paint } from '../report/paint.js';
import type { Weighing } from './weigh-result.js';
import { fittingWidths } from '../report/table-widths.js';
import { countText } from '../report/value-text.js';

/** Bytes as people read them: `7.6 kB`, of 1,000 bytes each. */
export const bytesText = (bytes: number): string =>
  bytes < 1000 ? `${bytes} B` : `${(bytes / 1000).toFixed(1)} kB`;

/** The number of columns that a page has at least on which all is shown. */
const narrowest = 80;

/** The sizes of stores, as people read them: a first line, a row for each style, then each store. `limit` is in gzipped bytes. */
export function weighText({ styles, against }: Weighing, paint: Paint, limit?: number): string {
  const old = against?.gzipped;
  // A narrow page has room for what decides only.
  const isWide = paint.columns >= narrowest;
  const head = [
    'style',
    ...(isWide ? ['lines'] : []),
    'minified',
    'gzipped',
    ...(isWide ? ['run time'] : []),
    '--checks never',
    ...(isWide ? ['--guard never'] : []),
    ...(old === undefined ? [] : ['against old']),
  ];
  const rows = styles.map(({ style, lines, minified, gzipped, runtime, variants }) => [
    style,
    ...(isWide ? [countText(lines)] : []),
    bytesText(minified),
    limit !== undefined && gzipped > limit
      ? paint.red(bytesText(gzipped))
      : paint.bold(bytesText(gzipped)),
    ...(isWide ? [`${Math.round((runtime / minified) * 100)} %`] : []),
    bytesText(variants['--checks never'].gzipped),
    ...(isWide ? [bytesText(variants['--guard never'].gzipped)] : []),
    ...(old === undefined ? [] : [difference(gzipped - old)]),
  ]);
  const names = Object.keys(styles[0]?.stores ?? {});
  const readers = Object.keys(styles[0]?.readers ?? {});
  const blocks = [
    answer(styles, limit, paint),
    [
      table(head, rows, paint),
      ...(against === null
        ? []
        : [
            `The old store, ${against.path}, with all that it imports: ${bytesText(against.minified)} minified, ${paint.bold(bytesText(against.gzipped))} gzipped.`,
          ]),
    ].join('\n'),
    titled(
      `${paint.bold('By store')}, minified`,
      table(
        ['store', ...styles.map(({ style }) => style)],
        names.map((name) => [name, ...styles.map(({ stores }) => bytesText(stores[name] ?? 0))]),
        paint,
      ),
    ),
    ...(readers.length === 0
      ? []
      : [
          titled(
            `${paint.bold('Readers')}, gzipped, each by itself`,
            table(
              ['framework', ...styles.map(({ style }) => style)],
              readers.map((name) => [
                name,
                ...styles.map((one) => bytesText(one.readers[name]?.gzipped ?? 0)),
              ]),
              paint,
            ),
          ),
        ]),
  ];
  return blocks.join('\n\n');
}

/** What people want to know: how large the stores are, and whether that is too much. */
function answer(styles: Weighing['styles'], limit: number | undefined, paint: Paint): string {
  const sorted = styles.toSorted((a, b) => a.gzipped - b.gzipped);
  const [least, most] = [sorted[0], sorted.at(-1)];
  if (least === undefined || most === undefined) return '';
  const sizes =
    least === most
      ? `${least.style} ${bytesText(least.gzipped)} gzipped`
      : `${least.style} ${bytesText(least.gzipped)} to ${most.style} ${bytesText(most.gzipped)} gzipped`;
  if (limit === undefined) return paint.bold(sizes);
  const tooHeavy = sorted.filter(({ gzipped }) => gzipped > limit).map(({ style }) => style);
  return tooHeavy.length === 0
    ? `${paint.green('within the limit')}  ${sizes}, at most ${bytesText(limit)}.`
    : `${paint.red('too heavy')}  ${tooHeavy.join(', ')}: more than ${bytesText(limit)} (${sizes}).`;
}

const titled = (title: string, text: string): string => `${title}\n${text}`;

const difference = (bytes: number): string =>
  `${bytes < 0 ? '-' : '+'}${bytesText(Math.abs(bytes))}`;

function table(
  head: readonly string[],
  rows: readonly (readonly string[])[],
  paint: Paint,
): string {
  const widths = fittingWidths(head, rows, paint.columns);
  const made = new Table({
    head: head.map((title) => paint.bold(title)),
    ...(widths !== undefined && { colWidths: widths, wordWrap: true }),
    colAligns: head.map((_, i) => (i === 0 ? 'left' : 'right')),
    style: { head: [], border: [], compact: true },
  });
  made.push(...rows.map((row) => [...row]));
  return made.toString();
}
