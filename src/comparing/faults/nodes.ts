/** The way to a part of a value: keys and positions. */
export type Way = readonly (string | number)[];

/** A part of a model that has a kind, with the way to it. */
export interface Node {
  readonly node: Readonly<Record<string, unknown>>;
  readonly way: Way;
}

/** What of a model is no code: places in files, and types. */
const passedOver = new Set(['span', 'type', 'payload', 'about', 'given', 'params']);

/** The objects within a value, outermost first. */
export function nodesOf(value: unknown, way: Way = []): Node[] {
  if (typeof value !== 'object' || value === null) return [];
  if (Array.isArray(value)) return value.flatMap((item: unknown, i) => nodesOf(item, [...way, i]));
  const node = value as Readonly<Record<string, unknown>>;
  const within = Object.entries(node)
    // The payload of a `run` or a `start` is an expression; that of an action or a task is a type.
    .filter(([key]) => !passedOver.has(key) || (key === 'payload' && isGiven(node.kind)))
    .flatMap(([key, part]) => nodesOf(part, [...way, key]));
  return [{ node, way }, ...within];
}

const isGiven = (kind: unknown): boolean => kind === 'run' || kind === 'start';

/** The value with another in the place of one of its parts. */
export function replacedAt<T>(root: T, way: Way, part: unknown): T {
  const [first, ...rest] = way;
  if (first === undefined) return part as T;
  if (Array.isArray(root))
    return root.map((item: unknown, i) => (i === first ? replacedAt(item, rest, part) : item)) as T;
  const object = root as Record<string, unknown>;
  return { ...object, [first]: replacedAt(object[String(first)], rest, part) } as T;
}
