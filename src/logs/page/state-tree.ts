import { escapePointer, isObject } from '../../base/json.js';
import { same } from '../../base/same.js';
import { element } from './element.js';
import { shortened } from './shortened.js';

/** One of several values that stand side by side. */
export interface Column {
  readonly title: string;
  readonly value: unknown;
}

/** What a tree says of its values. */
export interface TreeOptions {
  /** The places that are marked, as JSON Pointers. */
  readonly marked: readonly string[];
  /** Which parts are open; it is changed as people open and close them. */
  readonly open: Set<string>;
  /** What is said of a place at the end of its line, such as when it was last changed. */
  readonly note?: (place: string) => Node | undefined;
}

/** How many items of a list are shown at once. */
const mostItems = 100;

/** Values as a tree, side by side if there are several: what differs between them, and what is marked, stands out. */
export function stateTree(columns: readonly Column[], options: TreeOptions): HTMLElement {
  const tree = element('div', { class: 'tree', style: `--columns: ${columns.length}` });
  if (columns.length > 1) {
    const titles = columns.map(({ title }) => element('span', { class: 'value' }, title));
    tree.append(
      element('div', { class: 'leaf titles' }, element('span', { class: 'key' }, ''), ...titles),
    );
  }
  addParts(
    tree,
    columns.map(({ value }) => value),
    '',
    options,
  );
  return tree;
}

function addParts(
  into: HTMLElement,
  values: readonly unknown[],
  place: string,
  options: TreeOptions,
  from = 0,
): void {
  const keys = keysOf(values);
  for (const key of keys.slice(from, from + mostItems)) {
    const below = `${place}/${escapePointer(key)}`;
    into.append(
      node(
        key,
        values.map((value) => partOf(value, key)),
        below,
        options,
      ),
    );
  }
  const left = keys.length - from - mostItems;
  if (left <= 0) return;
  const more = element('button', { type: 'button', class: 'more' }, `${left} more`);
  more.addEventListener('click', () => {
    more.remove();
    addParts(into, values, place, options, from + mostItems);
  });
  into.append(more);
}

const keysOf = (values: readonly unknown[]): readonly string[] => [
  ...new Set(values.flatMap((value) => (isNested(value) ? Object.keys(value) : []))),
];

const isNested = (value: unknown): value is object => typeof value === 'object' && value !== null;

const partOf = (value: unknown, key: string): unknown =>
  isNested(value) && Object.hasOwn(value, key)
    ? (value as Record<string, unknown>)[key]
    : undefined;

function node(
  key: string,
  values: readonly unknown[],
  place: string,
  options: TreeOptions,
): HTMLElement {
  const isMarked = options.marked.some((one) => one === place || place.startsWith(`${one}/`));
  const holdsMarked = options.marked.some((one) => one.startsWith(`${place}/`));
  // A participant need not have every store and field.
  const isWhole = place.split('/').length > 3;
  const compared = values.filter((value) => isWhole || value !== undefined);
  const differs = compared.some((value) => !same(value, compared[0]));
  const classes = ['leaf', isMarked && 'marked', holdsMarked && 'holds', differs && 'differs']
    .filter((name) => name !== false)
    .join(' ');
  const keyPart = element('span', { class: 'key' }, key);
  const texts = values.map((value) => {
    const text = textOf(value);
    // What is equal to the first is not to be looked at; of parts with the same words, what is inside is.
    const isOther = compared.includes(value) && !same(value, compared[0]);
    const stands = isOther && text !== textOf(compared[0]) && 'other';
    const own = ['value', isNested(value) && 'short', stands].filter((name) => name !== false);
    return element('span', { class: own.join(' ') }, text);
  });
  const note = options.note?.(place);
  const line = [keyPart, ...texts, ...(note === undefined ? [] : [note])];
  if (!values.some((value) => isNested(value) && Object.keys(value).length > 0))
    return element('div', { class: classes }, ...line);
  const level = place.split('/').length - 1;
  const inner = element('div', { class: 'inner', style: `--level: ${level}` });
  const details = element('details', {}, element('summary', { class: classes }, ...line), inner);
  const fill = () => {
    if (inner.childElementCount === 0) addParts(inner, values, place, options);
  };
  if (options.open.has(place)) {
    details.open = true;
    fill();
  }
  details.addEventListener('toggle', () => {
    if (details.open) {
      options.open.add(place);
      fill();
    } else options.open.delete(place);
  });
  return details;
}

/** A value in a few words. */
export function textOf(value: unknown): string {
  if (value === undefined) return '–';
  if (Array.isArray(value)) return value.length === 0 ? '[ ]' : `${value.length} items`;
  if (!isObject(value)) return shortened(JSON.stringify(value));
  const text = JSON.stringify(value);
  return text.length <= 60 ? text : `${Object.keys(value).length} properties`;
}

/** Opens what leads to some places. */
export function openTo(open: Set<string>, places: readonly string[]): void {
  for (const place of places) {
    const parts = place.split('/').slice(1, -1);
    parts.reduce((above, part) => {
      const here = `${above}/${part}`;
      open.add(here);
      return here;
    }, '');
  }
}
