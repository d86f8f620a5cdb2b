/**
 * Leeshore as a library: check a schema, generate its stores, compare them. What is not exported here may change at
 * any time; the commands have more options.
 */
export { checkSchemas, formatSchema, type CheckResult, type SchemaFile } from './jobs/check.js';
export { compareSchema, type CompareSettings } from './library/compare-schema.js';
export { generateStores, type GenerateSettings } from './library/generate-stores.js';
export { problemsText } from './library/problems-text.js';
export { styles, type Style } from './base/styles.js';
export type { GeneratedFile } from './generation/index.js';
export type { Application } from './model/application.js';
export type { Problem } from './language/index.js';
export type { ComparisonJson } from './comparing/index.js';
export { LoadError } from './participants/index.js';
export type {
  ExternalAnswer,
  ExternalChanged,
  ExternalDifference,
  ExternalEnvironment,
  ExternalGlobals,
  ExternalLog,
  ExternalLoggedAction,
  ExternalLoggedAnswer,
  ExternalLoggedName,
  ExternalName,
  ExternalOutcome,
  ExternalParticipant,
  ExternalRequest,
  ExternalStores,
  ExternalTask,
} from './model/external.js';
