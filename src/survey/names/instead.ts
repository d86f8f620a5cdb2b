import ts from 'typescript';
import { usedBy, type Style } from '../../base/styles.js';
import { expressionOf, outermost } from '../reading/kind-of-use.js';
import type { UseKind } from '../survey-result.js';
import type { NewName } from './names.js';
import type { NewStores } from '../new-stores/new-stores.js';

/** What to write in place of a use of the old store, in the style of the new stores where that is known. */
export function insteadOf(
  node: ts.Node,
  kind: UseKind,
  { is, arguments: names }: NewName,
  stores: NewStores | undefined,
): string {
  const [path = '', part] = is.split('[]');
  // Of data only a property has another name.
  if (part !== undefined) return part;
  const [store = '', member = '', ...inner] = path.split('.');
  const read = stores?.kindOf(path) === 'derived' || stores?.kindOf(path) === 'field';
  if (kind === 'call' && !read)
    return action(store, member, payloadOf(callOf(node)?.arguments ?? [], names), stores?.style);
  if (kind === 'write')
    return `an action of ${store}${member === '' ? '' : ` that changes ${member}`}`;
  return [reading(store, member, stores), ...inner].join('.');
}

function callOf(node: ts.Node): ts.CallExpression | undefined {
  const { parent } = outermost(expressionOf(node));
  return ts.isCallExpression(parent) ? parent : undefined;
}

const longest = 60;

/** The payload of an action, from what the old function was called with. */
function payloadOf(given: readonly ts.Expression[], names: readonly string[]): string {
  const texts = given
    .map((one) => one.getText().replace(/\s+/g, ' '))
    .map((text) => (text.length > longest ? '...' : text));
  if (names.length === 0) return texts[0] ?? '';
  const parts = names.map((name, i) =>
    texts[i] === name ? name : `${name}: ${texts[i] ?? '...'}`,
  );
  return `{ ${parts.join(', ')} }`;
}

function action(store: string, member: string, payload: string, style: Style | undefined): string {
  if (style !== undefined && usedBy[style] === 'dispatch')
    return `dispatch(${store}Actions.${member}(${payload}))`;
  return `${style === undefined ? '' : 'stores.'}${store}.${member}(${payload})`;
}

const readings: Readonly<Record<Style, (path: string) => string>> = {
  reducer: (path) => `state.${path}`,
  atom: (path) => `stores.${path}.get()`,
  proxy: (path) => `stores.${path}`,
  observable: (path) => `stores.${path}.latest`,
};

function reading(store: string, member: string, stores: NewStores | undefined): string {
  const path = member === '' ? store : `${store}.${member}`;
  const { style } = stores ?? {};
  if (stores === undefined || style === undefined) return path;
  if (usedBy[style] === 'dispatch')
    return stores.kindOf(path) === 'derived' ? `derived.${path}(state)` : readings[style](path);
  const isValue = member === '' && stores !== undefined;
  return readings[style](isValue ? `${path}.value` : path);
}
