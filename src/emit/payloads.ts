import type { Action } from '../model/application.js';
import { code, data, type Code } from './code.js';

/** The last argument of `accept`: what the payload is if none is given. */
export function defaultArgument({ payloadDefault }: Action): Code {
  return payloadDefault === undefined ? code`` : code`, ${data(payloadDefault)}`;
}

/** `?` after the name of a payload that may be left out. */
export function optionalMark({ payloadDefault }: Action): Code {
  return payloadDefault === undefined ? code`` : code`?`;
}
