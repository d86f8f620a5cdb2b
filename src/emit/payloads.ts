import type { Action, Store } from '../model/application.js';
import { code, data, type Code } from './code.js';
import { pascal } from './identifiers.js';
import type { Imports } from './imports.js';
import type { Project } from './project.js';

/** The payload of an action that is asked for, judged: of its type, or the action is refused. What came as text always is. */
export function acceptedPayload(
  input: Code,
  project: Project,
  store: Store,
  action: Action,
  imports: Imports,
): Code {
  if (action.payload === undefined) return input;
  if (project.options.checks === 'never' && !action.acceptsText)
    return action.payloadDefault === undefined
      ? input
      : code`${input} === undefined ? ${data(action.payloadDefault)} : ${input}`;
  const name = `${pascal(store.name)}${pascal(action.name)}Payload`;
  const guard = project.guards.use(action.payload, name, imports);
  const at = data(`${store.name}.${action.name}`);
  const otherwise =
    action.payloadDefault === undefined ? code`` : code`, ${data(action.payloadDefault)}`;
  if (!action.acceptsText)
    return code`${imports.value('transaction', 'accept')}(${input}, ${guard}, ${at}${otherwise})`;
  const convert = project.conversions.use(action.payload, name, imports);
  return code`${imports.value('from-text', 'acceptText')}(${input}, ${convert}, ${guard}, ${at}${otherwise})`;
}

/** The line that judges a payload, and binds it if the action reads it. */
export function payloadLine(
  isRead: boolean,
  project: Project,
  store: Store,
  action: Action,
  imports: Imports,
): Code {
  const accepted = acceptedPayload(code`input`, project, store, action, imports);
  if (isRead) return code`const payload = ${accepted};`;
  return accepted.text === 'input' ? code`void input;` : code`${accepted};`;
}

/** The type in which a payload is given. */
export function givenType(project: Project, store: Store, action: Action, imports: Imports): Code {
  const type = project.types.payload(store, action, imports);
  return action.acceptsText ? code`${imports.type('from-text', 'FromText')}<${type}>` : type;
}

/** `?` after the name of a payload that may be left out. */
export function optionalMark({ payloadDefault }: Action): Code {
  return payloadDefault === undefined ? code`` : code`?`;
}
