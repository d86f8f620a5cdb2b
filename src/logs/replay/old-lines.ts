import { isAnswer, type LogLine } from '../log/log-lines.js';
import type { KnownNames } from './known-names.js';

/** A line that the schema has, what is missing in it, or a name that the schema does not have. */
export type OldLine =
  { readonly line: LogLine } | { readonly missing: string } | { readonly unknown: string };

/**
 * A line of an old application's log in the way of the stores' own: what is done follows from what it is about, an action or a
 * task, and an answer is one though nothing says so.
 */
export function oldLine(logged: LogLine, names: KnownNames): OldLine {
  const { run: _, ...line } = logged;
  const { do: name, kind = 'action', operation } = line;
  if (isAnswer(line)) {
    if (operation === undefined ? !names.calls(name) : !names.hasOperation(operation))
      return { missing: missingIn(line, names) };
    return { line: { ...line, by: 'answer' } };
  }
  const isWork = kind === 'action' || kind === 'start' || line.by === 'timer';
  if (!isWork) return names.has(line) ? { line } : { missing: missingIn(line, names) };
  const own = names.isTask(name) ? 'start' : 'action';
  const found = { ...line, kind: own } as const;
  return names.has(found) ? { line: found } : { unknown: name };
}

/** What keeps a line from being done, and what would help. */
function missingIn({ do: name, kind = 'action', operation }: LogLine, names: KnownNames): string {
  if (operation !== undefined)
    return `${operation} is no operation of the schema's services: 'operation' is written as office.crossingsOn`;
  if (names.isTask(name)) return `${name} calls no service: nothing can be answered`;
  if (names.isAction(name))
    return kind === 'cancel'
      ? `${name} is an action, which cannot be cancelled`
      : `'operation' is missing: ${name} is an action, and nothing says which call was answered`;
  if (kind === 'undo' || kind === 'redo' || kind === 'attach')
    return `${name} is no store for '${kind}'`;
  return `${name} is no task of the schema: the mapping's 'actions' says which it is, or 'operation' in the line which call was answered`;
}
