import Table from 'cli-table3';
import { placeText, type Paint } from '../diagnostics/render.js';
import type { Span } from '../diagnostics/source.js';
import type { Comparison, ShrunkDifference } from '../explore/compare.js';
import type { ScriptStep } from '../explore/script.js';
import type { Application } from '../model/application.js';
import { countText, valueLines, valueText } from './value-text.js';

export interface ComparisonTextOptions {
  readonly paint: Paint;
  /** Where each participant comes from, by its name. */
  readonly origins: Readonly<Record<string, string>>;
  /** The command that does the script of a difference again. */
  readonly replayCommand?: string | undefined;
  readonly savedAs?: string | undefined;
}

/** The result of a comparison as people read it. */
export function comparisonText(
  comparison: Comparison,
  application: Application,
  options: ComparisonTextOptions,
): string {
  const { difference } = comparison;
  const parts =
    difference === undefined
      ? [
          verdictText(comparison, options.paint),
          participantTable(comparison, options),
          searchText(comparison),
        ]
      : [differenceText(difference, comparison, application, options), searchText(comparison)];
  return [
    ...parts,
    ...(difference === undefined ? [coverageText(comparison, options.paint)] : []),
  ].join('\n\n');
}

function verdictText({ verdict, participants }: Comparison, paint: Paint): string {
  if (verdict === 'nothing compared')
    return paint.yellow('nothing compared: not one step was done.');
  return `${paint.green('no difference')} between ${participants.length} participants.`;
}

function participantTable(
  comparison: Comparison,
  { paint, origins }: ComparisonTextOptions,
): string {
  const table = new Table({
    head: ['participant', 'from', 'scripts', 'steps'].map(paint.bold),
    colAligns: ['left', 'left', 'right', 'right'],
    style: { head: [], border: [], compact: true },
  });
  for (const name of comparison.participants) {
    table.push([
      name,
      origins[name] ?? '',
      countText(comparison.scripts),
      countText(comparison.steps),
    ]);
  }
  return table.toString();
}

const ends: Readonly<Record<Comparison['end'], string>> = {
  found: 'ended with the first difference',
  steps: 'all steps of the budget done',
  time: 'the time of the budget is used up',
  stopped: 'interrupted',
  script: 'one script replayed',
};

function searchText({
  steps,
  scripts,
  tookMs,
  seed,
  compared,
  fullEvery,
  ignored,
  end,
}: Comparison): string {
  const rate = tookMs > 0 ? `, ${countText((steps / tookMs) * 1000)} steps/s` : '';
  const done = `${countText(steps)} steps in ${countText(scripts)} script${scripts === 1 ? '' : 's'}, ${(tookMs / 1000).toFixed(1)} s${rate}, seed ${seed} (${ends[end]}).`;
  const left = ignored.length === 0 ? '' : ` Not compared, as asked: ${ignored.join(', ')}.`;
  const full =
    fullEvery === 1
      ? ''
      : `\nParts that stayed the same objects on both sides were compared again at every ${fullEvery}th step only.`;
  return `${done}\nCompared after every step: ${compared.join(', ')}.${left}${full}`;
}

/** At most this many places that were not reached are printed. */
const mostMissing = 12;

function coverageText({ coverage }: Comparison, paint: Paint): string {
  const { reached, total, missing } = coverage;
  const head = `Reached ${reached} of ${total} outcomes of actions and steps${missing.length === 0 ? '.' : '; never reached:'}`;
  const rows = missing
    .slice(0, mostMissing)
    .map(({ id, span }) => `  ${id.padEnd(38)} ${paint.dim(placeText(span))}`);
  if (missing.length > mostMissing) rows.push(`  and ${missing.length - mostMissing} more`);
  return [head, ...rows].join('\n');
}

function differenceText(
  difference: ShrunkDifference,
  { participants, seed }: Comparison,
  application: Application,
  { paint, savedAs, replayCommand }: ComparisonTextOptions,
): string {
  const { script, step, foundAfter, action } = difference;
  const found =
    script.steps.length < foundAfter
      ? `found after ${foundAfter} steps, shrunk to ${script.steps.length}`
      : `${script.steps.length} steps`;
  const head = `${paint.red('different')}  ${paint.bold(difference.participant)} differs from the ${participants[0] ?? ''} after step ${step + 1} (${action}).`;
  const steps = script.steps.map((one, i) => stepText(one, i, i === step, paint));
  const place = placeOfAction(application, action);
  return [
    head,
    '',
    `The script (seed ${seed}, ${found}):`,
    ...steps,
    '',
    `What differs: ${paint.bold(difference.what)}${difference.at === '' ? '' : ` at ${difference.at}`}`,
    sideBySide(difference, participants[0] ?? '', paint),
    ...(place === undefined ? [] : ['', `In the schema: ${placeText(place)}  ${action}`]),
    ...(savedAs === undefined ? [] : [`Saved as:      ${savedAs}`]),
    ...(replayCommand === undefined ? [] : [`Replay it:     ${paint.cyan(replayCommand)}`]),
  ].join('\n');
}

function stepText(
  { send, payload, fill }: ScriptStep,
  i: number,
  isLast: boolean,
  paint: Paint,
): string {
  const mark = isLast ? paint.red('>') : ' ';
  const from = Object.values(fill ?? {}).map((pointer) => paint.dim(` from ${pointer}`));
  const value = payload === undefined ? '' : valueText(payload, 90);
  return `${mark} ${String(i + 1).padStart(2)}  ${send.padEnd(18)} ${value}${from.join('')}`;
}

/** How wide one side of a difference is, in columns. */
const side = 46;

function sideBySide(
  { expected, actual, participant }: ShrunkDifference,
  reference: string,
  paint: Paint,
): string {
  const table = new Table({
    head: [paint.green(reference), paint.red(participant)],
    style: { head: [], border: [] },
    colWidths: [side + 2, side + 2],
  });
  table.push([valueLines(expected, side).join('\n'), valueLines(actual, side).join('\n')]);
  return table.toString();
}

function placeOfAction(application: Application, action: string): Span | undefined {
  const [store, name] = action.split('.');
  return application.stores
    .find((other) => other.name === store)
    ?.actions.find((other) => other.name === name)?.span;
}
