import { nearest } from '../../base/suggest.js';
import { isObject, pointerParts } from '../../base/json.js';
import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { plainOf, type Located } from '../syntax/located.js';
import { without } from './prune.js';
import validateFormat, { type FormatError } from './format-validator.js';

/** What is left of a file, and what was taken out of it. */
export interface Structure {
  /** The file without what does not belong there; `undefined` if nothing can be made of it. */
  readonly root: Located | undefined;
  /** The definitions in which something is wrong: what else is wrong in them may be a consequence. */
  readonly broken: readonly BrokenPart[];
}

export interface BrokenPart {
  /** The name of the definition: of a store, a type, a field, an action. */
  readonly name: string;
  readonly span: Span;
  /** Of an action, only this step of it, if it is one. */
  readonly step: Span | undefined;
}

/** At most so many times something is taken out and the rest looked at again. */
const mostRounds = 20;

/** Holds the file against the JSON Schema of the format, and takes out what does not fit, so that the rest can be checked. */
export function checkStructure(root: Located, problems: Problems): Structure {
  const broken: BrokenPart[] = [];
  let left = root;
  for (let round = 0; round < mostRounds; round++) {
    if (validateFormat(plainOf(left))) return { root: left, broken };
    // What is wrong with a key is told as that, by 'propertyNames'.
    const errors = (validateFormat.errors ?? []).filter(
      ({ keyword, propertyName }) => keyword !== 'if' && propertyName === undefined,
    );
    // What is wrong only since something was taken out has been told already.
    if (round === 0) report(errors, root, problems);
    const paths = errors.map(pathToRemove);
    if (paths.some(({ length }) => length === 0)) return { root: undefined, broken };
    broken.push(...paths.flatMap((path) => brokenAt(root, path)));
    // From the last to the first: positions in lists stay what they are.
    const inOrder = [...new Map(paths.map((path) => [path.join('/'), path])).values()];
    inOrder.sort((a, b) => compareParts(b, a));
    for (const path of inOrder) left = without(left, path);
  }
  return { root: undefined, broken };
}

function report(errors: readonly FormatError[], root: Located, problems: Problems): void {
  const seen = new Set<string>();
  const meant = new Set(
    errors.map((error) => `${error.instancePath} ${explain(error, root).near ?? ''}`),
  );
  for (const error of errors) {
    // A key that is written with a slip is not missing as well.
    if (meant.has(`${error.instancePath} ${String(error.params.missingProperty)}`)) continue;
    const problem = explain(error, root);
    const place = `${problem.span.start} ${error.keyword}`;
    if (seen.has(place)) continue;
    seen.add(place);
    problems.add('wrong-structure', problem.span, problem);
  }
}

/** What has to go for an error to be gone: a key that is not known, or the whole that is not right. */
function pathToRemove({ keyword, instancePath, params }: FormatError): readonly string[] {
  const parts = pointerParts(instancePath);
  if (keyword === 'additionalProperties') return [...parts, String(params.additionalProperty)];
  return keyword === 'propertyNames' ? [...parts, String(params.propertyName)] : parts;
}

/** The definition that a path is in: `/stores/deck/actions/admit`, or what is above that. */
function brokenAt(root: Located, path: readonly string[]): readonly BrokenPart[] {
  const definition = path.slice(0, path[0] === 'stores' ? 4 : 2);
  const name = definition.at(-1);
  if (name === undefined || definition.length < 2) return [];
  const position = path.findIndex((part, i) => i >= definition.length && /^\d+$/.test(part));
  const step = position < 0 ? undefined : locate(root, path.slice(0, position + 1)).span;
  return [{ name, span: locate(root, definition).span, step }];
}

/** Positions in lists as numbers, all else as text. */
function compareParts(a: readonly string[], b: readonly string[]): number {
  for (const [i, part] of a.entries()) {
    const other = b[i];
    if (other === undefined) return 1;
    if (part === other) continue;
    const [one, two] = [Number(part), Number(other)];
    return Number.isNaN(one) || Number.isNaN(two) ? (part < other ? -1 : 1) : one - two;
  }
  return a.length - b.length;
}

interface Explained {
  readonly span: Span;
  readonly detail: string;
  readonly near?: string | undefined;
  readonly hint?: string | undefined;
}

function explain(error: FormatError, root: Located): Explained {
  const parts = pointerParts(error.instancePath);
  const node = locate(root, parts);
  const where = placeOf(parts);
  const { params } = error;
  switch (error.keyword) {
    case 'additionalProperties': {
      const name = String(params.additionalProperty);
      const properties = isObject(error.parentSchema?.properties)
        ? Object.keys(error.parentSchema.properties)
        : [];
      return {
        span: keySpanOf(node, name),
        detail: `Unknown key '${name}' in ${where}.`,
        near: nearest(name, properties),
        hint: `Known here: ${properties.join(', ')}.`,
      };
    }
    case 'required':
      return {
        span: startOf(node.span),
        detail: `${capital(where)} lacks '${String(params.missingProperty)}'.`,
      };
    case 'type':
      return { span: node.span, detail: `${capital(where)} should be ${kindText(params.type)}.` };
    case 'const':
      return {
        span: node.span,
        detail: `${capital(where)} should be ${JSON.stringify(params.allowedValue)}.`,
      };
    case 'propertyNames': {
      const name = String(params.propertyName);
      return {
        span: keySpanOf(node, name),
        detail: `'${name}' in ${where} is not a version.`,
        hint: 'Versions are whole numbers; 0 is data that was saved without a version.',
      };
    }
    case 'minItems':
    case 'minProperties':
      return { span: node.span, detail: `${capital(where)} is empty.` };
    default:
      return {
        span: node.span,
        detail: `${capital(where)} ${error.message ?? 'does not fit the format'}.`,
      };
  }
}

/** Where a key of a mapping is written. */
function keySpanOf(node: Located, name: string): Span {
  const entry = node.kind === 'map' ? node.entries.find(({ key }) => key === name) : undefined;
  return entry?.keySpan ?? node.span;
}

/** Where something stands, in words: a key, or which step, requirement or reaction it is. */
function placeOf(parts: readonly string[]): string {
  const last = parts.at(-1);
  if (last === undefined) return 'the file';
  const list = parts.at(-2);
  if (!/^\d+$/.test(last) || list === undefined) return `'${last}'`;
  const [section, store, kind, name] = parts;
  const isOfAction = section === 'stores' && kind === 'actions';
  const owner = isOfAction ? `${store ?? ''}.${name ?? ''}` : (store ?? '');
  // An action may be its list of steps.
  const word = isOfAction && parts.length === 5 ? 'step' : partsOfLists.get(list);
  const number = Number(last) + 1;
  return word === undefined ? `item ${number} of '${list}'` : `${word} ${number} of '${owner}'`;
}

/** What the lists that have no names of their own are made of. */
const partsOfLists: ReadonlyMap<string, string> = new Map([
  ['steps', 'step'],
  ['then', 'step'],
  ['else', 'step'],
  ['requires', 'requirement'],
  ['reacts', 'reaction'],
]);

const kinds: Readonly<Record<string, string>> = {
  object: 'a mapping',
  array: 'a list',
  string: 'text',
  number: 'a number',
  integer: 'a whole number',
  boolean: 'true or false',
  null: 'empty',
};

function kindText(type: unknown): string {
  const names = (Array.isArray(type) ? type : [type]).map(
    (name) => kinds[String(name)] ?? String(name),
  );
  return names.length < 2
    ? (names[0] ?? '')
    : `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`;
}

function capital(text: string): string {
  return /^[a-z]/.test(text) ? `${text.charAt(0).toUpperCase()}${text.slice(1)}` : text;
}

function startOf(span: Span): Span {
  return { ...span, end: Math.min(span.end, span.start + 1) };
}

function locate(root: Located, parts: readonly string[]): Located {
  let here = root;
  for (const part of parts) {
    const below =
      here.kind === 'map'
        ? here.entries.find(({ key }) => key === part)?.value
        : here.kind === 'list'
          ? here.items[Number(part)]
          : undefined;
    if (below === undefined) return here;
    here = below;
  }
  return here;
}
