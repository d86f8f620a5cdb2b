import Table from 'cli-table3';
import type { Paint } from '../../report/paint.js';
import type { CodeRun } from '../comparison.js';
import { mostItems, seenInWalks } from '../search/expansion.js';
import { levelsForTask } from '../search/walk.js';
import type { WayKind } from '../../model/way-told.js';
import type { ObservedClass } from '../../model/observed-class.js';
import type { ComparisonJson, DifferenceJson, WalkJson } from './comparison-json.js';
import type { PlaceJson } from '../../report/place-json.js';
import { differenceText, type ComparisonTextOptions } from './difference-text.js';
import { notCompared } from './not-compared-text.js';
import { fittingWidths } from '../../report/table-widths.js';
import { counted, countText } from '../../report/value-text.js';

/** The result of a comparison as people read it. */
export function comparisonText(comparison: ComparisonJson, options: ComparisonTextOptions): string {
  const { difference, walks } = comparison;
  if (options.isBrief === true) return briefText(comparison, options);
  if (difference !== null)
    return [
      differencesText(difference, comparison, options),
      [searchText(comparison), ...notCompared(comparison, options.paint)].join('\n'),
    ].join('\n\n');
  return [
    verdictText(comparison, options.paint),
    participantTable(comparison, options),
    searchText(comparison),
    ...(walks.length === 0 ? [] : [walksText(comparison)]),
    coverageText(comparison, options.paint),
    ...comparison.code.map((code) => codeText(code, options.paint)),
  ].join('\n\n');
}

/** The first difference, and those of other causes, each under its number. */
function differencesText(
  first: DifferenceJson,
  comparison: ComparisonJson,
  options: ComparisonTextOptions,
): string {
  const all = [first, ...comparison.alsoFound];
  if (all.length === 1) return differenceText(first, comparison, options);
  const { paint, replayCommands = [] } = options;
  const shown = all.map((difference, i) => {
    const { scripts } = difference;
    const by = `shown by ${countText(scripts)} script${scripts === 1 ? '' : 's'}`;
    return [
      paint.bold(`Difference ${i + 1} of ${all.length}, ${by}`),
      differenceText(difference, comparison, {
        ...options,
        replayCommands: replayCommands.slice(i),
      }),
    ].join('\n');
  });
  const head = `${paint.red(`${all.length} differences`)} of different causes: another action, place or class each.`;
  return [head, ...shown].join('\n\n');
}

/** The result in a few lines. */
function briefText(comparison: ComparisonJson, options: ComparisonTextOptions): string {
  const { difference, coverage } = comparison;
  if (difference !== null) return differencesText(difference, comparison, options);
  const [searched = ''] = searchText(comparison).split('\n');
  const reached = `Reached ${coverage.reached} of ${coverage.total} outcomes, decisions and changes.`;
  return [verdictText(comparison, options.paint), searched, reached].join('\n');
}

/** If more than this share of what can happen, or of the ways of code, was never reached, the first line says so. */
const muchMissing = 0.05;

function verdictText(comparison: ComparisonJson, paint: Paint): string {
  const { verdict, participants, steps, coverage, code, end } = comparison;
  if (verdict === 'nothing compared') return paint.yellow('nothing compared: no step was done.');
  const { total, missing } = coverage;
  const isLittle =
    missing.length > total * muchMissing ||
    missing.some(({ id }) => id.endsWith(' done')) ||
    code.some(({ ways, never }) => never.length > ways * muchMissing);
  const never = [
    ...(missing.length === 0 ? [] : [`${missing.length} of ${total} outcomes`]),
    ...code.flatMap((one) =>
      one.never.length === 0
        ? []
        : [`${one.never.length} of ${one.ways} branches of ${one.participant}`],
    ),
  ];
  const left = never.length === 0 ? '' : `; ${never.join(' and ')} never reached`;
  const spared = participants.map(({ notSent }) => notSent.payloads + notSent.answers);
  const passedOver = end === 'script' ? Math.max(0, ...spared) : 0;
  if (passedOver > 0)
    return `${paint.yellow(`no difference in ${countText(steps)} steps`)}; ${countText(passedOver)} of the script passed over, since what they send does not fit (see below).`;
  const blanks = participants.reduce((sum, { unfilled }) => sum + unfilled.length, 0);
  if (blanks > 0)
    return `${paint.yellow(`no difference in ${countText(steps)} steps`)}; ${countText(blanks)} line${blanks === 1 ? ' is' : 's are'} not filled in yet (see below)${left}.`;
  if (!isLittle && end !== 'time' && end !== 'stopped')
    return `${paint.green('no difference')} between ${participants.length} participants in ${countText(steps)} steps${left}.`;
  const { budget } = comparison;
  const share = Math.floor((100 * steps) / budget);
  const done =
    end === 'time' || end === 'stopped'
      ? `${countText(steps)} steps, ${share} % of ${countText(budget)}`
      : `${countText(steps)} steps`;
  return `${paint.yellow(`no difference in ${done}`)}${left}.\n${moreText(comparison)}`;
}

/** What to do for a result that says more. */
function moreText({ end, steps, coverage }: ComparisonJson): string {
  if (end === 'stopped') return 'The search was interrupted: run it again to its end.';
  if (end === 'time') return 'Time was up: give it more with --seconds.';
  if (coverage.missing.some(({ id }) => id.endsWith(' done')))
    return `Some actions were never done: try more with --steps ${steps * 5}, or see below what they need.`;
  return `Try --steps ${steps * 5}, or add a script that gets there to a folder for --corpus; see below.`;
}

function participantTable(
  comparison: ComparisonJson,
  { paint, origins }: ComparisonTextOptions,
): string {
  const { participants } = comparison;
  const rows = participants.map(({ name }) => [name, origins.get(name) ?? ''] as const);
  const widths = fittingWidths(['participant', 'from'], rows, paint.columns);
  const table = new Table({
    head: ['participant', 'from'].map(paint.bold),
    style: { head: [], border: [], compact: true },
    ...(widths === undefined
      ? {}
      : { colWidths: widths, wordWrap: true, wrapOnWordBoundary: false }),
  });
  table.push(...rows.map((row) => [...row]));
  return [table.toString(), ...notCompared(comparison, paint)].join('\n');
}

const ends: Readonly<Record<ComparisonJson['end'], string>> = {
  found: 'ended with a difference',
  steps: 'all steps of the budget done',
  closed: 'nothing is left to try',
  depth: 'every sequence up to the depth tried',
  time: 'out of time, so a repetition may try more or less',
  stopped: 'interrupted',
  script: 'one script replayed',
};

function searchText(comparison: ComparisonJson): string {
  const { steps, scripts, tookMs, seed, shard, compared, fullEvery, ignored, end, walks } =
    comparison;
  const { around, alone } = comparison;
  const rate = tookMs > 0 ? `, ${countText((steps / tookMs) * 1000)} steps/s` : '';
  const share = shard === undefined ? '' : `, share ${shard}`;
  const walked = walks.reduce((sum, walk) => sum + walk.steps, 0);
  const inScripts = `in ${countText(scripts)} script${scripts === 1 ? '' : 's'}`;
  const near = around === 0 ? '' : `, ${countText(around)} in states that these led to`;
  const some =
    walked === 0
      ? ` ${inScripts}`
      : `, ${countText(steps - walked - around)} of them ${inScripts}${near}`;
  const toCorners =
    alone === 0
      ? ''
      : `\n${countText(alone)} more were done with the reference alone to get to corners; five of them cost as much as one.`;
  const done = `${countText(steps)} steps${scripts === 0 ? '' : some}, ${(tookMs / 1000).toFixed(1)} s${rate}, seed ${seed}${share} (${ends[end]}).${toCorners}`;
  const left = ignored.length === 0 ? '' : ` Not compared, as asked: ${ignored.join(', ')}.`;
  if (fullEvery === 1) return `${done}\nCompared after every step: ${compared.join(', ')}.${left}`;
  // A search of a small scope alone says below what it compares.
  if (steps > 0 && steps === walked) return left === '' ? done : `${done}\n${left.trim()}`;
  const isSeldom = (what: ObservedClass) => what === 'identity' || what === 'snapshots';
  const seldom = compared.filter(isSeldom);
  const often = compared.filter((what) => !isSeldom(what));
  const less = seldom.length === 0 ? '' : `; ${seldom.join(', ')} after every ${fullEvery}th`;
  const where = walks.length === 0 ? 'after every step' : 'in random scripts after every step';
  return `${done}
Compared ${where}: ${often.join(', ')}${less}.${left}
Parts that stayed the same objects on both sides, and all of quiet scripts, after every ${fullEvery}th only.`;
}

/** What can be said of a walk that ended early. */
const claims = ['the budget ran out before every first input was tried', 'every single input'];

/** What was tried exhaustively, and how far that holds. */
function walksText({ walks, compared }: ComparisonJson): string {
  const rows = (by: WalkJson['by']) =>
    walks.filter((walk) => walk.by === by && walk.task === null).map(walkText);
  const isAsked = ({ transitions, isClosed }: WalkJson) => transitions > 0 || !isClosed;
  const sequences = rows('sequence');
  const orders = walks.filter((walk) => walk.task !== null && isAsked(walk)).map(walkText);
  const seen = compared.filter((what) => seenInWalks.includes(what)).join(', ');
  return [
    `Tried without gaps, with a few payloads for each action, comparing ${seen}:`,
    ...rows('state'),
    ...(sequences.length === 0
      ? []
      : ['and after every sequence of inputs that change something, even if it leads back:']),
    ...sequences,
    ...(orders.length === 0
      ? []
      : ['and of two runs of each task, with answers, failures, cancels and time in every order:']),
    ...orders,
  ].join('\n');
}

function walkText(walk: WalkJson) {
  const { store, task, by, states, transitions, depth, begunAfter } = walk;
  const { isClosed, isBounded, isEntered } = walk;
  const whose = task === null ? (store ?? 'all stores') : `${store ?? ''}.${task}`;
  const scope = isBounded ? ` (lists of up to ${mostItems} items)` : '';
  const goneThrough = isClosed
    ? 'nothing left to try'
    : (claims[depth] ?? `every sequence of ${depth} inputs`);
  const isVain = !isEntered && (isClosed || (task !== null && depth >= levelsForTask));
  const claim = isVain ? notEntered(walk) : goneThrough;
  // Counts of nothing would say that something was tried.
  if (transitions === 0 && isVain) return `  ${whose.padEnd(task === null ? 12 : 24)} ${claim}`;
  const where =
    by === 'state' ? `in ${counted(states, 'state')}` : `after ${counted(states, 'sequence')}`;
  const begun = begunAfter === 0 ? '' : `, begun after ${counted(begunAfter, 'step')}`;
  return `  ${whose.padEnd(task === null ? 12 : 24)} ${countText(transitions).padStart(7)} inputs ${where}${begun}: ${claim}${scope}`;
}

/** Why nothing was done in a scope. */
function notEntered({ task, transitions }: WalkJson): string {
  if (transitions === 0) return 'not entered, since nothing can be sent';
  return task === null
    ? 'not entered, since nothing that was sent changed anything'
    : 'not entered, since it could not be started from the beginning';
}

/** At most this many places that were not reached are printed. */
const mostMissing = 10;
/** How wide the column with their names is, in characters. */
const leastOfId = 46;
const mostOfId = 64;

function coverageText({ coverage }: ComparisonJson, paint: Paint): string {
  const { reached, total, missing } = coverage;
  const head = `Reached ${reached} of ${total} outcomes, decisions and changes${missing.length === 0 ? '.' : '; never reached:'}`;
  const shown = missing.slice(0, mostMissing);
  const width = Math.min(mostOfId, Math.max(leastOfId, ...shown.map(({ id }) => id.length)));
  const rows = shown.map(
    ({ id, ...place }) => `  ${id.padEnd(width)} ${paint.dim(placeText(place))}`,
  );
  if (missing.length > mostMissing) rows.push(`  and ${missing.length - mostMissing} more`);
  return [head, ...rows, ...boundsText(coverage.bounds), ...cornersText(coverage.corners)].join(
    '\n',
  );
}

/** How many of the sides of corners were met. */
function cornersText({ met, never }: ComparisonJson['coverage']['corners']): readonly string[] {
  const all = met + never.length;
  if (all === 0) return [];
  return [
    `Met ${met} of ${all} corners: numbers equal or off by one, lists of which some items match, values stored over others.`,
  ];
}

/** At most this many bounds that nothing broke are printed. */
const mostBounds = 4;

/** Which bounds of stored values have refused something. */
function boundsText({ broken, never }: ComparisonJson['coverage']['bounds']): readonly string[] {
  if (broken + never.length === 0) return [];
  const all = broken + never.length;
  if (never.length === 0)
    return [
      all === 1
        ? 'The only bound of stored values refused something.'
        : `All ${all} bounds of stored values refused something.`,
    ];
  const shown = never.slice(0, mostBounds).map(({ id }) => id.replace(/-refused$/, ''));
  if (never.length > mostBounds) shown.push(`and ${never.length - mostBounds} more`);
  const head =
    all === 1
      ? 'The only bound of stored values never refused anything, perhaps since nothing can break it:'
      : `Of ${all} bounds of stored values, ${broken} refused something. The others never did, perhaps since nothing can break them:`;
  return [head, `  ${shown.join(', ')}`];
}

/** At most this many ways that code never went are printed. */
const mostNever = 12;

/** What of the code of a participant never ran. */
function codeText({ participant, ways, never }: CodeRun, paint: Paint): string {
  if (never.length === 0)
    return ways === 1
      ? `The only branch of ${participant} was run.`
      : `All ${ways} branches of ${participant} were run.`;
  const head =
    ways === 1
      ? `The only branch of ${participant} never ran: a difference there cannot show.`
      : `Of ${ways} branches of ${participant}, ${never.length} never ran: a difference there cannot show.`;
  const rows = never.slice(0, mostNever).map(({ kind, file, line, column }) => {
    const place = `${file}:${line}:${column}`;
    return `  ${place.padEnd(46)} ${paint.dim(neverTexts[kind])}`;
  });
  if (never.length > mostNever) rows.push(`  and ${never.length - mostNever} more`);
  return [head, ...rows].join('\n');
}

/** What it means that code never went a way. */
const neverTexts: Readonly<Record<WayKind, string>> = {
  function: 'never called',
  'condition true': 'the condition is never true',
  'condition false': 'the condition is never false',
  'left true': 'the left side is never true',
  'left false': 'the left side is never false',
  'value given': 'there is never a value before ??',
  'value missing': 'there is always a value before ??',
  case: 'never this case',
  loop: 'the loop is never entered',
  catch: 'nothing is ever thrown',
};

function placeText({ file, line, column }: PlaceJson): string {
  return `${file}:${line}:${column}`;
}
