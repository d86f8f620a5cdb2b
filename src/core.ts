/** Everything that the commands use of the stages. */
export {
  checkSchemas,
  compareStores,
  findFaults,
  formatSchema,
  generatedInMemory,
  generateStyle,
  ownershipOf,
  participantFor,
  participantUpdate,
  playScript,
  replayLog,
  typesModule,
  styleOf,
  survey,
  weighStores,
  type CheckResult,
  type GeneratedFolder,
  type SchemaFile,
} from './pipeline.js';
export type { SchemaAccess } from './check/read-files.js';
export { frameworks, styles, type Framework, type Style } from './base/styles.js';
export {
  beginChoices,
  checkChoices,
  guardChoices,
  languages,
  layouts,
  type EmitOptions,
} from './emit/index.js';
export { onlyStores } from './model/only-stores.js';
export { nearest } from './base/suggest.js';
export { LoadError } from './load/load-error.js';
export { typesDocument } from './model/json-schema.js';
export {
  countText,
  plainPaint,
  problemToJson,
  renderProblems,
  type Paint,
} from './diagnostics/render.js';
export { problemsToSarif } from './report/sarif.js';
export { surveyToJson } from './report/survey-json.js';
export { surveyText } from './report/survey-text.js';
export { surveyToSarif } from './report/survey-sarif.js';
export { readableFiles } from './survey/index.js';
export { weighingToJson } from './report/weigh-json.js';
export { weighText } from './report/weigh-text.js';
export { WeighError } from './weigh/index.js';
export { SurveyError, type Survey } from './survey/index.js';
export { codesMarkdown, codesText, explainText, nearestCode } from './report/explain-text.js';
export { overviewOf } from './report/overview.js';
export { overviewDot, overviewMermaid } from './report/overview-graph.js';
export { overviewText } from './report/overview-text.js';
export { checkToJson, summaryText } from './report/check-report.js';
export { observables, type ObservedClass } from './model/observed-class.js';
export type {
  ExternalEnvironment,
  ExternalOutcome,
  ExternalParticipant,
  ExternalStores,
} from './model/external.js';
export type { Comparison } from './explore/comparison.js';
export { searches, usualSteps, type SearchKind, type Shard } from './explore/plan.js';
export type { Script } from './explore/script.js';
export { comparisonToJUnit, percentReached } from './report/comparison-junit.js';
export { comparisonText } from './report/comparison-text.js';
export { comparisonToJson, type ComparisonJson } from './report/comparison-json.js';
export { faultsToJson } from './report/faults-json.js';
export { faultsText } from './report/faults-text.js';
export { mergeComparisons } from './report/merge-comparisons.js';
export { readScript, scriptText, unknownIn } from './report/script-file.js';
export { bundledParticipant } from './library/bundled-participant.js';
export { ownVersion, packageRoot, readRuntime } from './library/package-files.js';
export { MissingPackage } from './base/missing-package.js';
export { InconsistentLog } from './log/groups.js';
export { MappingError } from './log/mapping.js';
export { LogError } from './log/read-log.js';
export { replayToJson } from './report/replay-json.js';
export { replayToJUnit } from './report/replay-junit.js';
export { replayText } from './report/replay-text.js';
export { Grouping, type LogPart } from './log/groups.js';
export { isHead, type LogHead, type LoggedState, type LogLine } from './log/log-lines.js';
export { readLog, type NumberedEntry } from './log/read-log.js';
export { Timeline, type Moment, type TimelineFilter, type TimelineRow } from './log/timeline.js';
export { TimelineJsonWriter } from './report/timeline-json.js';
export { counted } from './report/value-text.js';
export { momentText, timelineAnswer, timelineHead, timelineRow } from './report/timeline-text.js';
export { pageBlock, pageHead, pageMark, pageTail } from './report/timeline-page.js';
