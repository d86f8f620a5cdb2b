// What can be planted in stores: others import nothing of this folder but what stands here.
export type { Fault, FaultKind, TriedFault } from './fault.js';
