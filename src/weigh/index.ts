// How large modules are in an application: others import nothing of this folder but what stands here.
export { WeighError } from './weigh-error.js';
export type { StyleWeight, Weighing } from './weigh-result.js';
