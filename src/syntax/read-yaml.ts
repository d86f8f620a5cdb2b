import { isAlias, isMap, isScalar, isSeq, parseDocument, type Node, type Pair } from 'yaml';
import type { Problems } from '../diagnostics/problem.js';
import type { Source, Span } from '../diagnostics/source.js';
import type { Located, LocatedEntry } from './located.js';
import { ScalarText, type ScalarStyle } from './scalar-text.js';

/** Parses a YAML 1.2 (or JSON) file to located data; `undefined` with a problem if that fails. */
export function readYaml(source: Source, problems: Problems): Located | undefined {
  const document = parseDocument(source.text, {
    version: '1.2',
    prettyErrors: false,
    uniqueKeys: false,
    stringKeys: true,
    logLevel: 'silent',
  });
  // One slip in YAML often makes the parser report many: only the first says what is wrong.
  const [first] = [...document.errors, ...document.warnings];
  if (first !== undefined) {
    const { pos, message } = first;
    problems.add('not-yaml', { source, start: pos[0], end: pos[1] }, { detail: sentence(message) });
    return undefined;
  }
  if (document.contents === null) {
    problems.add('not-yaml', { source, start: 0, end: 0 }, { detail: 'the file is empty.' });
    return undefined;
  }
  return new Reader(source, problems).read(document.contents);
}

function sentence(message: string): string {
  const text = message.trim().replace(/\s+/g, ' ');
  return /[.!?]$/.test(text) ? text : `${text}.`;
}

const styles: Readonly<Record<string, ScalarStyle>> = {
  PLAIN: 'plain',
  QUOTE_DOUBLE: 'double',
  QUOTE_SINGLE: 'single',
};

class Reader {
  constructor(
    readonly source: Source,
    readonly problems: Problems,
  ) {}

  read(node: Node | null | undefined, fallback = 0): Located {
    const span = this.#span(node, fallback);
    if (node === null || node === undefined) return this.#scalar(null, 'plain', span);
    this.#refuseExtras(node, span);
    if (isMap(node))
      return { kind: 'map', span, entries: this.#entries(node.items as Pair<Node, Node>[]) };
    if (isSeq(node))
      return {
        kind: 'list',
        span,
        items: node.items.map((item) => this.read(item as Node, span.start)),
      };
    if (isScalar(node)) return this.#scalar(node.value, styles[node.type ?? ''] ?? 'block', span);
    return this.#scalar(null, 'plain', span);
  }

  #span(node: Node | null | undefined, fallback: number): Span {
    const range = node?.range;
    return { source: this.source, start: range?.[0] ?? fallback, end: range?.[1] ?? fallback };
  }

  #refuseExtras(node: Node, span: Span): void {
    if (isAlias(node)) {
      this.problems.add('not-plain-yaml', span, { what: 'A YAML alias (*)' });
    } else if (node.anchor !== undefined) {
      this.problems.add('not-plain-yaml', span, { what: 'A YAML anchor (&)' });
    } else if (node.tag !== undefined) {
      this.problems.add('not-plain-yaml', span, { what: `A YAML tag (${node.tag})` });
    }
  }

  #scalar(value: unknown, style: ScalarStyle, span: Span): Located {
    const plain =
      typeof value === 'bigint' ? Number(value) : (value as string | number | boolean | null);
    return {
      kind: 'scalar',
      value: plain,
      span,
      text: new ScalarText(typeof plain === 'string' ? plain : '', style, span),
    };
  }

  #entries(pairs: readonly Pair<Node, Node>[]): LocatedEntry[] {
    const entries: LocatedEntry[] = [];
    const first = new Map<string, Span>();
    for (const { key, value } of pairs) {
      const keySpan = this.#span(key, 0);
      const name = isScalar(key) ? String(key.value) : '';
      const taken = first.get(name);
      if (taken === undefined) {
        first.set(name, keySpan);
        entries.push({ key: name, keySpan, value: this.read(value, keySpan.end) });
      } else {
        const related = [{ message: 'first here', span: taken }];
        this.problems.add('name-taken', keySpan, { name, by: 'another entry here' }, related);
      }
    }
    return entries;
  }
}
