import {
  boolCoreTag,
  COLLECTION_STYLE,
  EVENT_ID,
  floatCoreTag,
  getScalarValue,
  intCoreTag,
  NOT_RESOLVED,
  nullCoreTag,
  parseEvents,
  SCALAR_STYLE,
  YAMLException,
  type Event,
  type ScalarEvent,
} from 'js-yaml';
import type { Source, Span } from '../../base/source.js';
import type { Located, LocatedEntry, LocatedList, LocatedMap, LocatedScalar } from './located.js';
import { ScalarText, type ScalarStyle } from './scalar-text.js';

/**
 * Reads a YAML 1.2 (or JSON) file that has nothing in it but what a schema is written with: `undefined`, without
 * a word about the reason, if there is anything else. Several times as fast as the reader that can give reasons.
 */
export function readTidyYaml(source: Source): Located | undefined {
  try {
    return new EventReader(source).document();
  } catch (error) {
    if (error instanceof YAMLException || error instanceof Untidy) return undefined;
    throw error;
  }
}

/** There is something in the file that the quick reader leaves to the thorough one. */
class Untidy extends Error {}

const styles: Readonly<Record<number, ScalarStyle>> = {
  [SCALAR_STYLE.PLAIN]: 'plain',
  [SCALAR_STYLE.DOUBLE_QUOTED]: 'double',
  [SCALAR_STYLE.SINGLE_QUOTED]: 'single',
};

const plainTags = [nullCoreTag, boolCoreTag, intCoreTag, floatCoreTag];

class EventReader {
  readonly #events: readonly Event[];
  #next = 0;

  constructor(readonly source: Source) {
    this.#events = parseEvents(source.text, { maxDepth: Infinity });
  }

  document(): Located {
    const start = this.#take();
    if (start.type !== EVENT_ID.DOCUMENT || start.directives.length > 0 || start.explicitEnd)
      throw new Untidy();
    const root = this.#node();
    if (this.#take().type !== EVENT_ID.POP || this.#next < this.#events.length) throw new Untidy();
    return root;
  }

  #take(): Event {
    const event = this.#events[this.#next++];
    if (event === undefined) throw new Untidy();
    return event;
  }

  #node(): Located {
    const event = this.#take();
    if (event.type === EVENT_ID.POP || event.type === EVENT_ID.DOCUMENT) throw new Untidy();
    if (event.type === EVENT_ID.ALIAS || event.anchorStart >= 0 || event.tagStart >= 0)
      throw new Untidy();
    if (event.type === EVENT_ID.SCALAR) return this.#scalar(event);
    // A pair alone in a list needs no braces: `[a, b: c]`.
    const isFlow =
      event.style === COLLECTION_STYLE.FLOW && '[{'.includes(this.source.text.charAt(event.start));
    return event.type === EVENT_ID.MAPPING
      ? this.#map(event.start, isFlow)
      : this.#list(event.start, isFlow);
  }

  #map(start: number, isFlow: boolean): LocatedMap {
    const entries: LocatedEntry[] = [];
    const keys = new Set<string>();
    let last = start + 1;
    while (!this.#closes()) {
      const key = this.#node();
      if (key.kind !== 'scalar') throw new Untidy();
      const name = key.text.style === 'plain' ? textBetween(key.span) : key.text.value;
      if (keys.has(name) || name.includes('\n')) throw new Untidy();
      keys.add(name);
      const value = this.#node();
      last = value.span.end;
      entries.push({ key: name, keySpan: key.span, value });
    }
    return { kind: 'map', span: this.#collection(start, last, isFlow), entries };
  }

  #list(start: number, isFlow: boolean): LocatedList {
    const items: Located[] = [];
    let last = start + 1;
    while (!this.#closes()) {
      const item = this.#node();
      // `[...list]`: what is meant is an expression.
      if (isFlow && item.kind === 'scalar' && item.text.value.startsWith('...')) throw new Untidy();
      last = item.span.end;
      items.push(item);
    }
    return { kind: 'list', span: this.#collection(start, last, isFlow), items };
  }

  #closes(): boolean {
    if (this.#events[this.#next]?.type !== EVENT_ID.POP) return false;
    this.#next++;
    return true;
  }

  /** Events say where a collection begins; where it ends shows behind its last part. */
  #collection(start: number, last: number, isFlow: boolean): Span {
    return {
      source: this.source,
      start,
      end: isFlow ? bracketAfter(this.source.text, last) : last,
    };
  }

  #scalar(event: ScalarEvent): LocatedScalar {
    // No value at all: this is often what a slip leaves behind.
    if (event.valueStart < 0) throw new Untidy();
    const { text } = this.source;
    const style = styles[event.style] ?? 'block';
    const written = getScalarValue(text, event);
    const value = style === 'plain' ? plainValue(written) : written;
    const span = this.#scalarSpan(event, style);
    const own = typeof value === 'string' ? value : '';
    return { kind: 'scalar', value, span, text: new ScalarText(own, style, span) };
  }

  /** Quotes and the mark of a block belong to the place of a scalar. */
  #scalarSpan({ valueStart, valueEnd }: ScalarEvent, style: ScalarStyle): Span {
    const { source } = this;
    if (style === 'plain') return { source, start: valueStart, end: valueEnd };
    if (style !== 'block') return { source, start: valueStart - 1, end: valueEnd + 1 };
    return { source, start: markOfBlock(source.text, valueStart), end: valueEnd };
  }
}

function textBetween({ source, start, end }: Span): string {
  return source.text.slice(start, end);
}

/** What a scalar without quotes stands for in the core schema of YAML 1.2. */
function plainValue(written: string): LocatedScalar['value'] {
  if (/^[A-Za-z_$]/.test(written) && !/^(?:null|true|false)$/i.test(written)) return written;
  for (const { resolve } of plainTags) {
    const value: unknown = resolve(written, false, '');
    if (value !== NOT_RESOLVED) return value as LocatedScalar['value'];
  }
  return written;
}

/** The place behind the bracket that closes a collection, which only blanks, comments and a comma come before. */
function bracketAfter(text: string, from: number): number {
  let at = from;
  while (at < text.length && !']}'.includes(text.charAt(at))) {
    const isComment = text.charAt(at) === '#';
    const end = isComment ? text.indexOf('\n', at) : at;
    at = (end < 0 ? text.length : end) + 1;
  }
  return at + 1;
}

/** Where the `|` or `>` stands above the text of a block. */
function markOfBlock(text: string, valueStart: number): number {
  const lineEnd = text.lastIndexOf('\n', valueStart - 1);
  const lineStart = text.lastIndexOf('\n', lineEnd - 1) + 1;
  const mark = /[|>][-+0-9]*[ \t]*(?:[ \t]#.*)?\r?$/.exec(text.slice(lineStart, lineEnd));
  if (mark === null) throw new Untidy();
  return lineStart + mark.index;
}
