// What the model means: others import nothing of this folder but what stands here.
export { referenceParticipant } from './reference.js';
export { reloadedBy } from './reloaded.js';
