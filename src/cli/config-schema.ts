import type { Option, Options } from './options/option.js';
import { inProject, options } from './options/table.js';

const text = { type: 'string', minLength: 1 } as const;

/** What a project file may say for an option, as JSON Schema. */
function valueOf(option: Option): object {
  const { describe: description } = option;
  switch (option.kind) {
    case 'flag':
      return { description, type: 'boolean' };
    case 'text':
    case 'path':
      // A number stands for itself: `faults: 20`.
      return { description, anyOf: [text, { type: 'number' }] };
    case 'names': {
      const items = option.of === undefined ? text : { enum: option.of };
      const list = { type: 'array', items, minItems: 1, uniqueItems: true };
      return { description: `${description} (or a list)`, anyOf: [list, text] };
    }
    case 'choice':
      return { description, enum: option.of };
    case 'whole': {
      const { least = 1, most } = option;
      const bounds = { ...(least !== null && { minimum: least }), ...(most && { maximum: most }) };
      return { description, type: 'integer', ...bounds };
    }
    case 'seconds':
      return { description, type: 'number', exclusiveMinimum: 0 };
    case 'percent':
      return { description, type: 'number', minimum: 0, maximum: 100 };
  }
}

const closed = (description: string, properties: Readonly<Record<string, object>>) => ({
  description,
  type: 'object',
  additionalProperties: false,
  properties,
});

const ofCommand = (command: string, own: Options) => [
  command,
  closed(
    `Options of ${command}.`,
    Object.fromEntries(Object.entries(own).map(([name, option]) => [name, valueOf(option)])),
  ),
];

/** The JSON Schema of the project file: the options of the commands, by the names that they have there. */
export const configSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Leeshore project file',
  ...closed('What the commands do when the command line does not say otherwise.', {
    files: {
      description: 'the schema files, folders or patterns for them, relative to this file',
      type: 'array',
      items: text,
      minItems: 1,
    },
    ...(Object.fromEntries(
      inProject.map((command) => ofCommand(command, options[command])),
    ) as Readonly<Record<string, object>>),
  }),
} as const;
