import type { Argv } from 'yargs';
import { Unusable } from '../io.js';
import type { Group, Option, Options } from './option.js';

const headings: Readonly<Record<Group, string>> = {
  what: 'What:',
  'how long': 'How long it searches:',
  output: 'What is printed and written:',
};

const groups = Object.keys(headings) as readonly Group[];

/** Options as the parser takes them, group by group. */
export function withOptions(yargs: Argv, own: Options): Argv {
  for (const group of groups)
    for (const [name, option] of Object.entries(own))
      if ((option.group ?? 'what') === group)
        yargs.option(name, { ...parsed(option), group: headings[group] });
  return yargs;
}

function parsed(option: Option): object {
  const { describe } = option;
  if (option.kind === 'flag') return { describe, type: 'boolean', default: false };
  const start = option.default === undefined ? {} : { default: option.default };
  const { required = false } = option;
  const common = { describe, requiresArg: true, demandOption: required, ...start };
  if (option.kind === 'choice') return { ...common, choices: option.of };
  const isText = option.kind === 'text' || option.kind === 'path' || option.kind === 'names';
  return { ...common, type: isText ? 'string' : 'number' };
}

/** True if an option is a list with commas: given several times, they add up. */
export const isList = (own: Options, name: string): boolean =>
  Object.hasOwn(own, name) && own[name]?.kind === 'names';

/** Refuses numbers that an option does not take. Throws {@link Unusable}. */
export function requireNumbers(own: Options, args: Readonly<Record<string, unknown>>): void {
  for (const [name, option] of Object.entries(own)) {
    const value = args[name];
    if (typeof value !== 'number') continue;
    const wanted = wantedIn(option, value);
    if (wanted !== undefined && 'example' in option)
      throw new Unusable(`--${name} takes ${wanted}.`, `For example --${name} ${option.example}.`);
  }
}

/** What an option takes in place of a number; `undefined` if it takes that. */
function wantedIn(option: Option, value: number): string | undefined {
  switch (option.kind) {
    case 'whole': {
      const { least = 1, most = Infinity } = option;
      if (Number.isInteger(value) && (least === null || value >= least) && value <= most)
        return undefined;
      if (least === null) return 'a whole number';
      return `a whole number from ${least}${most === Infinity ? '' : ` to ${most}`}`;
    }
    case 'seconds':
      return value > 0 ? undefined : 'a number of seconds';
    case 'percent':
      return value >= 0 && value <= 100 ? undefined : 'percent';
    case 'flag':
    case 'text':
    case 'path':
    case 'names':
    case 'choice':
      return undefined;
  }
}

/** How an option is called now that was called otherwise before. */
export const renamed = (own: Options, name: string): string | undefined =>
  Object.keys(own).find((one) => own[one]?.was === name);
