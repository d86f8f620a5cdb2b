import Table from 'cli-table3';
import type { Paint } from '../../report/paint.js';
import type { FaultsJson } from './faults-json.js';
import { fittingWidths } from '../../report/table-widths.js';
import { countText } from '../../report/value-text.js';

/** At most this many faults that were not found are printed. */
const mostMissed = 12;

/** How good comparing is at finding faults, as people read it. */
export function faultsText(result: FaultsJson, paint: Paint): string {
  const { tried, found, equal, medianSteps, mostSteps, kinds, missed } = result;
  const head = ['kind of fault', 'planted', 'found', 'equal', 'median steps', 'most'];
  const rows = kinds.map((row) => [
    row.kind,
    row.planted,
    row.found + row.equal === row.planted ? row.found : paint.yellow(String(row.found)),
    row.equal === 0 ? '' : row.equal,
    row.medianSteps === null ? '' : countText(row.medianSteps),
    row.mostSteps === null ? '' : countText(row.mostSteps),
  ]);
  const widths = fittingWidths(head, rows, paint.columns);
  const table = new Table({
    head: head.map(paint.bold),
    colAligns: ['left', 'right', 'right', 'right', 'right', 'right'],
    style: { head: [], border: [], compact: true },
    ...(widths === undefined ? {} : { colWidths: widths, wordWrap: true }),
  });
  table.push(...rows);
  const faults = tried - equal;
  const equivalent =
    equal === 0
      ? ''
      : ` ${equal} more cannot be told apart from what is right, and ${equal === 1 ? 'was' : 'were'} skipped.`;
  const verdict =
    faults === 0
      ? paint.yellow('No fault was tried.')
      : `Found ${(found === faults ? paint.green : paint.yellow)(`${found} of ${faults}`)} planted faults; median ${countText(medianSteps ?? 0)} steps, maximum ${countText(mostSteps ?? 0)}.${equivalent}`;
  const unknown = missed.filter(({ why }) => !why.startsWith('equivalent'));
  const lines = unknown
    .slice(0, mostMissed)
    .map(({ style, kind, at, why }) => `  ${style.padEnd(11)} ${kind}, ${at}  ${paint.dim(why)}`);
  if (unknown.length > mostMissed) lines.push(`  and ${unknown.length - mostMissed} more (--json)`);
  return [
    verdict,
    table.toString(),
    ...(unknown.length === 0
      ? []
      : [
          ['Not found: either no script can show it, or the search missed it.', ...lines].join(
            '\n',
          ),
        ]),
    `Seed ${result.seed}, at most ${countText(result.steps)} steps for each fault, ${(result.tookMs / 1000).toFixed(1)} s${result.isWhole ? '' : ', ended early'}.`,
  ].join('\n\n');
}
