import type { Derived, Parameter } from '../../model/application.js';
import { Name } from '../build/code.js';
import { localsRead } from './expression-facts.js';

/** The parameters of a derived value, each with its name in the output; what the value does not read says so. */
export function parametersOf({
  params,
  value,
}: Pick<Derived, 'params' | 'value'>): readonly (Parameter & { readonly own: Name })[] {
  const read = new Set(localsRead(value));
  return params.map((param) => ({
    ...param,
    own: new Name(read.has(param.name) ? param.name : `_${param.name}`),
  }));
}
