/** Everything that the commands use of the rooms. */
export { checkSchemas, formatSchema, type CheckResult, type SchemaFile } from './jobs/check.js';
export { compareStores } from './jobs/compare.js';
export { findFaults } from './jobs/find-faults.js';
export { generatedInMemory, generateStyle } from './jobs/generate.js';
export { playScript, replayLog } from './jobs/replay.js';
export { survey } from './jobs/survey.js';
export { weighStores } from './jobs/weigh.js';
export { participantFor, participantUpdate, typesModule } from './jobs/write-participant.js';
export { ownershipOf, styleOf } from './model/file-header.js';
export type { GeneratedFolder } from './participants/index.js';
export { plainPaint, type Paint } from './report/paint.js';
export {
  type SchemaAccess,
  countText,
  problemToJson,
  renderProblems,
  problemsToSarif,
  codesMarkdown,
  codesText,
  explainText,
  nearestCode,
  overviewOf,
  overviewDot,
  overviewMermaid,
  overviewText,
  checkToJson,
  summaryText,
} from './language/index.js';
export { frameworks, styles, type Framework, type Style } from './base/styles.js';
export {
  beginChoices,
  checkChoices,
  guardChoices,
  languages,
  layouts,
  type EmitOptions,
} from './generation/index.js';
export { onlyStores } from './model/only-stores.js';
export { nearest } from './base/suggest.js';
export { LoadError } from './participants/index.js';
export { typesDocument } from './model/json-schema.js';
export {
  surveyToJson,
  surveyText,
  surveyToSarif,
  readableFiles,
  SurveyError,
  type Survey,
} from './survey/index.js';
export { weighingToJson, weighText, WeighError } from './weigh/index.js';
export { observables, type ObservedClass } from './model/observed-class.js';
export type {
  ExternalEnvironment,
  ExternalOutcome,
  ExternalParticipant,
  ExternalStores,
} from './model/external.js';
export {
  type Comparison,
  searches,
  usualSteps,
  type SearchKind,
  type Shard,
  type Script,
  comparisonToJUnit,
  percentReached,
  comparisonText,
  comparisonToJson,
  type ComparisonJson,
  faultsToJson,
  faultsText,
  mergeComparisons,
  readScript,
  scriptText,
  unknownIn,
} from './comparing/index.js';
export { bundledParticipant } from './library/bundled-participant.js';
export { ownVersion, packageRoot, readRuntime } from './library/package-files.js';
export { MissingPackage } from './base/missing-package.js';
export {
  InconsistentLog,
  MappingError,
  LogError,
  replayToJson,
  replayToJUnit,
  replayText,
  Grouping,
  type LogPart,
  isHead,
  type LogHead,
  type LoggedState,
  type LogLine,
  readLog,
  type NumberedEntry,
  Timeline,
  type Moment,
  type TimelineFilter,
  type TimelineRow,
  TimelineJsonWriter,
  momentText,
  timelineAnswer,
  timelineHead,
  timelineRow,
  pageBlock,
  pageHead,
  pageMark,
  pageTail,
} from './logs/index.js';
export { counted } from './report/value-text.js';
