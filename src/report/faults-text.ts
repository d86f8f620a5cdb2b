import Table from 'cli-table3';
import type { Paint } from '../diagnostics/render.js';
import type { FaultsJson } from './faults-json.js';
import { countText } from './value-text.js';

/** At most this many faults that were not found are printed. */
const mostMissed = 12;

/** How good comparing is at finding faults, as people read it. */
export function faultsText(result: FaultsJson, paint: Paint): string {
  const { tried, found, medianSteps, mostSteps, kinds, missed } = result;
  const table = new Table({
    head: ['kind of fault', 'planted', 'found', 'median steps', 'most'].map(paint.bold),
    colAligns: ['left', 'right', 'right', 'right', 'right'],
    style: { head: [], border: [], compact: true },
  });
  for (const row of kinds)
    table.push([
      row.kind,
      row.planted,
      row.found === row.planted ? row.found : paint.yellow(String(row.found)),
      row.medianSteps === null ? '' : countText(row.medianSteps),
      row.mostSteps === null ? '' : countText(row.mostSteps),
    ]);
  const share = tried === 0 ? 0 : (100 * found) / tried;
  const head =
    tried === 0
      ? paint.yellow('no fault was tried.')
      : `${found === tried ? paint.green('all') : `${share.toFixed(1)} %`} of ${tried} planted faults found, after ${countText(medianSteps ?? 0)} steps in the middle, ${countText(mostSteps ?? 0)} at most.`;
  const rows = missed
    .slice(0, mostMissed)
    .map(({ style, kind, at, why }) => `  ${style.padEnd(11)} ${kind}, ${at}  ${paint.dim(why)}`);
  if (missed.length > mostMissed) rows.push(`  and ${missed.length - mostMissed} more (--json)`);
  return [
    head,
    table.toString(),
    ...(missed.length === 0
      ? []
      : [
          [
            'Not found: equal in all that an observer can see, or a gap of the search.',
            ...rows,
          ].join('\n'),
        ]),
    `Seed ${result.seed}, at most ${countText(result.steps)} steps for each fault, ${(result.tookMs / 1000).toFixed(1)} s${result.isWhole ? '' : ', ended early'}.`,
  ].join('\n\n');
}
