// From the text of a schema to its model or its problems: others import nothing else of this folder.
export type { Formatted } from './check/format-schema.js';
export type { SchemaAccess } from './check/read-files.js';
export type { Problem } from './problems/problem.js';
export { countText, problemToJson, renderProblems } from './problems/render.js';
export { checkToJson, summaryText } from './reports/check-report.js';
export { codesMarkdown, codesText, explainText, nearestCode } from './reports/explain-text.js';
export { overviewDot, overviewMermaid } from './reports/overview-graph.js';
export { overviewText } from './reports/overview-text.js';
export { overviewOf } from './reports/overview.js';
export { problemsToSarif } from './reports/sarif.js';
