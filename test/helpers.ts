import { readFileSync } from 'node:fs';
import { checkSchemas } from '../src/jobs/check.js';
import { generatedInMemory } from '../src/jobs/generate.js';
import type { GeneratedFolder } from '../src/participants/generated-participant.js';
import type { Application } from '../src/model/application.js';
import type { EmitOptions } from '../src/generation/emit-options.js';
import type { Style } from '../src/base/styles.js';

/** The folder of the project, with a slash at its end. */
export const root = new URL('..', import.meta.url);

export const ferryPath = 'examples/skerry/ferry.stores.yaml';
export const ferryText = readFileSync(new URL(ferryPath, root), 'utf8');

export const readRuntime = (path: string) =>
  readFileSync(new URL(`src/generation/${path}`, root), 'utf8');

export const allStyles: readonly Style[] = ['reducer', 'atom', 'proxy', 'observable'];

/** The model of a schema that must be fine. */
export async function modelOf(text: string): Promise<Application> {
  const { application, problems } = await checkSchemas([{ path: 'test.stores.yaml', text }]);
  if (application === undefined)
    throw new Error(problems.map(({ code, message }) => `${code}: ${message}`).join('\n'));
  return application;
}

/** The problems of a schema, each as `line:column code message`. */
export async function problemsOf(text: string): Promise<string[]> {
  const { problems } = await checkSchemas([{ path: 'test.stores.yaml', text }]);
  const errors = problems.filter(({ severity }) => severity === 'error');
  return errors.map(({ span, code, message }) => {
    const { line, column } = span.source.placeOf(span.start);
    return `${line}:${column} ${code} ${message}`;
  });
}

/** The model of the harbour, which takes in the ferry's file. */
export async function harbourModel(): Promise<Application> {
  const read = (path: string) =>
    readFileSync(new URL(`examples/skerry/${path.replace('./', '')}`, root), 'utf8');
  const path = 'harbour.stores.yaml';
  const { application } = await checkSchemas([{ path, text: read(path) }], {
    resolve: (_from, named) => named,
    identity: (named) => named,
    read,
  });
  if (application === undefined) throw new Error('the example is not sound');
  return application;
}

/** A schema of one store 'deck' around some of its parts. */
export function deckSchema(parts: {
  state?: string;
  derived?: string;
  actions?: string;
  types?: string;
}): string {
  const indent = (text: string, by: number) => text.replace(/^(?=.)/gm, ' '.repeat(by));
  const section = (name: string, text: string | undefined) =>
    text === undefined ? '' : `    ${name}:\n${indent(text.trim(), 6)}\n`;
  return [
    'leeshore: 1\n',
    parts.types === undefined ? '' : `types:\n${indent(parts.types.trim(), 2)}\n`,
    'stores:\n  deck:\n',
    section('state', parts.state ?? 'capacityM: { type: number, default: 240 }'),
    section('derived', parts.derived),
    section('actions', parts.actions),
  ].join('');
}

/** The generated stores of some styles, in memory. */
export function foldersOf(
  application: Application,
  styles = allStyles,
  output: Partial<EmitOptions> = {},
): Promise<GeneratedFolder[]> {
  return generatedInMemory(application, styles, readRuntime, output);
}

/** A clock that stands still, and never ends a search. */
export const unlimited = { clock: () => 0, until: Infinity } as const;
