// What a log does not say: values of secret types stand there as `•1`, `•2`, the same number for equal values.
import type { LogHead, LogLine, LogMask, Writable } from './log.js';
import type { Change } from './patch.js';
import { isObject } from './values.js';

/**
 * Where secrets are in a value: the whole value, what a named type says, or in parts of it. `items` are those of a list, and
 * the entries of a dictionary.
 */
export type SecretShape =
  | true
  | string
  | { readonly fields?: Readonly<Record<string, SecretShape>>; readonly items?: SecretShape };

/** Where secrets are in an application. */
export interface Secrets {
  readonly types: Readonly<Record<string, SecretShape>>;
  readonly state?: SecretShape;
  readonly payloads: Readonly<Record<string, SecretShape>>;
}

/** Puts numbers in the place of secrets. */
class Masks {
  readonly #secrets: Secrets;
  readonly #numbers = new Map<string, number>();

  constructor(secrets: Secrets) {
    this.#secrets = secrets;
  }

  state<T>(state: T): T {
    return this.#masked(state, this.#secrets.state) as T;
  }

  /** A payload of an action, a start, or of what came of a call: `timetable.load.finish`. */
  payload(name: string, payload: unknown): unknown {
    return this.#masked(payload, this.#secrets.payloads[name]);
  }

  changes(changes: readonly Change[]): readonly Change[] {
    return changes.map((change) => {
      if (change.op === 'remove') return change;
      const parts = change.path.split('/').slice(1);
      let shape = this.#open(this.#secrets.state);
      for (const part of parts) {
        if (shape === true || shape === undefined) break;
        const key = part.replaceAll('~1', '/').replaceAll('~0', '~');
        shape = this.#open(shape.fields?.[key] ?? shape.items);
      }
      return { ...change, value: this.#masked(change.value, shape) };
    });
  }

  /** A text that may be a secret that was stored: an identifier, for one. */
  text(text: string): string {
    return this.#numbers.has(JSON.stringify(text)) ? this.#mask(text) : text;
  }

  #open(shape: SecretShape | undefined): Exclude<SecretShape, string> | undefined {
    return typeof shape === 'string' ? this.#open(this.#secrets.types[shape]) : shape;
  }

  #masked(value: unknown, of: SecretShape | undefined): unknown {
    const shape = this.#open(of);
    if (shape === undefined || value === null || value === undefined) return value;
    if (shape === true) return this.#mask(value);
    const { fields = {}, items } = shape;
    if (Array.isArray(value)) return value.map((item) => this.#masked(item, items));
    if (!isObject(value)) return value;
    const parts = Object.entries(value);
    return Object.fromEntries(
      parts.map(([key, part]) => [key, this.#masked(part, fields[key] ?? items)]),
    );
  }

  #mask(value: unknown): string {
    const text = JSON.stringify(value);
    let number = this.#numbers.get(text);
    if (number === undefined) this.#numbers.set(text, (number = this.#numbers.size + 1));
    return `•${number}`;
  }
}

/** Puts numbers in the place of secrets, the same in all lines of a log. */
export function masking(secrets: Secrets): LogMask {
  const masks = new Masks(secrets);
  return (entry) => masked(entry, masks);
}

/** A line without secrets. */
function masked(entry: LogHead | LogLine, masks: Masks): LogHead | LogLine {
  if ('leeshoreLog' in entry) return { ...entry, state: masks.state(entry.state) };
  const { kind, payload, changes, state, answer, draws } = entry;
  const isAsked = kind === 'action' || kind === 'start' || kind === 'cancel';
  const name = isAsked ? entry.do : `${entry.do}.${kind === 'retry' ? 'fail' : kind}`;
  const line: Writable<LogLine> = { ...entry };
  if (payload !== undefined) line.payload = masks.payload(name, payload);
  if (changes !== undefined) line.changes = masks.changes(changes);
  if (state !== undefined) line.state = masks.state(state);
  if (answer !== undefined && 'result' in answer)
    line.answer = { result: masks.payload(`${entry.do}.finish`, answer.result) };
  if (answer !== undefined && 'value' in answer)
    line.answer = { value: masks.payload(`${entry.do}.each`, answer.value) };
  // What was drawn may have been stored as a secret.
  if (draws?.ids !== undefined)
    line.draws = { ...draws, ids: draws.ids.map((id) => masks.text(id)) };
  return line;
}
