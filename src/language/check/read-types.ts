import { nearest } from '../../base/suggest.js';
import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import {
  boolean,
  integer,
  literal,
  nothing,
  number,
  text,
  union,
  unknown,
  type RecordField,
  type Type,
  type TypeTable,
} from '../../model/types.js';
import {
  entriesOf,
  itemsOf,
  textOf,
  valueOf,
  type Located,
  type LocatedEntry,
  type LocatedMap,
} from '../syntax/located.js';
import { whyNoName } from './names.js';
import { aboutType, notes } from './type-notes.js';
import { OpenTypes } from './open-types.js';
import {
  listBounds,
  listKeywords,
  numberBounds,
  numberKeywords,
  textBounds,
  textKeywords,
} from './read-bounds.js';

/** The types that need no definition, by their names. */
export const scalars: ReadonlyMap<string, Type> = new Map([
  ['string', text],
  ['number', number],
  ['integer', integer],
  ['boolean', boolean],
  ['null', nothing],
]);

/** The shapes in which a type is written, each by the keyword that tells it, with the keywords it may have. */
const shapes: Readonly<Record<string, readonly string[]>> = {
  list: ['by', ...listKeywords],
  map: [],
  maybe: [],
  fields: ['optional'],
  $ref: [],
  oneOf: [],
  enum: ['type'],
  const: ['type'],
  type: [
    ...numberKeywords,
    ...textKeywords,
    'format',
    ...listKeywords,
    'items',
    'properties',
    'required',
    'additionalProperties',
  ],
};

/** Reads types from located data; problems go to `problems`. */
export class TypeReader {
  readonly #open = new OpenTypes();

  constructor(
    readonly names: ReadonlySet<string>,
    readonly problems: Problems,
  ) {}

  /**
   * `own` is true directly under a field, a value or a payload, where a `default` may stand; `isNamed` under a name, where
   * `secret` may.
   */
  read(node: Located, own: boolean, isNamed = false): Type {
    if (node.kind === 'scalar' && typeof node.value === 'string')
      return this.#named(node.value, node.span);
    if (node.kind !== 'map')
      return this.#bad(
        node.span,
        'This is no type.',
        'Write a name, or a mapping such as { list: Vehicle }.',
      );
    const shape = Object.keys(shapes).find((keyword) =>
      node.entries.some(({ key }) => key === keyword),
    );
    const allowed = new Set([
      ...(shape === undefined ? [] : [shape, ...(shapes[shape] ?? [])]),
      ...notes,
    ]);
    let fine = true;
    for (const entry of node.entries) {
      if (entry.key === 'default' && !own)
        this.problems.add('misplaced-default', entry.keySpan, {});
      if (entry.key === 'secret') {
        if (!isNamed) fine = this.#refuseSecret(entry);
      } else if (!allowed.has(entry.key)) fine = this.#refuse(entry, shape);
    }
    if (shape === undefined) {
      return fine
        ? this.#bad(
            node.span,
            'This says no type.',
            "Add 'type', or use { list: ... }, { map: ... }, { maybe: ... }, { fields: ... }.",
          )
        : unknown;
    }
    return this.#shaped(shape, node);
  }

  /** Problems that can be seen only when all named types are known. */
  finish(types: TypeTable): void {
    this.#open.finish(types, this.problems, this.#refuseType);
  }

  #refuse({ key, keySpan }: LocatedEntry, shape: string | undefined): false {
    const known = [
      ...new Set([...Object.keys(shapes), ...Object.values(shapes).flat(), ...notes, 'secret']),
    ];
    if (known.includes(key)) this.#bad(keySpan, `'${key}' does not go with '${shape ?? ''}'.`);
    else this.problems.add('unknown-keyword', keySpan, { keyword: key, near: nearest(key, known) });
    return false;
  }

  #refuseSecret({ keySpan }: LocatedEntry): false {
    const hint =
      'Give the type a name, for example types: { Token: { type: string, secret: true } }.';
    this.#bad(keySpan, "'secret' stands on a type under 'types'.", hint);
    return false;
  }

  readonly #refuseType = (span: Span, detail: string, hint?: string): void => {
    this.#bad(span, detail, hint);
  };

  #bad(span: Span, detail: string, hint?: string): Type {
    this.problems.add('bad-type', span, { detail, hint });
    return unknown;
  }

  #named(name: string, span: Span): Type {
    const scalar = scalars.get(name);
    if (scalar !== undefined) return scalar;
    if (this.names.has(name)) return { kind: 'named', name };
    this.problems.add('unknown-type', span, {
      name,
      near: nearest(name, [...this.names, ...scalars.keys()]),
    });
    return unknown;
  }

  #shaped(shape: string, node: LocatedMap): Type {
    const value = valueOf(node, shape) as Located;
    switch (shape) {
      case 'list':
        return this.#list(value, node, valueOf(node, 'by'));
      case 'map':
        return { kind: 'map', value: this.read(value, false) };
      case 'maybe':
        return union([this.read(value, false), nothing]);
      case 'fields': {
        const optional = new Set(
          itemsOf(valueOf(node, 'optional')).map((item) => textOf(item) ?? ''),
        );
        return this.#record(value, (name) => optional.has(name), valueOf(node, 'optional'));
      }
      case 'oneOf':
        return this.#tagged(value);
      case '$ref':
        return this.#reference(value);
      case 'enum':
        return this.#enum(value);
      case 'const':
        return this.#literal(value);
      default:
        return this.#typed(value, node);
    }
  }

  #list(item: Located, node: LocatedMap, by: Located | undefined): Type {
    const type = this.read(item, false);
    const limits = listBounds(node, this.#refuseType);
    const bounds = Object.keys(limits).length === 0 ? {} : { bounds: limits };
    if (by === undefined) return { kind: 'list', item: type, ...bounds };
    const key = textOf(by);
    if (key === undefined) return this.#bad(by.span, "'by' names a property of the items.");
    if (type.kind !== 'unknown') this.#open.keyed.push({ item: type, key, span: by.span });
    return { kind: 'list', item: type, key, ...bounds };
  }

  #reference(node: Located): Type {
    const target = textOf(node) ?? '';
    if (!target.startsWith('#/types/')) {
      return this.#bad(
        node.span,
        "'$ref' leads to a type of this file: '#/types/NAME'.",
        'Put it in quotes: # starts a comment.',
      );
    }
    return this.#named(target.slice('#/types/'.length), node.span);
  }

  #enum(node: Located): Type {
    const items = itemsOf(node);
    if (items.length === 0)
      return this.#bad(node.span, "'enum' is a list of values: [port, centre].");
    return union(items.map((item) => this.#literal(item)));
  }

  #literal(node: Located): Type {
    if (node.kind === 'scalar') return node.value === null ? nothing : literal(node.value);
    return this.#bad(node.span, 'Only text, numbers, true, false and null can stand here.');
  }

  #typed(node: Located, map: LocatedMap): Type {
    if (node.kind === 'map') return this.#nested(node, map);
    const names = node.kind === 'list' ? node.items : [node];
    if (names.length === 0)
      return this.#bad(node.span, "'type' names a type, or a list of them: [string, 'null'].");
    return union(names.map((name) => this.#one(textOf(name) ?? '', name, map)));
  }

  /** `{ type: { enum: [...] }, default: ... }`: the type as a whole, with what stands beside it. */
  #nested(node: LocatedMap, { entries }: LocatedMap): Type {
    for (const { key, keySpan } of entries)
      if (key !== 'type' && key !== 'secret' && !notes.has(key))
        this.#bad(keySpan, `'${key}' stands within the braces of 'type'.`);
    return this.read(node, false);
  }

  #one(name: string, node: Located, map: LocatedMap): Type {
    switch (name) {
      case 'string':
        return {
          kind: 'string',
          bounds: textBounds(map, this.#refuseType),
        };
      case 'number':
      case 'integer':
        return {
          kind: 'number',
          integer: name === 'integer',
          bounds: numberBounds(map, this.#refuseType),
          finite: true,
        };
      case 'boolean':
        return boolean;
      case 'null':
        return nothing;
      case 'array': {
        const items = valueOf(map, 'items');
        return items === undefined
          ? this.#bad(node.span, "A list needs 'items'.")
          : this.#list(items, map, undefined);
      }
      case 'object':
        return this.#object(map);
      default:
        if (this.names.has(name)) {
          const detail = `'type' takes what JSON Schema has; '${name}' is a type of this schema.`;
          const hint = `Write $ref: '#/types/${name}' in place of it.`;
          this.problems.add('bad-type', node.span, { detail, hint });
          return { kind: 'named', name };
        }
        this.problems.add('unknown-type', node.span, {
          name,
          near: nearest(name, [...scalars.keys(), 'array', 'object']),
        });
        return unknown;
    }
  }

  #object(map: LocatedMap): Type {
    const additional = valueOf(map, 'additionalProperties');
    const properties = valueOf(map, 'properties');
    if (additional !== undefined && !(additional.kind === 'scalar' && additional.value === false)) {
      if (properties !== undefined)
        return this.#bad(
          additional.span,
          'An object has either properties or additionalProperties.',
        );
      return { kind: 'map', value: this.read(additional, false) };
    }
    if (properties === undefined)
      return this.#bad(map.span, "An object needs 'properties' or 'additionalProperties'.");
    const required = new Set(itemsOf(valueOf(map, 'required')).map((item) => textOf(item) ?? ''));
    return this.#record(properties, (name) => !required.has(name), valueOf(map, 'required'));
  }

  #record(
    properties: Located,
    isOptional: (name: string) => boolean,
    named: Located | undefined,
  ): Type {
    if (properties.kind !== 'map')
      return this.#bad(
        properties.span,
        'The fields of an object are a mapping from names to types.',
      );
    const fields = entriesOf(properties).map((entry): RecordField => {
      const why = whyNoName(entry.key);
      if (why !== undefined) this.problems.add('bad-name', entry.keySpan, { name: entry.key, why });
      const about = aboutType(entry.value);
      const type = this.read(entry.value, false);
      return {
        name: entry.key,
        type,
        optional: isOptional(entry.key),
        ...(about === undefined ? {} : { about }),
      };
    });
    const names = fields.map(({ name }) => name);
    for (const item of itemsOf(named)) {
      const name = textOf(item) ?? '';
      if (!names.includes(name)) {
        this.problems.add('no-such-property', item.span, {
          name,
          of: 'The object',
          near: nearest(name, names),
        });
      }
    }
    return { kind: 'record', fields };
  }

  /** One of several objects, told apart by a property that has another constant value in each. */
  #tagged(node: Located): Type {
    const items = itemsOf(node);
    if (items.length === 0) return this.#bad(node.span, "'oneOf' is a list of objects.");
    const members = items.map((item) => this.read(item, false));
    if (!members.some(({ kind }) => kind === 'unknown'))
      this.#open.unions.push({ members, span: node.span });
    return union(members);
  }
}
