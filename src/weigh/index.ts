// How large modules are in an application: others import nothing else of this folder.
export { WeighError } from './weigh-error.js';
export { weighingToJson } from './weigh-json.js';
export type { StyleWeight, Weighing } from './weigh-result.js';
export { weighText } from './weigh-text.js';
