import { addCounts } from '../base/add-counts.js';
import { nextTurn, pause } from '../base/turn.js';
import { causeOf, leakedBy } from './session/late.js';
import type { Expansion, ExpandItem } from './search/expansion.js';
import type { PlannedScript } from './search/planned-script.js';
import { randomScript } from './search/random-scripts.js';
import { lookAhead, type LookAheadItem } from './search/look-ahead.js';
import { expand } from './search/expand.js';
import { scout, type ScoutItem } from './search/scout.js';
import { approach, type ApproachItem } from './search/approach.js';
import { shorten, type ShortenItem } from './search/shorten.js';
import { replay } from './shrinking/replay.js';
import type { Script } from './script.js';
import type { Finding, KeptScript, Known, Searching } from './searching.js';
import { Traits } from './search/traits.js';
import type { Failing } from './shrinking/shrink.js';

/** A random script. */
export interface RandomItem {
  readonly kind: 'random';
  readonly seed: number;
  readonly script: PlannedScript;
}

/** A share of a search that can be done by itself: what it gives depends on nothing but what stands in it. */
export type WorkItem =
  | { readonly kind: 'replay'; readonly script: Script; readonly lateMs?: number }
  | ExpandItem
  | RandomItem
  | LookAheadItem
  | ScoutItem
  | ApproachItem
  | ShortenItem
  /** Waits for what comes late, up to so many milliseconds, as long as timers are running. */
  | { readonly kind: 'settle'; readonly mostMs: number };

/** A script that shows a difference. */
export interface Found extends Failing {
  /** What was done before since the code was loaded, oldest first; not known if not given. */
  readonly earlier?: readonly Script[];
}

export interface WorkResult {
  readonly steps: number;
  /** The number of steps that were done with the first participant alone, and cost something. */
  readonly alone: number;
  /** The number of scripts that were replayed or drawn. */
  readonly scripts: number;
  /** What has been reached, by its place among the cover points. */
  readonly reached: readonly number[];
  /** After how many steps each point was reached, by its place. */
  readonly hits: readonly (readonly [index: number, count: number])[];
  /** The ways that code went for the first time. */
  readonly gone: readonly number[];
  readonly kept: readonly KeptScript[];
  readonly notReported: ReadonlyMap<string, number>;
  readonly found: Found | undefined;
  /** How often known differences have shown: by the name of the participant, and the place in its list. */
  readonly passedOver: ReadonlyMap<string, number>;
  /** Of a share of a walk: what was tried. */
  readonly probing: Pick<Expansion, 'steps' | 'transitions' | 'expanded'> | undefined;
}

/** Does a share of a search. `known` is what was reached before; it ends early if `isOver` says so. */
export async function runWorkItem(
  searching: Searching,
  item: WorkItem,
  known: Known,
  isOver: () => Promise<boolean>,
): Promise<WorkResult> {
  const { reached, ways } = searching;
  reached.restart(known.reached, known.led, known.near);
  ways?.restart(known.gone);
  // Many stores refuse by throwing: nobody looks at where, and taking that down costs more than the rest.
  const { stackTraceLimit } = Error;
  Error.stackTraceLimit = 0;
  try {
    return await doItem(searching, item, known, isOver);
  } finally {
    Error.stackTraceLimit = stackTraceLimit;
  }
}

async function doItem(
  searching: Searching,
  item: WorkItem,
  known: Known,
  isOver: () => Promise<boolean>,
): Promise<WorkResult> {
  const traits = new Traits(searching.application, known.traits);
  const tally = new Tally();
  let probing: WorkResult['probing'];
  let alone = 0;
  switch (item.kind) {
    case 'replay': {
      const { script, lateMs = 0 } = item;
      const { participants, observed, reached } = searching;
      const replayed = await replay(script, participants, observed, { reached, lateMs });
      tally.add({ script, ...replayed, kept: [] });
      break;
    }
    case 'expansion': {
      const { steps, transitions, expanded, notReported, found } = await expand(
        searching,
        item,
        isOver,
      );
      probing = { steps, transitions, expanded };
      tally.add(
        { script: noScript, difference: undefined, ...found, notReported, steps, kept: [] },
        0,
      );
      break;
    }
    case 'settle':
      for (let waited = 0; waited < item.mostMs; waited += betweenLooks) {
        tally.found ??= await leakedIn(searching);
        if (tally.found !== undefined || !timersAreRunning() || (await isOver())) break;
        await pause(betweenLooks);
      }
      break;
    case 'look ahead':
      for (const steps of lookAhead(searching, item)) tally.kept.push({ steps, reaches: [] });
      break;
    case 'scout':
      tally.kept.push(...(await scout(searching, item, traits)));
      // What one has done alone counts when all do it.
      searching.reached.restart(known.reached, known.led, known.near);
      break;
    case 'approach': {
      const { kept, steps } = await approach(searching, item);
      tally.kept.push(...kept);
      alone = steps;
      searching.reached.restart(known.reached, known.led, known.near);
      break;
    }
    case 'shorten':
      tally.kept.push({
        ...(await shorten(searching, item.script, item.point)),
        again: item.point,
      });
      searching.reached.restart(known.reached, known.led, known.near);
      break;
    case 'random':
      tally.add(await randomScript(searching, item.seed, item.script, traits));
  }
  if (tally.found === undefined) tally.found = await leakedIn(searching);
  const { steps, scripts, notReported, kept, found } = tally;
  const { reached } = searching;
  const passedOver = passedOverIn(searching);
  return {
    steps,
    alone,
    scripts,
    notReported,
    kept,
    found,
    passedOver,
    probing,
    reached: reached.indices,
    hits: reached.hits,
    gone: [...(searching.ways?.added ?? [])],
  };
}

/** How often it is looked whether something late has come, in milliseconds. */
const betweenLooks = 20;

function timersAreRunning(): boolean {
  return process.getActiveResourcesInfo().includes('Timeout');
}

/** What any participant has left unhandled by now, whichever script set it off. */
async function leakedIn({ participants }: Searching): Promise<Failing | undefined> {
  const leaking = participants.filter(({ leaks }) => leaks !== undefined);
  if (leaking.length === 0) return undefined;
  await nextTurn();
  for (const participant of leaking) {
    const leaked = leakedBy(participant);
    if (leaked !== undefined) return causeOf(leaked);
  }
  return undefined;
}

function passedOverIn({ participants }: Searching): ReadonlyMap<string, number> {
  return new Map(
    participants.flatMap(({ name, passedOver }) =>
      [...(passedOver?.take() ?? [])].map(([known, count]) => [`${name}/${known}`, count] as const),
    ),
  );
}

const noScript: Script = { steps: [] };

/** Adds up what became of scripts. */
class Tally {
  steps = 0;
  scripts = 0;
  readonly notReported = new Map<string, number>();
  readonly kept: KeptScript[] = [];
  found: WorkResult['found'];

  add(
    finding: Finding & { readonly steps: number; readonly kept: readonly KeptScript[] },
    scripts = 1,
  ): void {
    this.steps += finding.steps;
    this.scripts += scripts;
    addCounts(this.notReported, finding.notReported);
    this.kept.push(...finding.kept);
    const { script, difference } = finding;
    if (difference !== undefined) this.found ??= { script, difference };
  }
}
