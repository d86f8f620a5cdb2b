import { isObject, type Json } from '../../base/json.js';
import type { LogData } from './log-data.js';

type Step = Readonly<Record<string, unknown>>;

/** How identifiers are called that a script draws, before their number. */
const idPrefix = 'id-';

/**
 * Rows as a script for `leeshore compare --script`: what was asked for from outside, the answers to calls, and the time that
 * passed. A script begins with the defaults, and draws identifiers of its own: those of the log are renamed.
 */
export function scriptOf({ rows }: LogData, from: number, to: number): string {
  const ids = new Map<string, string>();
  let time = rows[from]?.line.at ?? 0;
  let calls = 0;
  const steps: Step[] = [];
  for (let i = from; i <= to; i++) {
    const line = rows[i]?.line;
    if (line === undefined) continue;
    for (const id of line.draws?.ids ?? []) ids.set(id, `${idPrefix}${ids.size + 1}`);
    for (const { call } of line.calls ?? []) calls = calls === 0 ? call : Math.min(calls, call);
    const { at = time, by = 'outside', kind = 'action', do: name, payload, call } = line;
    if (at > time && by !== 'step' && by !== 'auto') {
      steps.push({ pass: at - time });
      time = at;
    }
    const given = payload === undefined ? {} : { payload: renamed(payload, ids) };
    if (by === 'answer' && call !== undefined && line.sync !== true) {
      const number = call - calls + 1;
      if (kind === 'each') steps.push({ value: number, result: payload });
      else if (kind === 'fail' || kind === 'retry')
        steps.push({ answer: number, error: rejectionOf(payload) });
      else steps.push({ answer: number, ...resultOf(payload) });
    } else if (by === 'outside' || by === 'watcher') {
      if (kind === 'action') steps.push({ send: name, ...given });
      else if (kind === 'start') steps.push({ start: name, ...given });
      else if (kind === 'cancel')
        steps.push({ cancel: name, ...(payload === undefined ? {} : { per: payload }) });
      else if (kind === 'undo' || kind === 'redo') steps.push({ send: `${name}.${kind}` });
      else if (kind === 'attach') steps.push({ attach: name });
    }
  }
  return `${JSON.stringify({ leeshoreScript: 1, steps }, null, 2)}\n`;
}

/** What a call was rejected with: its data where a task reads them, else its message. */
function rejectionOf(error: Json | undefined): Json {
  if (!isObject(error)) return null;
  const { data = null, message = '' } = error as Readonly<Record<string, Json>>;
  return data ?? { message };
}

const resultOf = (result: Json | undefined): Step =>
  result === undefined ? { nothing: true } : { result };

/** A value with the identifiers that a script draws. */
function renamed(value: Json, ids: ReadonlyMap<string, string>): Json {
  if (typeof value === 'string') return ids.get(value) ?? value;
  if (Array.isArray(value)) return value.map((item: Json) => renamed(item, ids));
  if (!isObject(value)) return value;
  const parts = Object.entries<Json>(value as Readonly<Record<string, Json>>);
  return Object.fromEntries(parts.map(([key, part]) => [key, renamed(part, ids)]));
}
