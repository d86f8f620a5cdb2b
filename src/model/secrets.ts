import type { Application } from './application.js';
import { operationNamed } from './application.js';
import type { Type, TypeTable } from './types.js';

/**
 * Where secrets are in a value: the whole value, what a named type says, or in parts of it. `items` are those of a list, and
 * the entries of a dictionary.
 */
export type SecretShape =
  | true
  | string
  | { readonly fields?: Readonly<Record<string, SecretShape>>; readonly items?: SecretShape };

/** Where secrets are in an application; nothing where there are none. */
export interface Secrets {
  /** By the name of a type. */
  readonly types: Readonly<Record<string, SecretShape>>;
  /** The state of all stores. */
  readonly state: SecretShape | undefined;
  /** Of actions and of starts, `deck.admit`; and of what comes of calls: `timetable.load.finish`, `.each`, `.fail`. */
  readonly payloads: Readonly<Record<string, SecretShape>>;
}

/** Where secrets are in an application; `undefined` if it has none. */
export function secretsOf(application: Application): Secrets | undefined {
  const { types, stores } = application;
  if (![...types.values()].some(({ secret }) => secret === true)) return undefined;
  const holding = namesHolding(types);
  const shapeOf = (type: Type | undefined): SecretShape | undefined =>
    type && shapeIn(type, types, holding);
  const states = stores.flatMap(({ name, single, fields }) => {
    const shape = single
      ? shapeOf(fields[0]?.type)
      : fieldsShape(fields.map((field) => [field.name, shapeOf(field.type)]));
    return shape === undefined ? [] : [[name, shape] as const];
  });
  const payloads: [string, SecretShape | undefined][] = [];
  for (const store of stores) {
    for (const { name, payload } of [...store.actions, ...store.tasks])
      payloads.push([`${store.name}.${name}`, shapeOf(payload)]);
    for (const { name, operation } of store.tasks) {
      if (operation === undefined) continue;
      const { result, results, error } = operationNamed(application, operation);
      const failed = shapeOf(error);
      const task = `${store.name}.${name}`;
      payloads.push([`${task}.finish`, shapeOf(result)], [`${task}.each`, shapeOf(results)]);
      payloads.push([`${task}.fail`, failed && { fields: { data: failed } }]);
    }
  }
  return {
    types: Object.fromEntries(
      [...types.values()].flatMap(({ name, type, secret }) => {
        const shape = secret === true ? true : shapeOf(type);
        return shape === undefined ? [] : [[name, shape] as const];
      }),
    ),
    state: fieldsShape(states),
    payloads: Object.fromEntries(
      payloads.flatMap(([name, shape]) => (shape === undefined ? [] : [[name, shape] as const])),
    ),
  };
}

/** The named types that are secret, or hold something that is. */
function namesHolding(types: TypeTable): ReadonlySet<string> {
  const holding = new Set<string>();
  for (let before = -1; before < holding.size;) {
    before = holding.size;
    for (const { name, type, secret } of types.values())
      if (secret === true || shapeIn(type, types, holding) !== undefined) holding.add(name);
  }
  return holding;
}

function shapeIn(
  type: Type,
  types: TypeTable,
  holding: ReadonlySet<string>,
): SecretShape | undefined {
  const within = (inner: Type) => shapeIn(inner, types, holding);
  const items = (inner: Type): SecretShape | undefined => {
    const shape = within(inner);
    return shape === undefined ? undefined : { items: shape };
  };
  switch (type.kind) {
    case 'named':
      if (!holding.has(type.name)) return undefined;
      return types.get(type.name)?.secret === true ? true : type.name;
    case 'list':
      return items(type.item);
    case 'map':
      return items(type.value);
    case 'record':
      return fieldsShape(type.fields.map((field) => [field.name, within(field.type)]));
    case 'union':
      return type.members.map(within).reduce(merged, undefined);
    case 'string':
    case 'number':
    case 'boolean':
    case 'null':
    case 'absent':
    case 'literal':
    case 'tuple':
    case 'never':
    case 'unknown':
      return undefined;
  }
}

function fieldsShape(
  entries: readonly (readonly [string, SecretShape | undefined])[],
): SecretShape | undefined {
  const fields = entries.flatMap(([name, shape]) =>
    shape === undefined ? [] : [[name, shape] as const],
  );
  return fields.length === 0 ? undefined : { fields: Object.fromEntries(fields) };
}

/** The secret parts of both; a name and parts of a value do not go together, so the whole is secret then. */
function merged(
  one: SecretShape | undefined,
  other: SecretShape | undefined,
): SecretShape | undefined {
  if (one === undefined || other === undefined) return one ?? other;
  if (typeof one !== 'object' || typeof other !== 'object') return one === other ? one : true;
  const names = new Set([...Object.keys(one.fields ?? {}), ...Object.keys(other.fields ?? {})]);
  const fields = [...names].map((name) => [
    name,
    merged(one.fields?.[name], other.fields?.[name]) as SecretShape,
  ]);
  const items = merged(one.items, other.items);
  return {
    ...(fields.length > 0 && { fields: Object.fromEntries(fields) as Record<string, SecretShape> }),
    ...(items !== undefined && { items }),
  };
}
