import type { Json } from '../../base/json.js';
import type { Application } from '../../model/application.js';
import type { Mismatch, MismatchFound } from '../replay/mismatch.js';
import type { Replayed } from '../replay/replay.js';
import { placeNamed, type PlaceJson } from '../../report/place-json.js';
import { namedJson } from '../../report/value-json.js';

/** The result of a replay as one JSON value, as `schema/replay-1.schema.json` says. */
export interface ReplayJson {
  readonly leeshoreReplay: 1;
  readonly log: string;
  readonly schema: string;
  readonly verdict: 'no difference' | 'mismatch' | 'nothing replayed' | 'interrupted';
  readonly lines: number;
  readonly sessions: number;
  readonly spanMs: number;
  readonly isOtherSchema: boolean;
  /** The titles of the log's schema and of the one it is replayed with, where they are others; else null. */
  readonly titles: { readonly log: string; readonly schema: string | null } | null;
  readonly passedOver: Readonly<Record<string, number>>;
  readonly masked: number;
  readonly unknownNames: readonly string[];
  /** What keeps lines of an old application's log from being done. */
  readonly incomplete: readonly {
    readonly line: number;
    readonly missing: string;
    readonly times: number;
  }[];
  readonly tornLine: number | null;
  readonly participants: readonly {
    readonly name: string;
    readonly lines: number;
    readonly stoppedAt: number | null;
  }[];
  readonly mismatches: readonly MismatchJson[];
  readonly tookMs: number;
}

export interface MismatchJson {
  /** Those that show the same, and do not agree with the log. */
  readonly participants: readonly string[];
  /** Those that did the line and agree with the log. */
  readonly agreeing: readonly string[];
  readonly line: number;
  readonly turn: number | null;
  readonly kind: string;
  readonly do: string;
  readonly what: Mismatch['what'];
  readonly at: string;
  readonly logged: Json;
  readonly shown: Json;
  readonly otherPlaces: number;
  readonly place: PlaceJson | null;
  /** The lines that show it when they are done from the state before them. */
  readonly window: { readonly from: number; readonly to: number } | null;
  readonly times: number;
  readonly alsoAt: readonly number[];
}

export interface ReplayNames {
  readonly log: string;
  readonly schema: string;
  readonly tookMs: number;
}

export function replayToJson(
  result: Replayed,
  application: Application,
  { log, schema, tookMs }: ReplayNames,
): ReplayJson {
  const { participants, passedOver, unmapped } = result;
  const mismatches = mismatchesOf(result, application);
  return {
    leeshoreReplay: 1,
    log,
    schema,
    verdict:
      mismatches.length > 0
        ? 'mismatch'
        : result.isInterrupted
          ? 'interrupted'
          : participants.every(({ lines }) => lines === 0)
            ? 'nothing replayed'
            : 'no difference',
    lines: result.lines,
    sessions: result.sessions,
    spanMs: result.span,
    isOtherSchema: result.isOtherSchema,
    titles:
      result.otherTitle === undefined
        ? null
        : { log: result.otherTitle, schema: application.title ?? null },
    passedOver: { ...passedOver, ...(unmapped > 0 && { unmapped }) },
    masked: result.masked,
    unknownNames: result.unknownNames,
    incomplete: result.incomplete,
    tornLine: result.torn ?? null,
    participants: participants.map(({ name, lines, stoppedAt = null }) => ({
      name,
      lines,
      stoppedAt,
    })),
    mismatches,
    tookMs: Math.round(tookMs),
  };
}

/** The mismatches, in the order of their lines; those that several participants show alike are one. */
function mismatchesOf(
  { participants }: Replayed,
  application: Application,
): readonly MismatchJson[] {
  const alike = new Map<string, { names: string[]; found: MismatchFound }>();
  for (const { name, mismatches } of participants)
    for (const found of mismatches) {
      const { line, what, at, shown } = found.first;
      const key = JSON.stringify([line, what, at, namedJson(shown)]);
      const known = alike.get(key);
      if (known === undefined) alike.set(key, { names: [name], found });
      else known.names.push(name);
    }
  const merged = [...alike.values()].map(({ names, found }): MismatchJson => {
    const { first, window = null, times, lines } = found;
    const agreeing = participants.filter(
      ({ name, stoppedAt = Infinity, mismatches }) =>
        !mismatches.some((other) => other.first.line === first.line) &&
        stoppedAt >= first.line &&
        !names.includes(name),
    );
    return {
      participants: names,
      agreeing: agreeing.map(({ name }) => name),
      line: first.line,
      turn: first.turn ?? null,
      kind: first.kind,
      do: first.do,
      what: first.what,
      at: first.at,
      logged: namedJson(first.logged),
      shown: namedJson(first.shown),
      otherPlaces: first.otherPlaces,
      place: placeNamed(application, first.do),
      window,
      times,
      alsoAt: lines,
    };
  });
  return merged.sort((a, b) => a.line - b.line);
}
