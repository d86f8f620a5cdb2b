import { nearest } from '../../base/suggest.js';
import type { Span } from '../../base/source.js';
import type { Expr } from '../../model/expressions.js';
import { recordOf } from '../../model/fit.js';
import type { ItemChange, Choice, Path, Step } from '../../model/steps.js';
import { typeText } from '../../model/type-text.js';
import {
  isStructured,
  list,
  number,
  resolve,
  text,
  type RecordType,
  type Type,
} from '../../model/types.js';
import { entriesOf, textOf, valueOf, type Located } from '../syntax/located.js';
import { checkLocalName } from './infer/local-names.js';
import { objectOf } from './infer/objects.js';
import { requireFit } from './infer/inference.js';
import { requireCondition } from './infer/operators.js';
import { withLocals, type Scope } from './infer/scope.js';
import { keyTypeOf, lowerPath } from './lower-paths.js';
import { EntrySteps } from './lower-entry-steps.js';
import type { ListTarget } from './step-reading.js';

/** The steps that work on the items of a list or the entries of a dictionary. */
export class ListSteps extends EntrySteps {
  append(): Step | undefined {
    return this.#add("'append'", 'end');
  }

  prepend(): Step | undefined {
    return this.#add("'prepend'", 'start');
  }

  insert(): Step | undefined {
    const at = valueOf(this.body, 'at');
    if (at === undefined) return this.wrong("'insert' takes 'at': the position.");
    return this.#add("'insert'", this.fitting(at, number, 'A position'));
  }

  #add(what: string, place: 'end' | 'start' | Expr): Step | undefined {
    const target = this.list('to');
    const [one, several] = [valueOf(this.body, 'value'), valueOf(this.body, 'values')];
    const value = one ?? several;
    if (value === undefined || (one !== undefined && several !== undefined)) {
      return this.wrong(`${what} takes either 'value' or 'values'.`);
    }
    if (target === undefined) return void this.cx.read(value, this.scope);
    const many = one === undefined;
    const wanted = many ? list(target.item) : target.item;
    return {
      kind: 'add',
      ...this.base,
      to: target.path,
      place,
      value: this.fitting(value, wanted, what),
      many,
    };
  }

  put(): Step | undefined {
    const path = this.pathAt('in');
    const [one, several] = [valueOf(this.body, 'value'), valueOf(this.body, 'values')];
    const value = one ?? several;
    if (value === undefined || (one !== undefined && several !== undefined)) {
      return this.wrong("'put' takes either 'value' or 'values'.");
    }
    const many = one === undefined;
    if (path === undefined) return void this.cx.read(value, this.scope);
    const open = resolve(path.type, this.cx.types);
    const key = valueOf(this.body, 'key');
    if (open.kind === 'map') {
      if (key === undefined || many)
        return this.wrong("'put' into a dictionary takes a 'key' and a 'value'.");
      const keyExpr = this.fitting(key, text, 'A key of a dictionary');
      const fitting = this.fitting(value, open.value, "'put'");
      return { kind: 'put', ...this.base, in: path, key: keyExpr, value: fitting, many };
    }
    if (open.kind === 'list' && open.key !== undefined) {
      if (key !== undefined)
        return this.wrong("'put' into a keyed list takes no 'key': the item has it.");
      const wanted = many ? list(open.item) : open.item;
      return {
        kind: 'put',
        ...this.base,
        in: path,
        key: undefined,
        value: this.fitting(value, wanted, "'put'"),
        many,
      };
    }
    return this.wrong(
      `'put' is for dictionaries and keyed lists, but '${path.text}' is ${typeText(path.type, this.cx.types)}.`,
    );
  }

  update(): Step | undefined {
    const path = this.pathAt('in');
    if (path === undefined) return undefined;
    const entry = this.entryType(path);
    if (entry !== undefined) return this.#updateEntries(path, entry);
    const target = this.listAt(path);
    const record = target && this.#recordIn(target.item);
    const chosen = record && target && this.#chosen(target);
    if (chosen === undefined || record === undefined) return undefined;
    const { each, choice, none } = chosen;
    const changes = this.#changes(record, chosen.scope);
    return { kind: 'update', ...this.base, in: path, each, choice, changes, none };
  }

  #updateEntries(path: Path, entry: Type): Step | undefined {
    const record = this.#recordIn(entry);
    const chosen = record && this.chosenEntries(entry);
    if (chosen === undefined || record === undefined) return undefined;
    const { each, test } = chosen;
    const changes = this.#changes(record, chosen.scope);
    return { kind: 'updateEntries', ...this.base, in: path, each, test, changes };
  }

  #recordIn(item: Type): RecordType | undefined {
    return (
      recordOf(item, this.cx.types) ??
      this.wrong("'update' changes properties: it is for lists and dictionaries of objects.")
    );
  }

  #changes(record: RecordType, scope: Scope): ItemChange[] {
    return entriesOf(valueOf(this.body, 'set')).flatMap(({ key, keySpan, value }) =>
      this.#change(key, keySpan, value, record, scope),
    );
  }

  remove(): Step | undefined {
    const path = this.pathAt('from');
    if (path === undefined) return undefined;
    const entry = this.entryType(path);
    if (entry !== undefined) {
      const chosen = this.chosenEntries(entry);
      if (chosen === undefined) return undefined;
      const { each, test } = chosen;
      return { kind: 'removeEntries', ...this.base, from: path, each, test };
    }
    const target = this.listAt(path);
    const chosen = target && this.#chosen(target);
    if (chosen === undefined) return undefined;
    const { each, choice, none } = chosen;
    return { kind: 'remove', ...this.base, from: path, each, choice, none };
  }

  toggle(): Step | undefined {
    if (this.body.kind === 'scalar') {
      const path = lowerPath(this.body.text, this.scope, this.cx);
      if (path === undefined) return undefined;
      if (resolve(path.type, this.cx.types).kind === 'boolean') {
        return { kind: 'toggle', ...this.base, in: path, value: undefined };
      }
      return this.wrong(
        `'${path.text}' is not true or false but ${typeText(path.type, this.cx.types)}.`,
        path.span,
      );
    }
    const target = this.list('in');
    const value = valueOf(this.body, 'value');
    if (value === undefined) return this.wrong("'toggle' of a list takes a 'value'.");
    if (target === undefined) return void this.cx.read(value, this.scope);
    if (isStructured(target.item, this.cx.types)) {
      return this.wrong(
        `'toggle' is for lists of text or numbers, but '${target.path.text}' is ${typeText(target.path.type, this.cx.types)}.`,
      );
    }
    return {
      kind: 'toggle',
      ...this.base,
      in: target.path,
      value: this.fitting(value, target.item, "'toggle'"),
    };
  }

  move(): Step | undefined {
    const target = this.list('in');
    const [key, at, to] = [
      valueOf(this.body, 'key'),
      valueOf(this.body, 'at'),
      valueOf(this.body, 'to'),
    ];
    const place = key ?? at;
    if (to === undefined || place === undefined || (key !== undefined && at !== undefined)) {
      return this.wrong("'move' takes 'to', and either 'key' or 'at'.");
    }
    if (target === undefined) return undefined;
    if (key !== undefined && target.key === undefined) {
      return this.wrong("'key' is for keyed lists: give the list 'by', or use 'at'.");
    }
    const wanted =
      key === undefined || target.key === undefined
        ? number
        : keyTypeOf(target.item, target.key, this.cx);
    const from = {
      key: key === undefined ? undefined : target.key,
      value: this.fitting(place, wanted, "'move'"),
    };
    return {
      kind: 'move',
      ...this.base,
      in: target.path,
      from,
      to: this.fitting(to, number, 'A position'),
    };
  }

  /** The items that 'key' or 'where' picks, and the scope in which `each` names one. */
  #chosen(target: ListTarget) {
    const [key, where, each] = [
      valueOf(this.body, 'key'),
      valueOf(this.body, 'where'),
      valueOf(this.body, 'each'),
    ];
    if ((key === undefined) === (where === undefined))
      return this.wrong("Say which items: with either 'key' or 'where'.");
    if (each !== undefined && each.kind !== 'scalar')
      return this.wrong("Over a list 'each' is one name: that of an item.", each.span);
    const name = textOf(each) ?? 'it';
    if (each === undefined && where !== undefined)
      return this.wrong("'where' needs 'each': the name of one item in it.");
    if (each !== undefined) checkLocalName(this.cx, name, this.scope, each.span);
    const scope = each === undefined ? this.scope : withLocals(this.scope, [[name, target.item]]);
    const none = valueOf(this.body, 'none');
    if (where !== undefined) {
      if (none !== undefined)
        return this.wrong("'none' goes with 'key': 'where' may match nothing.", none.span);
      const test = this.cx.read(where, scope);
      requireCondition(this.cx, test, "'where'");
      return {
        each: name,
        scope,
        choice: { kind: 'where', test } satisfies Choice,
        none: undefined,
      };
    }
    if (target.key === undefined)
      return this.wrong("'key' is for keyed lists: give the list 'by', or use 'where'.");
    const value = this.fitting(
      key as Located,
      keyTypeOf(target.item, target.key, this.cx),
      `The key '${target.key}'`,
    );
    return {
      each: name,
      scope,
      choice: { kind: 'key', key: target.key, value } satisfies Choice,
      none: textOf(none),
    };
  }

  #change(name: string, span: Span, node: Located, record: RecordType, scope: Scope): ItemChange[] {
    if (name === '...') return this.#spreadChange(node, record, scope);
    const field = record.fields.find((candidate) => candidate.name === name);
    if (field === undefined) {
      const near = nearest(
        name,
        record.fields.map((candidate) => candidate.name),
      );
      this.cx.problems.add('no-such-property', span, { name, of: 'The item', near });
      return [];
    }
    const value = this.cx.read(node, scope, field.type);
    requireFit(this.cx, value, field.type, `'${name}'`);
    return [{ kind: 'property', name, type: field.type, value }];
  }

  #spreadChange(node: Located, record: RecordType, scope: Scope): ItemChange[] {
    const value = this.cx.read(node, scope);
    const spread = resolve(value.type, this.cx.types);
    if (spread.kind !== 'record') {
      if (value.type.kind !== 'unknown') requireFit(this.cx, value, record, "'...'");
      return [];
    }
    const optional = {
      kind: 'record',
      fields: record.fields.map((field) => ({ ...field, optional: true })),
    } as const;
    requireFit(this.cx, { type: spread, span: value.span }, optional, "'...'");
    return [{ kind: 'spread', value: objectOf(this.cx, [{ kind: 'spread', value }], value.span) }];
  }
}
