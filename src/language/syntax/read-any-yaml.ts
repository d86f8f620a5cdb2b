import {
  isAlias,
  isMap,
  isScalar,
  isSeq,
  parseDocument,
  type Node,
  type Pair,
  type YAMLError,
} from 'yaml';
import type { Problems } from '../problems/problem.js';
import type { Source, Span } from '../../base/source.js';
import type { Located, LocatedEntry } from './located.js';
import {
  lostReferenceBefore,
  quoted,
  referenceTrap,
  reportTrap,
  trapAt,
  type Trap,
} from './yaml-traps.js';
import { ScalarText, type ScalarStyle } from './scalar-text.js';

/**
 * Reads a YAML 1.2 (or JSON) file whatever it holds: what YAML has and a schema has not, and what is no YAML at all,
 * is a problem that says what to write; `undefined` if nothing can be read.
 */
export function readAnyYaml(source: Source, problems: Problems): Located | undefined {
  const document = parseDocument(source.text, {
    version: '1.2',
    prettyErrors: false,
    uniqueKeys: false,
    stringKeys: true,
    // Silent ones say nothing of a second document.
    logLevel: 'error',
  });
  const failures = [...document.errors, ...document.warnings].filter(
    ({ code, pos }) => code !== 'TAG_RESOLVE_FAILED' || source.text.startsWith('!!', pos[0]),
  );
  if (failures.length > 0) {
    reportFailures(failures, source, problems);
    return undefined;
  }
  if (document.contents === null) {
    problems.add('not-yaml', { source, start: 0, end: 0 }, { detail: 'the file is empty.' });
    return undefined;
  }
  return new Reader(source, problems).read(document.contents);
}

/** A file with more failures than these is no schema: looking at all of them would take long. */
const mostFailures = 50;

/** One slip in YAML often makes the parser report many: the first of each line that is a trap, or the first of all. */
function reportFailures(
  failures: readonly (YAMLError & { readonly pos: readonly number[] })[],
  source: Source,
  problems: Problems,
): void {
  const lines = new Set<number>();
  for (const [i, { code, pos, message }] of failures.slice(0, mostFailures).entries()) {
    const [start = 0, end = start] = pos;
    const { line } = source.placeOf(start);
    if (lines.has(line)) continue;
    if (code === 'MULTIPLE_DOCS') {
      const detail = 'a second document begins here, and a schema is one.';
      const hint = "Write it in a file of its own, and name that with 'use'.";
      problems.add('not-yaml', { source, start, end: start + 3 }, { detail, hint });
      return;
    }
    const trap = lostReferenceBefore(source, start) ?? trapAt(source, start);
    if (code === 'BAD_DQ_ESCAPE') {
      lines.add(line);
      problems.add(
        'bad-escape',
        { source, start, end: start + 2 },
        { escape: source.text.slice(start, start + 2) },
      );
    } else if (trap !== undefined && (i === 0 || failsAlone(source, trap))) {
      lines.add(line);
      reportTrap(trap, problems);
    } else if (i === 0) {
      lines.add(line);
      problems.add('not-yaml', { source, start, end }, { detail: sentence(message) });
    }
  }
}

/** True if a value is no YAML by itself: then it is no consequence of a slip before it. */
function failsAlone(source: Source, { span }: Trap): boolean {
  const value = source.text.slice(span.start, span.end);
  return (
    parseDocument(`x: ${value}`, { prettyErrors: false, logLevel: 'silent' }).errors.length > 0
  );
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
    if (this.#refuseExtras(node, span)) return this.#scalar(null, 'plain', span);
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

  /** Reports what YAML has and a schema has not, and what only looks like it. True if there was any. */
  #refuseExtras(node: Node, span: Span): boolean {
    const isTag = !isAlias(node) && node.tag !== undefined;
    if (!isAlias(node) && node.anchor === undefined && !isTag) {
      const first = isSeq(node) && node.flow === true ? node.items[0] : undefined;
      const isSpread =
        isScalar(first) && first.type === 'PLAIN' && String(first.value).startsWith('...');
      if (isSpread)
        reportTrap({ span, why: "YAML takes '[' at the start for a list" }, this.problems);
      return isSpread;
    }
    if (isTag && node.tag?.startsWith('tag:yaml.org') === true) {
      this.problems.add('not-plain-yaml', span, { what: 'A YAML tag (!!)' });
      return true;
    }
    const trap = trapAt(this.source, this.#markOf(span.start));
    if (trap !== undefined) reportTrap(trap, this.problems);
    else this.problems.add('not-plain-yaml', span, { what: 'A YAML tag, anchor or alias' });
    return true;
  }

  /** Where the mark of a tag or an anchor stands, which the parser leaves out of a node's range. */
  #markOf(start: number): number {
    const before = this.source.text.slice(0, start);
    const mark = /[!&][^\s]*\s*$/.exec(before);
    return mark === null ? start : mark.index;
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
    for (const { key, value } of this.#withoutTraps(pairs)) {
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

  /** The pairs without those that come of commas and colons in values that stand without quotes. */
  #withoutTraps(pairs: readonly Pair<Node, Node>[]): readonly Pair<Node, Node>[] {
    const kept: Pair<Node, Node>[] = [];
    for (const [i, pair] of pairs.entries()) {
      // A pair without a colon has no value at all, not even an empty one.
      if (pair.value !== null) {
        const next = pairs[i + 1];
        const isCut = next !== undefined && next.value === null;
        const trap = isCut ? this.#cut(pairs, i) : this.#lostReference(pair);
        if (trap === undefined) kept.push(pair);
        else reportTrap(trap, this.problems);
      } else if (i === 0) this.#refuseBareKey(pair.key);
    }
    return kept;
  }

  /** A value that commas have cut into several keys. */
  #cut(pairs: readonly Pair<Node, Node>[], i: number): Trap | undefined {
    const rest = pairs.slice(i + 1);
    const stop = rest.findIndex(({ value }) => value !== null);
    const last = rest[(stop < 0 ? rest.length : stop) - 1];
    const value = pairs[i]?.value;
    const lost = last?.key;
    if (!isScalar(value) || !isScalar(lost)) return undefined;
    if (String(lost.value).includes(':') || String(lost.value).startsWith('...')) {
      this.#refuseBareKey(lost);
      return undefined;
    }
    const [start, end] = [this.#span(value, 0).start, this.#span(lost, 0).end];
    return {
      span: { source: this.source, start, end },
      why: "inside '{ }' a comma ends the value",
    };
  }

  /** `$ref: #/types/Lane`: what follows is a comment to YAML. */
  #lostReference({ key, value }: Pair<Node, Node>): Trap | undefined {
    if (!isScalar(key) || key.value !== '$ref' || !isScalar(value) || value.value !== null)
      return undefined;
    const from = this.#span(key, 0).end;
    const found = /^\s*:\s+(#\S*)/.exec(this.source.text.slice(from, from + 200));
    if (found?.[1] === undefined) return undefined;
    const start = from + found[0].length - found[1].length;
    return referenceTrap({ source: this.source, start, end: start + found[1].length });
  }

  #refuseBareKey(key: Node): void {
    const span = this.#span(key, 0);
    const text = isScalar(key) ? String(key.value) : '';
    const spread = /^\.\.\.(.+)$/.exec(text)?.[1];
    const colon = text.indexOf(':');
    if (spread !== undefined) {
      const why = "inside '{ }' YAML takes this for a key without a value";
      this.problems.add('unquoted', span, { why, instead: `...: ${quoted(spread)}` });
    } else if (colon > 0) {
      const why = 'without a space after the colon YAML takes all of this for a key';
      const instead = `${text.slice(0, colon)}: ${text.slice(colon + 1)}`;
      this.problems.add('no-space', span, { why, instead });
    } else {
      const why = `'${text}' is a key without a value`;
      this.problems.add('unquoted', span, { why, instead: quoted(text) });
    }
  }
}
