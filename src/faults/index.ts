// What can be planted in stores: others import nothing of this folder but what stands here.
export type { Fault, FaultKind, TriedFault } from './fault.js';

/** The catalogue of faults, and what plants them. */
export const loadFaults = async () => ({
  ...(await import('./code-faults.js')),
  ...(await import('./model-faults.js')),
  ...(await import('./choose.js')),
  ...(await import('./plant.js')),
});
