import {
  beginChoices,
  checkChoices,
  frameworks,
  guardChoices,
  languages,
  layouts,
  searches,
  styles,
} from '../core.js';

const text = { type: 'string', minLength: 1 } as const;
const flag = { type: 'boolean' } as const;
const names = {
  description: 'a list, or names with commas',
  anyOf: [{ type: 'array', items: text, minItems: 1 }, text],
} as const;
const style = {
  description: 'which styles; all if not given',
  anyOf: [{ type: 'array', items: { enum: styles }, minItems: 1, uniqueItems: true }, text],
} as const;

const readers = {
  description: 'frameworks whose components read the stores',
  anyOf: [{ type: 'array', items: { enum: frameworks }, minItems: 1, uniqueItems: true }, text],
} as const;

const closed = (description: string, properties: Readonly<Record<string, object>>) => ({
  description,
  type: 'object',
  additionalProperties: false,
  properties,
});

/** The JSON Schema of the project file: the options of the commands, by the names that they have there. */
export const configSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Leeshore project file',
  ...closed('What the commands do when the command line does not say otherwise.', {
    files: {
      description: 'the schema files, or patterns for them, relative to this file',
      type: 'array',
      items: text,
      minItems: 1,
    },
    check: closed('Options of check.', {
      advice: flag,
      json: flag,
      sarif: flag,
      'max-warnings': { type: 'integer', minimum: 0 },
    }),
    show: closed('Options of show.', {
      store: text,
      json: flag,
      dot: flag,
      mermaid: flag,
    }),
    format: closed('Options of format.', { check: flag }),
    generate: closed('Options of generate.', {
      style,
      out: text,
      for: readers,
      log: flag,
      only: names,
      guard: { description: 'when snapshots are frozen', enum: guardChoices },
      begin: { description: 'what stores begin with', enum: beginChoices },
      checks: { description: 'when payloads and stored values are judged', enum: checkChoices },
      layout: { description: 'a file for each store, or one file', enum: layouts },
      language: { description: 'TypeScript, or JavaScript with declarations', enum: languages },
      force: flag,
      'dry-run': flag,
      diff: flag,
      verify: flag,
      watch: flag,
    }),
    replay: closed('Options of replay.', {
      style,
      with: text,
      mapping: text,
      from: { type: 'integer', minimum: 1 },
      to: { type: 'integer', minimum: 1 },
      differences: { type: 'integer', minimum: 1 },
      junit: text,
      json: flag,
    }),
    timeline: closed('Options of timeline.', {
      store: names,
      action: names,
      field: text,
      problems: flag,
      at: { type: 'integer', minimum: 1 },
      html: text,
      live: flag,
      schema: text,
      style,
      generated: text,
      with: text,
      json: flag,
    }),
    weigh: closed('Options of weigh.', {
      style,
      for: readers,
      checks: { description: 'when payloads and stored values are judged', enum: checkChoices },
      guard: { description: 'when snapshots are frozen', enum: guardChoices },
      layout: { description: 'a file for each store, or one file', enum: layouts },
      against: text,
      limit: text,
      json: flag,
    }),
    compare: closed('Options of compare.', {
      style,
      generated: text,
      steps: { type: 'integer', minimum: 1 },
      for: { type: 'number', exclusiveMinimum: 0 },
      seed: { type: 'integer' },
      search: { enum: searches },
      depth: { type: 'integer', minimum: 1 },
      jobs: { type: 'integer', minimum: 1 },
      shard: text,
      corpus: text,
      with: text,
      faults: { anyOf: [{ type: 'integer', minimum: 1 }, { const: 'all' }] },
      differences: { type: 'integer', minimum: 1 },
      limit: { type: 'number', exclusiveMinimum: 0 },
      ignore: names,
      'require-coverage': { type: 'number', minimum: 0, maximum: 100 },
      junit: text,
      script: text,
      save: text,
      watch: flag,
      json: flag,
    }),
  }),
} as const;
