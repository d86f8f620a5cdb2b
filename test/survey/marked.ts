import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Survey, SurveyPlace } from '../../src/survey/survey-result.js';
import { surveyApplication } from '../../src/survey/survey.js';
import { root } from '../helpers.js';

/** What is written as a comment before a place that a survey has to find: `@ read Terminal.cars`. */
const mark = /\/\*@ ([\w-]+)(?: ([\w.]+))? \*\//g;

/** Modules of an application, by their paths; `old.ts` is the old store if nothing else is said. */
export type Modules = Readonly<Record<string, string>>;

/** A survey of modules, with what they are marked with. */
export async function surveyOf(
  modules: Modules,
  {
    old = ['old.ts'],
    newIndex,
    participant,
  }: {
    readonly old?: readonly string[];
    readonly newIndex?: string;
    readonly participant?: string;
  } = {},
): Promise<{
  readonly survey: Survey;
  readonly found: readonly string[];
  readonly marked: readonly string[];
}> {
  const folder = mkdtempSync(join(tmpdir(), 'leeshore-survey-'));
  try {
    for (const [path, text] of Object.entries(modules)) {
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      writeFileSync(join(folder, path), text);
    }
    symlinkSync(fileURLToPath(new URL('node_modules', root)), join(folder, 'node_modules'));
    const at = (path: string) => join(folder, path);
    const survey = await surveyApplication({
      modules: Object.keys(modules)
        .filter((path) => !path.endsWith('.json'))
        .map(at),
      old: old.map(at),
      newIndex: newIndex && at(newIndex),
      participant: participant && at(participant),
      folder,
    });
    const marked = Object.entries(modules).flatMap(([path, text]) => marksIn(path, text));
    return { survey, found: found(survey), marked: marked.sort() };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function marksIn(path: string, text: string): string[] {
  return [...text.matchAll(mark)].map((match) => {
    // Several marks in a row are for one place.
    const [more = ''] = /^(\/\*@ [^*]* \*\/)*/.exec(text.slice(match.index)) ?? [];
    const before = text.slice(0, match.index + more.length).split('\n');
    const place = `${path}:${before.length}:${(before.at(-1) ?? '').length + 1}`;
    return [place, ...match.slice(1).filter((part) => part !== undefined)].join(' ');
  });
}

const placed = ({ module, line, column }: SurveyPlace) => `${module}:${line}:${column}`;

/** What a survey has found, in the form of the marks. */
function found({ left, unclear, slips, leftBehind }: Survey): readonly string[] {
  return [
    ...left.map((one) => `${placed(one)} ${one.kind} ${one.member}`),
    ...unclear.map((one) => `${placed(one)} unclear`),
    ...slips.map((one) => `${placed(one)} ${one.kind}`),
    ...leftBehind.map((one) => `${placed(one)} ${one.what} ${one.name}`),
  ].sort();
}
