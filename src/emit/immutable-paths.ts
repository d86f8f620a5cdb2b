import type { Path, Segment } from '../model/steps.js';
import { resolve, type Type } from '../model/types.js';
import type { ActionWriter } from './action-writer.js';
import { arrowValue, code, data, id, key, property, type Code } from './code.js';
import { pascal } from './identifiers.js';

/** Whether a list takes no item twice, so that changing one may be a misfit. */
function isDistinctList(type: Type): boolean {
  return type.kind === 'list' && type.bounds?.uniqueItems === true;
}

/** How what stands at the paths of a step is replaced, and judged, where fields hold values that never change. */
export class ImmutablePaths {
  constructor(readonly writer: ActionWriter) {}

  /** The path with keys that are more than a name held in constants, so that they are computed once. */
  protected settled(path: Path, lines: Code[]): Path {
    const segments = path.segments.map((segment): Segment =>
      segment.kind === 'property'
        ? segment
        : { ...segment, value: this.writer.once(segment.value, `${path.field}Key`, lines) },
    );
    return { ...path, segments };
  }

  /** The new value of the path's field, in which what stands at the path is changed. */
  protected along(
    path: Path,
    at: string,
    none: string,
    change: (old: Code) => Code,
    replaces = false,
  ): Code {
    const { writer } = this;
    const field = writer.store.fields.find(({ name }) => name === path.field);
    if (field === undefined) throw new Error(`no field '${path.field}'`);
    // A field that is replaced as a whole is not read.
    if (replaces && path.segments.length === 0) return change(code``);
    const walk = (old: Code, type: Type, segments: readonly Segment[]): Code => {
      const [segment, ...rest] = segments;
      const open = resolve(type, writer.types);
      if (segment === undefined)
        return replaces ? change(old) : this.bounded(change(old), open, path, at);
      if (segment.kind === 'property') {
        const own =
          open.kind === 'record'
            ? open.fields.find(({ name }) => name === segment.name)
            : undefined;
        return code`{ ...${old}, ${key(segment.name)}: ${walk(code`${old}${property(segment.name)}`, own?.type ?? type, rest)} }`;
      }
      const below: Type =
        open.kind === 'list' ? open.item : open.kind === 'map' ? open.value : type;
      const part = id(writer.names.inner().allocate(segment.kind === 'entry' ? 'entry' : 'item'));
      const inner = walk(part, below, rest);
      const param = replaces && rest.length === 0 ? code`` : part;
      const arrow = code`(${param}) => ${arrowValue(inner)}`;
      const tail = code`${arrow}, ${data(none)}, ${data(at)}`;
      const place = writer.print(segment.value);
      if (segment.kind === 'item') {
        const helper = writer.imports.value('changes', 'changeItem');
        const changed = code`${helper}(${old}, ${data(segment.key)}, ${place}, ${tail})`;
        const [last] = rest;
        const touchesKey =
          last === undefined ? replaces : last.kind === 'property' && last.name === segment.key;
        const unique = touchesKey ? this.unique(changed, segment.key, at) : changed;
        return isDistinctList(open) ? this.bounded(unique, open, path, at) : unique;
      }
      const name = segment.kind === 'entry' ? 'changeEntry' : 'changeAt';
      const changed = code`${writer.imports.value('changes', name)}(${old}, ${place}, ${tail})`;
      return isDistinctList(open) ? this.bounded(changed, open, path, at) : changed;
    };
    // Read anew, not from what a condition has bound: an entry before may have stored to the same field.
    return walk(writer.style.field(writer.store.name, path.field), field.type, path.segments);
  }

  /** A list that was changed, judged as a whole where its type bounds it. */
  protected bounded(list: Code, type: Type, path: Path, at: string): Code {
    const { guards, imports, store } = this.writer;
    if (type.kind !== 'list' || type.bounds === undefined || guards.checks === 'never') return list;
    const guard = guards.use(type, `${pascal(store.name)}${pascal(path.field)}`, imports);
    return code`${imports.value('transaction', 'fit')}(${list}, ${guard}, ${data(at)})`;
  }

  protected unique(list: Code, keyName: string, at: string): Code {
    const helper = this.writer.imports.value('changes', 'requireUnique');
    return code`${helper}(${list}, ${data(keyName)}, ${data(at)})`;
  }
}
