import { storeNamed, type Application } from '../../model/application.js';
import type { CoverPoint } from '../../model/cover-points.js';
import { readByDerived } from '../../model/footprint.js';
import type { Participant } from '../../model/participant.js';
import type { WayTold } from '../../model/way-told.js';
import type { Random } from '../../base/random.js';
import { isSend, type SendStep } from '../script.js';
import { lastDeedOf } from '../deed-of.js';
import { sentTo } from '../missed.js';
import type { Near } from '../reached.js';
import type { KeptScript } from '../searching.js';
import { longestPath } from './approach.js';
import { canLookAhead, type LookAheadItem } from './look-ahead.js';
import { scriptTo } from './planned-script.js';
import type { ScoutItem } from './scout.js';
import type { ShortenItem } from './shorten.js';
import type { Goal } from './goal.js';
import { Preparing } from './preparing.js';

/** Where goals come from. */
interface GoalSources {
  readonly application: Application;
  readonly participants: readonly Pick<Participant, 'has' | 'refusesMisfits' | 'judgesAnswers'>[];
  readonly points: readonly CoverPoint[];
  readonly ways?: readonly WayTold[];
}

/** How many of the points that were reached are rare. */
const mostRare = 12;
/** How often one point is looked ahead for, how many at once, and how many inputs are tried then. */
const mostTries = 12;
const looksAtOnce = 3;
const inputsAtOnce = 1500;
/** From how many states that lie on the way it is looked, and how far away these may be. */
const mostStarts = 3;
const longestWay = 60;

/** Where it cannot be looked ahead: for how many points at once scripts are tried, and how many for each. */
const scoutsAtOnce = 8;
const scoutedScripts = 8;
/** How many scripts that reach something rare are made shorter at once, if they have more steps than that. */
const shortenedAtOnce = 6;
const shortEnough = 3;

/** Where to look from: the start, what came nearest, and what ends with something that prepares the goal. */
function startsFor(
  goals: readonly Goal[],
  kept: readonly KeptScript[],
  random: Random,
): readonly (readonly SendStep[])[] {
  const names = new Set<string | undefined>(
    goals.flatMap(({ name, levels: [first = []] }) => [name, ...first]),
  );
  const preparing = kept.filter(({ steps }) => names.has(lastDeedOf(steps)));
  const nearest = goals.flatMap(({ nearest: script }) => script ?? []);
  // What was the first to do something got furthest.
  const first = preparing.filter(({ reaches }) => reaches.length > 0).slice(-mostStarts);
  const picked = preparing.length === 0 ? [] : [random.pick(preparing), random.pick(preparing)];
  const ends: readonly Pick<KeptScript, 'steps'>[] = [
    { steps: [] },
    ...nearest,
    ...first,
    ...picked,
  ];
  return ends.map(({ steps }) => steps.filter(isSend)).filter(({ length }) => length <= longestWay);
}

/** True if a script comes nearer than another, or as near in fewer steps. */
function isBetter(
  { far, script }: Pick<Nearest, 'far' | 'script'>,
  known: Pick<Nearest, 'far' | 'script'>,
): boolean {
  if (far !== known.far) return far < known.far;
  return script.steps.length < known.script.steps.length;
}

/** What came nearest to a point, by its place. */
export interface Nearest {
  readonly index: number;
  readonly far: number;
  readonly script: KeptScript;
  readonly goals: readonly Goal[];
}

/** What was never reached, as goals: worked out from what the schema and the code look at. */
export class Goals {
  readonly #sources: GoalSources;
  readonly #preparing: Preparing;
  readonly #names: readonly string[];
  readonly #isSent: (point: CoverPoint) => boolean;
  /** The script that came nearest to a point that was not reached, and how near. */
  readonly #nearest = new Map<number, { readonly far: number; readonly script: KeptScript }>();
  /** How often each point was looked ahead for since something new was reached, and how much was reached then. */
  readonly #tries = new Map<number, number>();
  #reachedThen = 0;
  /** The shortest script that reached a point, as far as that was tried, and how often it was reached. */
  readonly #reachedBy = new Map<number, KeptScript>();
  readonly #hits = new Map<number, number>();
  /** The scripts that were made shorter, as far as that was soon found out. */
  readonly #shortened = new Set<KeptScript>();
  /** The script that first went a way of code. */
  readonly #wentFirst = new Map<number, KeptScript>();

  /** `names`: the actions and tasks that can be done. */
  constructor(sources: GoalSources, names: readonly string[]) {
    this.#sources = sources;
    this.#preparing = new Preparing(sources.application);
    this.#names = names;
    this.#isSent = sentTo(sources.participants);
  }

  /** Takes note of a script; gives whether it came nearer to something than any before. */
  note(script: KeptScript): boolean {
    for (const way of script.gone ?? [])
      if (!this.#wentFirst.has(way)) this.#wentFirst.set(way, script);
    for (const index of [...script.reaches, ...(script.led ?? [])])
      if (!this.#reachedBy.has(index)) this.#reachedBy.set(index, script);
    const { again } = script;
    const known = again === undefined ? undefined : this.#reachedBy.get(again);
    if (again !== undefined && known !== undefined && script.steps.length < known.steps.length)
      this.#reachedBy.set(again, script);
    let isNearer = false;
    for (const [index, far] of script.near ?? []) {
      const known = this.#nearest.get(index);
      const isCorner = this.#sources.points[index]?.corner !== undefined;
      // There are many corners, and long scripts are not gone on from.
      if (isCorner && script.steps.length > longestPath) continue;
      if (known !== undefined && !isBetter({ far, script }, known)) continue;
      this.#nearest.set(index, { far, script });
      // What comes nearer to a corner is of use for nothing else.
      isNearer ||= !isCorner;
    }
    return isNearer;
  }

  /** Counts after how many steps points were reached. */
  count(hits: readonly (readonly [index: number, count: number])[]): void {
    for (const [index, count] of hits) this.#hits.set(index, (this.#hits.get(index) ?? 0) + count);
  }

  /** What scripts have led to, by its place. */
  get led(): readonly number[] {
    return [...this.#reachedBy.keys()];
  }

  /** How near scripts came. */
  get nearest(): readonly Near[] {
    return [...this.#nearest].map(([index, { far }]) => [index, far]);
  }

  /** What came nearest to points that nothing led to, with what they ask for. */
  near(isMeant: (point: CoverPoint) => boolean): readonly Nearest[] {
    const { points } = this.#sources;
    return [...this.#nearest].flatMap(([index, { far, script }]) => {
      const point = points[index];
      if (point === undefined || this.#reachedBy.has(index) || !isMeant(point)) return [];
      return [{ index, far, script, goals: this.#ofPoint(point, index) }];
    });
  }

  /** What is left to be reached: points by place, and ways of code. */
  left(reached: ReadonlySet<number>, gone: ReadonlySet<number>): readonly Goal[] {
    const { points, ways = [] } = this.#sources;
    const ofPoints = points.flatMap((point, i) =>
      reached.has(i) || point.corner !== undefined || !this.#isSent(point)
        ? []
        : this.#ofPoint(point, i),
    );
    const ofWays = ways.flatMap(({ way, within, isGone }) =>
      isGone || gone.has(way) ? [] : this.#ofWay(within),
    );
    return [...ofPoints, ...ofWays];
  }

  /** What was reached least often, each with a script that does: what hides there is seldom looked at. */
  rare(): readonly Goal[] {
    const { points } = this.#sources;
    return [...this.#reachedBy]
      .filter(([index]) => points[index]?.corner === undefined)
      .map(([index, script]) => ({
        index,
        script,
        goals: this.#ofPoint(points[index] as CoverPoint, index),
      }))
      .filter(({ goals }) => goals.length > 0)
      .sort((a, b) => (this.#hits.get(a.index) ?? 0) - (this.#hits.get(b.index) ?? 0))
      .slice(0, mostRare)
      .flatMap(({ index, script, goals }) =>
        goals.map((goal) => ({ ...goal, nearest: script, point: index })),
      );
  }

  /** The shortest known script that does an action, or starts a task; `undefined` if none is known. */
  doing(isMeant: (name: string) => boolean): Pick<ShortenItem, 'script' | 'point'> | undefined {
    const known = this.#sources.points.flatMap(({ id }, point) => {
      const [, name = ''] = /^(\w+\.\w+)(?:\.start)? done$/.exec(id) ?? [];
      const script = isMeant(name) ? this.#reachedBy.get(point) : undefined;
      return script === undefined ? [] : [{ script, point }];
    });
    const length = ({ script }: { readonly script: KeptScript }) => script.steps.length;
    return known.sort((a, b) => length(a) - length(b))[0];
  }

  /** What reaches something rare, to be made shorter: once each. */
  shortenings(): readonly ShortenItem[] {
    const items = this.rare().flatMap(({ point = 0, nearest: script }): readonly ShortenItem[] => {
      const isLong = script !== undefined && script.steps.length > shortEnough;
      return isLong && !this.#shortened.has(script) ? [{ kind: 'shorten', script, point }] : [];
    });
    const next = items.slice(0, shortenedAtOnce);
    for (const { script } of next) this.#shortened.add(script);
    return next;
  }

  /** Where to look ahead next: a few points that were never reached, those first that were tried least. */
  looks(
    reached: ReadonlySet<number>,
    kept: readonly KeptScript[],
    random: Random,
  ): readonly (LookAheadItem | ScoutItem)[] {
    const { points, application } = this.#sources;
    if (reached.size > this.#reachedThen) this.#tries.clear();
    this.#reachedThen = reached.size;
    const tries = (point: number) => this.#tries.get(point) ?? 0;
    const open = points
      .map((point, i) => ({
        i,
        goals:
          reached.has(i) || point.corner !== undefined || !this.#isSent(point)
            ? []
            : this.#ofPoint(point, i),
      }))
      .filter(({ i, goals }) => goals.length > 0 && tries(i) < mostTries)
      .sort((a, b) => tries(a.i) - tries(b.i));
    const looksAhead = canLookAhead(application);
    return open.slice(0, looksAhead ? looksAtOnce : scoutsAtOnce).map(({ i, goals }) => {
      this.#tries.set(i, tries(i) + 1);
      const seed = random.below(2 ** 31);
      if (!looksAhead) {
        const scripts = Array.from({ length: scoutedScripts }, (_, number) =>
          scriptTo(random.pick(goals), number, kept, random),
        );
        return { kind: 'scout', seed, point: i, scripts };
      }
      return {
        kind: 'look ahead',
        seed,
        point: i,
        names: goals.flatMap(({ name }) => name ?? []),
        by: goals.flatMap(({ levels }) => levels.flat()),
        from: startsFor(goals, kept, random),
        inputs: inputsAtOnce,
      };
    });
  }

  /** What a point asks for: its action or task, or what its place belongs to. */
  #ofPoint(point: CoverPoint, index: number): readonly Goal[] {
    const { id, action, task, isMisfit, mayBeRuledOut } = point;
    // What does not fit is refused anywhere, and what may be impossible is not gone to: nothing leads there.
    if (isMisfit === true || mayBeRuledOut === true) return [];
    const nearest = this.#nearest.get(index)?.script;
    const name = action ?? task;
    if (name !== undefined) return this.#named(name, nearest);
    const [, store = '', part = '', place] = /^(\w+)\.(\w+)(?:\[(\d+)\])?/.exec(id) ?? [];
    if (place === undefined) return this.#named(`${store}.${part}`, nearest);
    const { stores } = this.#sources.application;
    const reaction = stores.find((one) => one.name === store)?.reactions[Number(place)];
    return (reaction?.to ?? []).flatMap((to) =>
      this.#named(`${to.store}.${to.action.split('.')[0] ?? ''}`, nearest),
    );
  }

  /** What a way of code asks for: what first went the way around it. */
  #ofWay(within: readonly number[]): readonly Goal[] {
    const around = within.findLast((outer) => this.#wentFirst.has(outer));
    const script = around === undefined ? undefined : this.#wentFirst.get(around);
    const name = script && lastDeedOf(script.steps);
    return name === undefined ? [] : this.#named(name, script);
  }

  /** The goal of an action, a task or a derived value; nothing if it is none of these. */
  #named(name: string, nearest?: KeptScript): readonly Goal[] {
    if (this.#names.includes(name))
      return [{ name, levels: this.#preparing.before(name), nearest }];
    const { application } = this.#sources;
    const [store = '', derived = ''] = name.split('.');
    if (!application.stores.some((one) => one.name === store)) return [];
    if (!storeNamed(application, store).derived.some((one) => one.name === derived)) return [];
    const { fields } = readByDerived(store, derived, application);
    return [{ name: undefined, levels: this.#preparing.storing(fields) }];
  }
}
