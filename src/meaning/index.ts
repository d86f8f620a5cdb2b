// What the model means: others import nothing else of this folder.
export { referenceParticipant } from './reference.js';
export { reloadedBy } from './reloaded.js';
