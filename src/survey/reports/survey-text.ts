import type { Paint } from '../../report/paint.js';
import type { PlaceLeft, Survey, SurveyPlace, UnknownName } from '../survey-result.js';
import { counted, countText, wrappedNames } from '../../report/value-text.js';

/** A survey as people read it: how much is left; then what, by module and by member, what is wrong, what nobody can tell. */
export function surveyText(survey: Survey, paint: Paint, isBrief = false): string {
  const blocks = [
    verdict(survey, paint),
    isBrief ? '' : modulesText(survey, paint),
    isBrief ? '' : membersText(survey, paint),
    listed(
      `Can be deleted: nothing uses it any more${survey.unclear.length === 0 ? '' : ', unless a place that could not be resolved does'}`,
      deletableLines(survey, paint),
      paint,
    ),
    listed(
      'Not needed any more in these modules',
      survey.leftBehind.map((one) => `${placeText(one)}  ${one.what} ${paint.bold(one.name)}`),
      paint,
    ),
    listed(
      'Wrong at the new stores',
      survey.slips.map(
        (one) => `${placeText(one)}  ${paint.red(one.kind)}  ${one.message} ${paint.dim(one.hint)}`,
      ),
      paint,
    ),
    listed(
      'Could not be resolved: look there yourself',
      survey.unclear.map((one) => `${placeText(one)}  ${paint.yellow(one.message)}`),
      paint,
    ),
    listed(
      'Not read',
      survey.notRead.map(({ path, reason }) => `${path}  ${paint.yellow(reason)}`),
      paint,
    ),
    listed(
      'Names of the participant file that lead nowhere',
      survey.unknownNames.map((one) => nameLine(one, paint)),
      paint,
    ),
  ];
  return blocks.filter((block) => block !== '').join('\n\n');
}

/** A name that leads nowhere, with what was probably meant. */
function nameLine({ name, in: where, nearest }: UnknownName, paint: Paint): string {
  const what =
    where === 'old' ? 'the old store has no such name' : 'the new stores have no such name';
  return `${paint.yellow(name)}  ${what}${nearest === null ? '' : `. Did you mean '${nearest}'?`}`;
}

const placeText = ({ module, line, column }: SurveyPlace): string => `${module}:${line}:${column}`;

/** Whole declarations with their place; members without what they belong to, on as few lines as will do. */
function deletableLines({ deletable }: Survey, paint: Paint): readonly string[] {
  const gone = new Set(deletable.map(({ member }) => member));
  const ownerOf = (member: string) => member.split('.').slice(0, -1).join('.');
  const whole = deletable.filter(({ member }) => !member.includes('.'));
  const members = deletable.filter(
    ({ member }) => member.includes('.') && !gone.has(ownerOf(member)),
  );
  const owners = [...new Set(members.map(({ member }) => ownerOf(member)))];
  return [
    ...whole.map((one) => `${placeText(one)}  ${one.member}`),
    ...owners.map((owner) => {
      const own = members
        .filter(({ member }) => ownerOf(member) === owner)
        .map(({ member }) => member.slice(owner.length + 1));
      const start = `${owner}: `;
      return `${start}${wrappedNames(own, paint.columns - start.length - 4, start.length + 2)}`;
    }),
  ];
}

function listed(title: string, lines: readonly string[], paint: Paint): string {
  return lines.length === 0
    ? ''
    : [paint.bold(title), ...lines.map((line) => `  ${line}`)].join('\n');
}

/** How a place says what it does. */
const kindTexts: Readonly<Record<PlaceLeft['kind'], string>> = {
  read: 'reads',
  write: 'writes',
  call: 'calls',
  type: 'type',
  whole: 'hands on',
};

function modulesText({ modules, left }: Survey, paint: Paint): string {
  const blocks = modules.map(({ module, left: count, moved }) => {
    const own = left.filter((place) => place.module === module);
    const places = own.map(({ line, column }) => `${line}:${column}`);
    const at = Math.max(...places.map((text) => text.length), 0);
    const name = Math.max(...own.map(({ member }) => member.length), 0);
    const lines = own.map(({ kind, member, instead }, i) =>
      [
        `  ${(places[i] ?? '').padStart(at)}`,
        kindTexts[kind].padEnd(8),
        instead === null ? member : member.padEnd(name),
        ...(instead === null ? [] : [paint.green(instead)]),
      ].join('  '),
    );
    const head =
      count === 0
        ? `${paint.bold(module)}  ${paint.green('moved')}`
        : `${paint.bold(module)}  ${count} left${moved === 0 ? '' : `, ${moved} moved`}`;
    return [head, ...lines].join('\n');
  });
  return blocks.join('\n');
}

function membersText({ members }: Survey, paint: Paint): string {
  if (members.length === 0) return '';
  const name = Math.max(...members.map(({ member }) => member.length));
  const hasNames = members.some((one) => one.is !== null);
  const is = Math.max(7, ...members.map((one) => (one.is ?? '').length));
  const lines = members.map(({ member, is: own, uses, modules }) => {
    const kinds = Object.entries(uses)
      .filter(([, count]) => count > 0)
      .map(([kind, count]) => `${count} ${kind}`)
      .join(', ');
    const to = own === null ? paint.yellow('no name'.padEnd(is)) : paint.green(own.padEnd(is));
    return `  ${member.padEnd(name)}  ${hasNames ? `${to}  ` : ''}${kinds} in ${counted(modules.length, 'module')}`;
  });
  return [paint.bold('By member'), ...lines].join('\n');
}

/** The last lines: how far the port is, and what may be left besides. */
function verdict(survey: Survey, paint: Paint): string {
  const { left, moved, modules, slips, unclear, notRead, read } = survey;
  const busy = modules.filter((one) => one.left > 0).length;
  const isSure = unclear.length + notRead.length === 0;
  const none = isSure ? paint.green('nothing left') : paint.yellow('nothing found');
  const head =
    left.length === 0
      ? `${none}  No place of ${counted(read, 'module')} uses the old store${isSure ? '' : ', as far as they could be read'}.`
      : `${paint.yellow('left')}  ${countText(moved)} of ${counted(left.length + moved, 'place')} moved; ${countText(left.length)} left in ${counted(busy, 'module')} of ${countText(read)}.`;
  const more = [
    [slips.length, 'place', 'wrong at the new stores', paint.red],
    [unclear.length, 'place', 'could not be resolved', paint.yellow],
    [notRead.length, 'file', 'could not be read', paint.yellow],
  ] as const;
  return [
    head,
    ...more
      .filter(([count]) => count > 0)
      .map(([count, what, why, colour]) => colour(`${counted(count, what)} ${why}.`)),
  ].join('\n');
}
