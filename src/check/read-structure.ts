import { nearest } from '../base/suggest.js';
import { isObject, pointerParts } from '../base/json.js';
import type { Problems } from '../diagnostics/problem.js';
import type { Span } from '../diagnostics/source.js';
import { plainOf, type Located } from '../syntax/located.js';
import validateFormat, { type FormatError } from './format-validator.js';

/** Holds the file against the JSON Schema of the format. */
export function checkStructure(root: Located, problems: Problems): void {
  if (validateFormat(plainOf(root))) return;
  const errors = validateFormat.errors ?? [];
  const deepest = errors.filter(({ keyword }) => keyword !== 'if');
  const seen = new Set<string>();
  for (const error of deepest) {
    const problem = explain(error, root);
    const place = `${problem.span.start} ${error.keyword}`;
    if (seen.has(place)) continue;
    seen.add(place);
    problems.add('wrong-structure', problem.span, problem);
  }
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
  const where = parts.length === 0 ? 'the file' : `'${parts.at(-1)}'`;
  const { params } = error;
  switch (error.keyword) {
    case 'additionalProperties': {
      const name = String(params.additionalProperty);
      const entry = node.kind === 'map' ? node.entries.find(({ key }) => key === name) : undefined;
      const properties = isObject(error.parentSchema?.properties)
        ? Object.keys(error.parentSchema.properties)
        : [];
      return {
        span: entry?.keySpan ?? node.span,
        detail: `'${name}' is not known in ${where}.`,
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
    case 'minProperties':
      return { span: node.span, detail: `${capital(where)} is empty.` };
    default:
      return {
        span: node.span,
        detail: `${capital(where)} ${error.message ?? 'does not fit the format'}.`,
      };
  }
}

const kinds: Readonly<Record<string, string>> = {
  object: 'a mapping',
  array: 'a list',
  string: 'text',
  number: 'a number',
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
  return text.startsWith('the') ? `T${text.slice(1)}` : text;
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
