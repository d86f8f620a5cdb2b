import type { Log, ReportingDescriptor, Result } from 'sarif';
import type { Survey, SurveyPlace } from '../survey-result.js';
import { uriOf } from '../../report/uri.js';

const rules: readonly ReportingDescriptor[] = [
  { id: 'still-old', shortDescription: { text: 'This place still uses the old store.' } },
  {
    id: 'unclear',
    shortDescription: { text: 'A store is used here, and nobody can tell what of it.' },
  },
  { id: 'left-behind', shortDescription: { text: 'This is not needed any more.' } },
  { id: 'unknown-name', shortDescription: { text: 'The new stores have no such name.' } },
  { id: 'wrong-payload', shortDescription: { text: 'An action is given what it does not take.' } },
  { id: 'copied-out', shortDescription: { text: 'A copied value does not follow the store.' } },
  { id: 'changed-outside', shortDescription: { text: 'State is changed outside of an action.' } },
  { id: 'never-stopped', shortDescription: { text: 'This watcher is never stopped.' } },
];

/** A survey as a SARIF 2.1.0 log, for editors and CI servers. `version` is Leeshore's own. */
export function surveyToSarif(survey: Survey, version: string): Log {
  const results: Result[] = [
    ...survey.left.map((one) =>
      resultOf(
        one,
        'still-old',
        'note',
        `${one.member} is still used here.${one.instead === null ? '' : ` Write ${one.instead}`}`,
      ),
    ),
    ...survey.slips.map((one) => resultOf(one, one.kind, 'error', `${one.message} ${one.hint}`)),
    ...survey.unclear.map((one) => resultOf(one, 'unclear', 'warning', `${one.message}.`)),
    ...survey.leftBehind.map((one) =>
      resultOf(one, 'left-behind', 'note', `The ${one.what} '${one.name}' is not needed any more.`),
    ),
  ];
  return {
    version: '2.1.0',
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    runs: [
      {
        tool: { driver: { name: 'Leeshore', version, rules: [...rules] } },
        columnKind: 'utf16CodeUnits',
        results,
      },
    ],
  };
}

function resultOf(
  { module, line, column }: SurveyPlace,
  rule: string,
  level: 'error' | 'warning' | 'note',
  text: string,
): Result {
  return {
    ruleId: rule,
    ruleIndex: rules.findIndex(({ id }) => id === rule),
    level,
    message: { text },
    locations: [
      {
        physicalLocation: {
          artifactLocation: { uri: uriOf(module) },
          region: { startLine: line, startColumn: column },
        },
      },
    ],
  };
}
