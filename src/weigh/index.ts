// How large modules are in an application: others import nothing of this folder but what stands here.
export { WeighError } from './weigh-error.js';
export type { StyleWeight, Weighing } from './weigh-result.js';

/** What weighs: it needs a bundler, and loads when it is asked for. */
export const loadWeighing = async () => ({
  ...(await import('./weigh.js')),
  ...(await import('./style-weight.js')),
});
