import { escapePointer } from '../../base/json.js';
import {
  deedsOf,
  exprOf,
  exprsBesideSteps,
  type Application,
  type Store,
} from '../../model/application.js';
import { walkExpr, type Expr } from '../../model/expressions.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';
import { exprsOfTask } from '../../model/tasks.js';
import { membersOf, type Type, type TypeTable } from '../../model/types.js';

/** The parts of a payload that are free text, by their JSON Pointers: none of them is an identifier that a store has made. */
export type FreeTexts = ReadonlySet<string>;

/**
 * What actions and tasks, by `deck.admit`, take as free text: it has bounds or a format, or letters of it are looked at, or it is
 * stored where that is so.
 */
export function freeTextsOf(application: Application): ReadonlyMap<string, FreeTexts> {
  const readByLetter = new Set(application.stores.flatMap(fieldsReadByLetter));
  return new Map(
    application.stores.flatMap((store) => freeTextsIn(store, application.types, readByLetter)),
  );
}

function freeTextsIn(
  store: Store,
  types: TypeTable,
  readByLetter: ReadonlySet<string>,
): readonly (readonly [string, FreeTexts])[] {
  const found = new Map<string, Set<string>>();
  for (const { name, payload } of [...store.actions, ...store.tasks])
    found.set(
      `${store.name}.${name}`,
      new Set(payload === undefined ? [] : boundParts(payload, types, '')),
    );
  const note = (name: string, part: string | undefined) => {
    if (part !== undefined) found.get(name)?.add(part);
  };
  for (const { at, requires, let: bindings, steps } of deedsOf(store)) {
    const name = at.split('.').slice(0, 2).join('.');
    const all = allSteps(steps);
    const exprs = [
      ...requires.map(exprOf),
      ...bindings.map(({ value }) => value),
      ...all.flatMap(exprsOf),
    ];
    for (const read of exprs.flatMap(readByLetters)) note(name, partOfPayload(read));
    for (const step of all)
      if (step.kind === 'set')
        for (const { path, value } of step.entries)
          if (path.segments.length === 0 && readByLetter.has(`${store.name}.${path.field}`))
            note(name, partOfPayload(value));
  }
  for (const task of store.tasks)
    for (const read of exprsOfTask(task).flatMap(readByLetters))
      note(`${store.name}.${task.name}`, partOfPayload(read));
  return [...found];
}

/** Parts of a type that are texts with bounds or a format: identifiers have none. */
function boundParts(type: Type, types: TypeTable, at: string, depth = 0): readonly string[] {
  if (depth > mostDepth) return [];
  return membersOf(type, types).flatMap((member) => {
    if (member.kind === 'string') return Object.keys(member.bounds).length > 0 ? [at] : [];
    if (member.kind !== 'record') return [];
    return member.fields.flatMap((field) =>
      boundParts(field.type, types, `${at}/${escapePointer(field.name)}`, depth + 1),
    );
  });
}

const mostDepth = 5;

const fieldsReadByLetter = (store: Store): readonly string[] =>
  [
    ...exprsBesideSteps(store),
    ...deedsOf(store).flatMap(({ steps }) => allSteps(steps).flatMap(exprsOf)),
  ]
    .flatMap(readByLetters)
    .flatMap((read) => (read.kind === 'field' ? [`${read.store}.${read.name}`] : []));

/** The texts in an expression whose letters are looked at: by methods, by their order, or by a position. */
function readByLetters(expr: Expr): readonly Expr[] {
  const read: Expr[] = [];
  walkExpr(expr, (node) => {
    if (node.kind === 'method' && node.object.type.kind === 'string') read.push(node.object);
    if (node.kind === 'index' && node.of === 'text') read.push(node.object);
    if (node.kind === 'binary' && ordering.has(node.operator)) read.push(node.left, node.right);
  });
  return read;
}

const ordering: ReadonlySet<string> = new Set(['+', '<', '<=', '>', '>=']);

/** The pointer of a part of the payload; `undefined` for any other expression. */
function partOfPayload(expr: Expr): string | undefined {
  if (expr.kind === 'local') return expr.name === 'payload' ? '' : undefined;
  if (expr.kind !== 'member') return undefined;
  const outer = partOfPayload(expr.object);
  return outer === undefined ? undefined : `${outer}/${expr.name}`;
}
