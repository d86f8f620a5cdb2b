import Table from 'cli-table3';
import { placeText, type Paint } from '../diagnostics/render.js';
import type { Span } from '../diagnostics/source.js';
import type { ComparedParticipant, Comparison, ShrunkDifference } from '../explore/compare.js';
import { isSend, type ScriptStep, type SendStep } from '../explore/script.js';
import { mostItems } from '../explore/walk.js';
import type { Application } from '../model/application.js';
import type { ObservedClass } from '../model/participant.js';
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
          ...(comparison.walks.length === 0 ? [] : [walksText(comparison)]),
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
  for (const { name } of comparison.participants) {
    table.push([
      name,
      origins[name] ?? '',
      countText(comparison.scripts),
      countText(comparison.steps),
    ]);
  }
  return [table.toString(), ...comparison.participants.flatMap(notCompared)].join('\n');
}

/** What of a participant could not be compared. */
function notCompared({ name, lacks, without, untold }: ComparedParticipant): string[] {
  return [
    ...(lacks.length === 0
      ? []
      : [`Not compared, since ${name} does not have it: ${lacks.join(', ')}.`]),
    ...(without.length === 0 ? [] : [`Not compared with ${name}: ${without.join(', ')}.`]),
    ...(untold === 0
      ? []
      : [`${name} did not say whether it did or refused an action in ${countText(untold)} steps.`]),
  ];
}

const ends: Readonly<Record<Comparison['end'], string>> = {
  found: 'ended with the first difference',
  steps: 'all steps of the budget done',
  closed: 'nothing is left to try',
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
  if (fullEvery === 1) return `${done}\nCompared after every step: ${compared.join(', ')}.${left}`;
  const isSeldom = (what: ObservedClass) => what === 'identity' || what === 'snapshots';
  const seldom = compared.filter(isSeldom);
  const often = compared.filter((what) => !isSeldom(what));
  const less = seldom.length === 0 ? '' : `; ${seldom.join(', ')} after every ${fullEvery}th`;
  return `${done}
Compared after every step: ${often.join(', ')}${less}.${left}
Parts that stayed the same objects on both sides, and all of quiet scripts, after every ${fullEvery}th only.`;
}

/** What can be said of a walk that ended early. */
const claims = ['not even all inputs of the start', 'every single input'];

/** What was tried exhaustively, and how far that holds. */
function walksText({ walks }: Comparison): string {
  const rows = walks.map(({ store, states, transitions, depth, isClosed, isBounded }) => {
    const scope = isBounded ? ` (lists of up to ${mostItems} items)` : '';
    const claim = isClosed
      ? 'nothing left to try'
      : (claims[depth] ?? `every sequence of ${depth} inputs`);
    return `  ${(store ?? 'all stores').padEnd(12)} ${countText(transitions).padStart(7)} inputs in ${countText(states)} states: ${claim}${scope}`;
  });
  return ['Tried without gaps, with a few payloads for each action:', ...rows].join('\n');
}

/** At most this many places that were not reached are printed. */
const mostMissing = 10;

function coverageText({ coverage }: Comparison, paint: Paint): string {
  const { reached, total, missing } = coverage;
  const head = `Reached ${reached} of ${total} outcomes, decisions and changes${missing.length === 0 ? '.' : '; never reached:'}`;
  const rows = missing
    .slice(0, mostMissing)
    .map(({ id, span }) => `  ${id.padEnd(46)} ${paint.dim(placeText(span))}`);
  if (missing.length > mostMissing) rows.push(`  and ${missing.length - mostMissing} more`);
  return [head, ...rows].join('\n');
}

function differenceText(
  difference: ShrunkDifference,
  { verdict, participants, seed }: Comparison,
  application: Application,
  { paint, savedAs, replayCommand }: ComparisonTextOptions,
): string {
  const { script, step, foundAfter, action } = difference;
  const found =
    script.steps.length < foundAfter
      ? `found after ${foundAfter} steps, shrunk to ${script.steps.length}`
      : `${script.steps.length} steps`;
  const reference = participants[0]?.name ?? '';
  const after = action === '' ? '' : ` (${action})`;
  const head = `${paint.red(verdict)}  ${paint.bold(difference.participant)} differs from the ${reference} after step ${step + 1}${after}.`;
  const steps = script.steps.map((one, i) => stepText(one, i, i === step, paint));
  const place = placeOfAction(application, action);
  return [
    head,
    ...(verdict === 'not repeatable' ? [notRepeatable] : []),
    '',
    `The script (seed ${seed}, ${found})${script.quiet === true ? quietly : ''}:`,
    ...steps,
    '',
    `What differs: ${paint.bold(difference.what)}${difference.at === '' ? '' : ` at ${difference.at}`}${meanings[difference.what]}`,
    sideBySide(difference, reference, paint),
    ...(place === undefined ? [] : ['', `In the schema: ${placeText(place)}  ${action}`]),
    ...(savedAs === undefined ? [] : [`Saved as:      ${savedAs}`]),
    ...(replayCommand === undefined ? [] : [`Replay it:     ${paint.cyan(replayCommand)}`]),
  ].join('\n');
}

const notRepeatable =
  'Done again, the same script showed no difference: the participant does not always answer the same.';

/** What is special about a quiet script. */
const quietly = ', looked at now and then only';

function stepText(step: ScriptStep, i: number, isLast: boolean, paint: Paint): string {
  const mark = isLast ? paint.red('>') : ' ';
  return `${mark} ${String(i + 1).padStart(2)}  ${doneText(step, paint)}`;
}

function doneText(step: ScriptStep, paint: Paint): string {
  if ('stop' in step) return `stop ${step.stop}`;
  if (isSend(step)) return sendText(step, paint);
  const { watch, as, then } = step;
  const does =
    then === undefined
      ? ''
      : then === 'throw'
        ? ', which throws'
        : `, which sends ${sendText(then, paint)}`;
  return `watch ${watch} as ${as}${does}`;
}

function sendText({ send, payload, fill }: SendStep, paint: Paint): string {
  const from = Object.values(fill ?? {}).map((pointer) => paint.dim(` from ${pointer}`));
  const value = payload === undefined ? '' : valueText(payload, 90);
  return `${send.padEnd(18)} ${value}${from.join('')}`;
}

/** What a difference of a class means, where that is not plain. */
const meanings: Readonly<Record<ObservedClass, string>> = {
  outcome: '',
  state: '',
  derived: '',
  notices: ': the calls of watchers',
  problems: ': what onProblem was told',
  identity: ': parts that are equal to what they were, and yet other objects',
  snapshots:
    ': what was read before has changed since; a store that changes its data in place does that',
};

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
