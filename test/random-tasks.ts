import type { Random } from '../src/base/random.js';
import type { Locals } from './random-expressions.js';
import type { Part, Payload, SchemaSource } from './random-schemas.js';

/** What random tasks call. */
export const randomServices = `
office:
  operations:
    weigh: { payload: number, result: number, error: { fields: { status: integer } } }
    name: { payload: number, result: string }
    list: { payload: string, result: { list: Car }, extra: drop }
    note: { payload: boolean }
    listen: { payload: string, results: number, result: string }
`;

type Kind = 'number' | 'text' | 'boolean' | 'cars';

interface Operation {
  readonly name: string;
  readonly asks: Kind;
  readonly result?: Kind;
  readonly results?: Kind;
}

const operations: readonly Operation[] = [
  { name: 'weigh', asks: 'number', result: 'number' },
  { name: 'name', asks: 'number', result: 'text' },
  { name: 'list', asks: 'text', result: 'cars' },
  { name: 'note', asks: 'boolean' },
  { name: 'listen', asks: 'text', results: 'number', result: 'text' },
];

/** What the tasks of a schema are made of: expressions, and steps with the names that they can use. */
export interface TaskParts {
  readonly random: Random;
  readonly of: SchemaSource['of'];
  readonly steps: (locals: Locals) => readonly Part[];
}

/** A task, with the names that its expressions have besides those of its payload. */
export function randomTask(
  { random, of, steps }: TaskParts,
  known: Locals,
  payload: Payload | undefined,
): Part {
  const locals = more(known, payload?.locals ?? {});
  const some = <T>(chance: number, make: () => T) => (random.chance(chance) ? make() : undefined);
  const operation = some(0.85, () => random.pick(operations));
  const ms = () => random.pick<Part>([0, 20, 50, `Math.abs(${of('number', locals)})`]);
  const failed = more(locals, { text: ['error.message', 'error.kind'] });
  const withResult = (kind: Kind | undefined) =>
    kind === undefined ? locals : more(locals, { [kind]: ['result'] });
  const parts: Record<string, Part | undefined> = {
    payload: payload?.type,
    requires: some(0.2, () => [{ that: of('boolean', locals), otherwise: 'Not now.' }]),
    overlap: random.pick(['latest', 'first', 'queue', 'parallel']),
    per: payload === undefined ? undefined : some(0.3, () => of('text', locals)),
    wait: operation === undefined ? ms() : some(0.3, ms),
    operation: operation && `office.${operation.name}`,
    with: operation && of(operation.asks, locals),
    timeLimit: operation && some(0.3, () => random.pick<Part>([40, 1000])),
    retry: operation && some(0.4, () => retryOf(random, of, failed)),
    every: some(0.15, () => random.pick<Part>([30, `${of('boolean', known)} ? 10 : 70`])),
    auto: autoOf(random, of, known, payload),
    start: some(0.7, () => steps(locals)),
    each: operation?.results && steps(withResult(operation.results)),
    finish: some(0.8, () => steps(withResult(operation?.result))),
    fail: operation && some(0.6, () => steps(failed)),
    cancel: some(0.6, () => steps(locals)),
  };
  return Object.fromEntries(
    Object.entries(parts).filter((part): part is [string, Part] => part[1] !== undefined),
  );
}

function retryOf(random: Random, of: SchemaSource['of'], failed: Locals): Part {
  const counted = more(failed, { number: ['attempt'] });
  return {
    times: 1 + random.below(2),
    ...(random.chance(0.5) ? { wait: `Math.abs(${of('number', counted)})` } : {}),
    ...(random.chance(0.5) ? { when: of('boolean', counted) } : {}),
  };
}

function autoOf(
  random: Random,
  of: SchemaSource['of'],
  known: Locals,
  payload: Payload | undefined,
): Part | undefined {
  if (!random.chance(0.3)) return undefined;
  if (payload?.type === 'number') return { follows: of('number', known) };
  if (payload?.type === 'string')
    return { follows: `${of('boolean', known)} ? ${of('text', known)} : null` };
  if (payload !== undefined) return undefined;
  return random.chance(0.4) ? 'once' : { while: of('boolean', known) };
}

/** Names of both, by kind. */
export function more(some: Locals, others: Locals): Locals {
  const all: Record<string, readonly string[]> = { ...some };
  for (const [kind, names] of Object.entries(others)) all[kind] = [...(all[kind] ?? []), ...names];
  return all;
}
