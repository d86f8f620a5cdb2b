import type { Span } from '../../base/source.js';
import type { ScalarText } from './scalar-text.js';

/** JSON data that remembers where in the file each part stands. */
export type Located = LocatedScalar | LocatedList | LocatedMap;

export interface LocatedScalar {
  readonly kind: 'scalar';
  readonly value: string | number | boolean | null;
  readonly span: Span;
  /** Maps offsets in a text value to offsets in the file. */
  readonly text: ScalarText;
}

export interface LocatedList {
  readonly kind: 'list';
  readonly items: readonly Located[];
  readonly span: Span;
}

export interface LocatedMap {
  readonly kind: 'map';
  readonly entries: readonly LocatedEntry[];
  readonly span: Span;
}

export interface LocatedEntry {
  readonly key: string;
  readonly keySpan: Span;
  readonly value: Located;
}

/** The entry of a map with that key. */
export function entryOf(node: Located | undefined, key: string): LocatedEntry | undefined {
  return node?.kind === 'map' ? node.entries.find((entry) => entry.key === key) : undefined;
}

/** What stands under a key of a map. */
export function valueOf(node: Located | undefined, key: string): Located | undefined {
  return entryOf(node, key)?.value;
}

/** The text of a text scalar. */
export function textOf(node: Located | undefined): string | undefined {
  return node?.kind === 'scalar' && typeof node.value === 'string' ? node.value : undefined;
}

/** The entries of a map; none of anything else. */
export function entriesOf(node: Located | undefined): readonly LocatedEntry[] {
  return node?.kind === 'map' ? node.entries : [];
}

/** The items of a list; none of anything else. */
export function itemsOf(node: Located | undefined): readonly Located[] {
  return node?.kind === 'list' ? node.items : [];
}

/** The plain JSON data, without places. */
export function plainOf(node: Located): unknown {
  switch (node.kind) {
    case 'scalar':
      return node.value;
    case 'list':
      return node.items.map(plainOf);
    case 'map':
      return plainMap(node);
  }
}

/** Far faster than `Object.fromEntries`; a key that an object has by nature is no way to change what it is. */
function plainMap({ entries }: LocatedMap): Readonly<Record<string, unknown>> {
  const plain: Record<string, unknown> = {};
  for (const { key, value } of entries) {
    const part = plainOf(value);
    if (key !== '__proto__') plain[key] = part;
    else Object.defineProperty(plain, key, { value: part, enumerable: true });
  }
  return plain;
}

/** The first part that lies deeper than so many lists and mappings in each other; takes no stack. */
export function deeperThan(root: Located, most: number): Located | undefined {
  const waiting: { readonly node: Located; readonly depth: number }[] = [{ node: root, depth: 0 }];
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    const { node, depth } = next;
    if (node.kind === 'scalar') continue;
    if (depth >= most) return node;
    const parts = node.kind === 'list' ? node.items : node.entries.map(({ value }) => value);
    for (const part of parts) waiting.push({ node: part, depth: depth + 1 });
  }
  return undefined;
}
