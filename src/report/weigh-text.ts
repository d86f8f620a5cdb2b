import Table from 'cli-table3';
import type { Paint } from '../diagnostics/render.js';
import type { Weighing } from '../weigh/weigh-result.js';
import { countText } from './value-text.js';

/** Bytes as people read them: `7.6 kB`, of 1,000 bytes each. */
export const bytesText = (bytes: number): string =>
  bytes < 1000 ? `${bytes} B` : `${(bytes / 1000).toFixed(1)} kB`;

/** What stores weigh, as people read it: a row for each style, then each store. `limit` is in gzipped bytes. */
export function weighText({ styles, against }: Weighing, paint: Paint, limit?: number): string {
  const old = against?.gzipped;
  const head = [
    'style',
    'lines',
    'minified',
    'gzipped',
    'run time',
    '--checks never',
    '--guard never',
    ...(old === undefined ? [] : ['against old']),
  ];
  const rows = styles.map(({ style, lines, minified, gzipped, runtime, variants }) => [
    style,
    countText(lines),
    bytesText(minified),
    limit !== undefined && gzipped > limit
      ? paint.red(bytesText(gzipped))
      : paint.bold(bytesText(gzipped)),
    `${Math.round((runtime / minified) * 100)} %`,
    bytesText(variants['--checks never'].gzipped),
    bytesText(variants['--guard never'].gzipped),
    ...(old === undefined ? [] : [difference(gzipped - old)]),
  ]);
  const names = Object.keys(styles[0]?.stores ?? {});
  const readers = Object.keys(styles[0]?.readers ?? {});
  const blocks = [
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
  const tooHeavy = styles.filter(({ gzipped }) => limit !== undefined && gzipped > limit);
  if (limit !== undefined)
    blocks.push(
      tooHeavy.length === 0
        ? `${paint.green('within the limit')}  At most ${bytesText(limit)} gzipped.`
        : `${paint.red('too heavy')}  ${tooHeavy.map(({ style }) => style).join(', ')}: more than ${bytesText(limit)} gzipped.`,
    );
  return blocks.join('\n\n');
}

const titled = (title: string, text: string): string => `${title}\n${text}`;

const difference = (bytes: number): string =>
  `${bytes < 0 ? '-' : '+'}${bytesText(Math.abs(bytes))}`;

function table(
  head: readonly string[],
  rows: readonly (readonly string[])[],
  paint: Paint,
): string {
  const made = new Table({
    head: head.map((title) => paint.bold(title)),
    colAligns: head.map((_, i) => (i === 0 ? 'left' : 'right')),
    style: { head: [], border: [], compact: true },
  });
  made.push(...rows.map((row) => [...row]));
  return made.toString();
}
