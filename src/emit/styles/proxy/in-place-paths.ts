import { reasons } from '../../../model/participant.js';
import type { Expr } from '../../../model/expressions.js';
import type { Path, Segment, Step } from '../../../model/steps.js';
import { resolve, type Type } from '../../../model/types.js';
import type { ActionWriter } from '../../action-writer.js';
import { code, data, property, type Code } from '../../code.js';
import { pascal } from '../../identifiers.js';
import { hasLists } from '../../type-book.js';

/** The type of what a segment leads to. */
function below(type: Type, segment: Segment | undefined): Type | undefined {
  if (type.kind === 'list') return type.item;
  if (type.kind === 'map') return type.value;
  if (type.kind !== 'record' || segment?.kind !== 'property') return undefined;
  return type.fields.find(({ name }) => name === segment.name)?.type;
}

/** How what stands at the paths of a step is reached, and judged, in a draft. */
export class InPlacePaths {
  /** Statements that come before the step. */
  protected readonly lines: Code[] = [];
  readonly #paths = new Map<Path, Path>();

  constructor(readonly writer: ActionWriter) {}

  /** Judges the lists that a step changed as a whole, where their types bound them. */
  protected judgedLists(path: Path, step: Step): Code[] {
    const { guards, imports, store, types } = this.writer;
    if (guards.checks === 'never') return [];
    const field = store.fields.find(({ name }) => name === path.field);
    let type = field?.type;
    const found: Code[] = [];
    for (let i = 0; i <= path.segments.length && type !== undefined; i++) {
      const open = resolve(type, types);
      const isLast = i === path.segments.length;
      const isBounded = open.kind === 'list' && open.bounds !== undefined;
      if (isBounded && (isLast ? step.kind !== 'set' : open.bounds.uniqueItems === true)) {
        const list = this.part(this.settled(path), i, reasons.missing, step.at);
        const guard = guards.use(open, `${pascal(store.name)}${pascal(path.field)}`, imports);
        const fit = imports.value('transaction', 'fit');
        found.push(code`${fit}(${list}, ${guard}, ${data(step.at)});`);
      }
      type = below(open, path.segments[i]);
    }
    return found;
  }

  protected helper(name: string): Code {
    return this.writer.imports.value('in-place', name);
  }

  /** A value as a part of a draft: lists in it may be read-only to the compiler. */
  protected asDraft(value: Code, type: Type): Code {
    if (!hasLists(type, this.writer.application)) return value;
    return code`${this.writer.imports.value('draft', 'draftOf')}(${value})`;
  }

  /** The path with keys that are more than a name held in constants, so that they are computed once. */
  protected settled(path: Path): Path {
    const known = this.#paths.get(path);
    if (known !== undefined) return known;
    const settled = this.#settle(path);
    this.#paths.set(path, settled).set(settled, settled);
    return settled;
  }

  #settle(path: Path): Path {
    const segments = path.segments.map((segment): Segment => {
      if (segment.kind === 'property') return segment;
      return { ...segment, value: this.held(segment.value, `${path.field}Key`) };
    });
    return { ...path, segments };
  }

  /** An expression held in a constant. */
  protected held(value: Expr, name: string): Expr {
    return this.writer.once(value, name, this.lines);
  }

  /** What stands at a path, to be read or changed. */
  protected part(path: Path, count: number, none: string, at: string): Code {
    let here = this.writer.style.field(this.writer.store.name, path.field);
    const reason = code`${data(none)}, ${data(at)}`;
    for (const segment of path.segments.slice(0, count)) {
      if (segment.kind === 'property') here = code`${here}${property(segment.name)}`;
      else {
        const place = this.writer.print(segment.value);
        const of = segment.kind === 'item' ? code`, ${data(segment.key)}` : code``;
        const helper = { item: 'itemOf', entry: 'entryIn', position: 'itemIn' }[segment.kind];
        here = code`${this.helper(helper)}(${here}${of}, ${place}, ${reason})`;
      }
    }
    return here;
  }

  protected whole(path: Path, at: string, none: string = reasons.missing): Code {
    const settled = this.settled(path);
    return this.part(settled, settled.segments.length, none, at);
  }

  /** What is assigned to, to store at a path. */
  protected target(path: Path, none: string, at: string): Code {
    const last = path.segments.at(-1);
    const base = this.part(path, path.segments.length - 1, none, at);
    if (last === undefined) return this.part(path, 0, none, at);
    if (last.kind === 'property') return code`${base}${property(last.name)}`;
    const of = last.kind === 'item' ? code`, ${data(last.key)}` : code``;
    const helper = { item: 'placeOf', entry: 'entryKey', position: 'placeIn' }[last.kind];
    return code`${base}[${this.helper(helper)}(${base}${of}, ${this.writer.print(last.value)}, ${data(none)}, ${data(at)})]`;
  }

  /** Refuses two items with one key, where storing at a path may have made them. */
  protected uniqueAfter(path: Path, at: string): Code | undefined {
    const found = path.segments.findIndex((segment, i) => {
      if (segment.kind !== 'item') return false;
      const next = path.segments[i + 1];
      return next === undefined || (next.kind === 'property' && next.name === segment.key);
    });
    const segment = path.segments[found];
    if (segment?.kind !== 'item') return undefined;
    return this.unique(this.part(path, found, reasons.missing, at), segment.key, at);
  }

  protected unique(list: Code, name: string, at: string): Code {
    return code`${this.helper('requireUnique')}(${list}, ${data(name)}, ${data(at)});`;
  }
}
