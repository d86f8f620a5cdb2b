import type { Parameter } from '../../model/application.js';
import { code, entry, Name, named, object, type Code } from '../build/code.js';
import type { Module } from '../build/module.js';
import type { Output } from './output.js';
import { boundType } from './payloads.js';

/** Something that is given by name, as a function calls it. */
export type Bound = Parameter & { readonly own: Name };

/** What is given by name, each with a name of its own. */
export const boundOf = (given: readonly Parameter[]): readonly Bound[] =>
  given.map((one) => ({ ...one, own: new Name(one.name) }));

/** What is given by name, taken apart: `{ result }`. */
export const boundPattern = (bound: readonly Bound[]): Code =>
  object(bound.map(({ name, own }) => entry(name, named(own))));

/** The parameters of what is given a payload, if it reads that, and more by name, if it reads any of it. */
export function payloadParameters(
  output: Output,
  module: Module,
  payload: Name | undefined,
  type: Code,
  bound: readonly Bound[],
): { readonly names: readonly Name[]; readonly written: Code[] } {
  if (payload === undefined && bound.length === 0) return { names: [], written: [] };
  const own = payload ?? new Name('_payload');
  const first = code`${own}: ${type}`;
  if (bound.length === 0) return { names: [own], written: [first] };
  return {
    names: [own, ...bound.map((one) => one.own)],
    written: [first, code`${boundPattern(bound)}: ${boundType(output, module, bound)}`],
  };
}
