// Scripts, the search for differences, what is reported of it, and the faults that are planted to try it: others import nothing else of this folder.
export type { Comparison } from './comparison.js';
export { type Executor, loadOf, localExecutor } from './executor.js';
export type { Fault, TriedFault } from './faults/fault.js';
export { freeTextsOf } from './inputs/free-texts.js';
export { firstInputs } from './inputs/inputs.js';
export type { Constants } from './inputs/odd-values.js';
export { allConstants, schemaConstants } from './inputs/schema-constants.js';
export { searches, type SearchKind, type Shard, usualSteps } from './plan.js';
export {
  type Answer,
  type Callable,
  callablesOf,
  type EarlyAnswer,
  Outside,
} from './playing/outside.js';
export { OwnIds } from './playing/own-ids.js';
export { Player } from './playing/player.js';
export { Reached } from './reached.js';
export { type ComparisonJson, comparisonToJson } from './reports/comparison-json.js';
export { comparisonToJUnit, percentReached } from './reports/comparison-junit.js';
export { comparisonText } from './reports/comparison-text.js';
export { faultsToJson } from './reports/faults-json.js';
export { faultsText } from './reports/faults-text.js';
export { mergeComparisons } from './reports/merge-comparisons.js';
export { readScript, scriptText, unknownIn } from './reports/script-file.js';
export { isSend, isStart, payloadIn, type Script, type ScriptStep } from './script.js';
export type { Compared, SearchOptions } from './search-options.js';
export type { Known, Searching } from './searching.js';
export type { Difference } from './session/difference.js';
export { observedOf } from './session/observed.js';
export { confirm, type Load } from './shrinking/confirm.js';
export type { Shrunk } from './shrinking/shrink.js';
export { type Found, runWorkItem, type WorkItem, type WorkResult } from './work-item.js';
