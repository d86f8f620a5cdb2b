import type { Location, Log, Result, ReportingDescriptor } from 'sarif';
import { catalogue, type Code } from '../problems/catalogue.js';
import type { Problem } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { uriOf } from '../../report/uri.js';

const levels = { error: 'error', warning: 'warning', advice: 'note' } as const;

/** Problems as a SARIF 2.1.0 log, for editors and CI servers. `version` is Leeshore's own. */
export function problemsToSarif(problems: readonly Problem[], version: string): Log {
  const codes = [...new Set(problems.map(({ code }) => code))].sort();
  return {
    version: '2.1.0',
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    runs: [
      {
        tool: { driver: { name: 'Leeshore', version, rules: codes.map(ruleOf) } },
        columnKind: 'utf16CodeUnits',
        results: problems.map((problem) => resultOf(problem, codes)),
      },
    ],
  };
}

function ruleOf(code: Code): ReportingDescriptor {
  return {
    id: code,
    defaultConfiguration: { level: levels[catalogue[code].severity] },
    help: { text: `leeshore explain ${code}` },
  };
}

function resultOf(
  { code, severity, message, hint, span, related }: Problem,
  codes: readonly Code[],
): Result {
  return {
    ruleId: code,
    ruleIndex: codes.indexOf(code),
    level: levels[severity],
    message: { text: hint === undefined ? message : `${message} ${hint}` },
    locations: [locationOf(span)],
    ...(related.length === 0
      ? {}
      : {
          relatedLocations: related.map((place, id) => ({
            id,
            message: { text: place.message },
            ...locationOf(place.span),
          })),
        }),
  };
}

function locationOf(span: Span): Location {
  const [start, end] = [span.source.placeOf(span.start), span.source.placeOf(span.end)];
  return {
    physicalLocation: {
      artifactLocation: { uri: uriOf(span.source.path) },
      region: {
        startLine: start.line,
        startColumn: start.column,
        endLine: end.line,
        endColumn: end.column,
      },
    },
  };
}
