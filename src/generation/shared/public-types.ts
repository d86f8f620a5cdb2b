import { hasTasks } from '../../model/application.js';
import { code, data, joined, word, type Code } from '../build/code.js';
import { logExports } from './logged.js';
import type { Output } from './output.js';

/** How a type of the run time is called by those outside: where the schema has a type of the same name, `Store...`. */
export const publicName = ({ types }: Output, name: string): string =>
  types.has(name) ? `Store${name}` : name;

/** What every entry gives besides its functions: types of the run time and those of the schema, and for readers what compares values. */
export function exportTypes(
  output: Output,
  own: Readonly<Record<string, readonly string[]>> = {},
): Code[] {
  const modules: Readonly<Record<string, readonly string[]>> = {
    ...own,
    watchable: ['Watchable', 'Observer', 'Subscription'],
    transaction: ['Outcome', 'Problem'],
    ...(hasTasks(output.application)
      ? { 'task-outcomes': ['StartOutcome', 'Ended', 'TaskError', 'TaskReadings', 'Timers'] }
      : {}),
  };
  const lines = Object.entries(modules).map(([file, names]) => {
    const listed = names.map((name) => {
      const own = publicName(output, name);
      return own === name ? word(name) : code`${word(name)} as ${word(own)}`;
    });
    return code`export type { ${joined(listed, ', ')} } from ${data(`./runtime/${file}.js`)};`;
  });
  const values =
    output.options.readers.length === 0
      ? []
      : [code`export { keeper, same } from ${data('./runtime/values.js')};`];
  if (output.options.begin === 'state')
    values.push(code`export { initialStates } from ${data('./initial.js')};`);
  return [
    joined(
      [...values, ...logExports(output), ...lines, code`export type * from ${data('./types.js')};`],
      '\n',
    ),
  ];
}
