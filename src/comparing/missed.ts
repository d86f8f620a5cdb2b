import type { CoverPoint } from '../model/cover-points.js';
import type { Abilities, Participant } from '../model/participant.js';
import type { WayTold } from '../model/way-told.js';
import type { Comparison, Coverage } from './comparison.js';

/** Of the code of each participant: how many ways it can go, and which it never went. */
export function codeRun(ways: readonly WayTold[], gone: ReadonlySet<number>): Comparison['code'] {
  const all = new Set([...gone, ...ways.flatMap(({ way, isGone }) => (isGone ? [way] : []))]);
  const names = [...new Set(ways.map(({ participant }) => participant))];
  return names.map((participant) => {
    const own = ways.filter((way) => way.participant === participant);
    const isNever = ({ way, within }: WayTold) =>
      !all.has(way) && within.every((outer) => all.has(outer));
    const never = own
      .filter(isNever)
      .map(({ kind, file, line, column }) => ({ kind, file, line, column }));
    return { participant, ways: own.length, never };
  });
}

/** True if a point can be reached by what is sent to these participants. */
export function sentTo(
  participants: readonly Pick<Participant, 'has' | 'refusesMisfits' | 'judgesAnswers'>[],
): (point: CoverPoint) => boolean {
  const partial = participants.flatMap(({ has }) => (has === undefined ? [] : [has]));
  const takesOnlyFitting = participants.some(({ refusesMisfits }) => refusesMisfits === false);
  const isKept = partial.every(({ classes }) => classes.has('storage'));
  const isThere = ({ fields, actions, tasks, derived }: Abilities, store: string) =>
    [fields, actions, tasks, derived].some((names) =>
      [...names].some((name) => name === store || name.startsWith(`${store}.`)),
    );
  return ({ id, action, task, isMisfit, isStored, mayBeRuledOut }) =>
    partial.every((has) => isThere(has, /^\w+/.exec(id)?.[0] ?? '')) &&
    !(takesOnlyFitting && (isMisfit === true || mayBeRuledOut === true)) &&
    (isStored !== true || isKept) &&
    (action === undefined || partial.every(({ actions }) => actions.has(action))) &&
    (task === undefined || partial.every(({ starts }) => starts.has(task)));
}

/** What of all that can be reached was. What is never sent since somebody lacks it is told as that, and not as missed. */
export function coverageOf(
  points: readonly CoverPoint[],
  reached: ReadonlySet<number>,
  participants: readonly Pick<Participant, 'has' | 'refusesMisfits' | 'judgesAnswers'>[],
): Coverage {
  const isSent = sentTo(participants);
  const isReached = ({ i }: { readonly i: number }) => reached.has(i);
  const everything = points.map((point, i) => ({ point, i }));
  const all = everything.filter(({ point }) => point.corner === undefined);
  const corners = everything.filter(
    ({ point: { corner, mayBeRuledOut } }) => corner !== undefined && mayBeRuledOut !== true,
  );
  const [bounds, others] = [true, false].map((wanted) =>
    all.filter(({ point }) => (point.mayBeRuledOut === true) === wanted),
  ) as [typeof all, typeof all];
  const missed = (some: typeof all) =>
    some.filter((one) => !isReached(one) && isSent(one.point)).map(({ point }) => point);
  const missing = missed(others);
  const count = others.filter(isReached).length;
  return {
    reached: count,
    total: count + missing.length,
    missing,
    bounds: { broken: bounds.filter(isReached).length, never: missed(bounds) },
    corners: { met: corners.filter(isReached).length, never: missed(corners) },
  };
}
