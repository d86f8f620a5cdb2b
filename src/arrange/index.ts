// The files of a style in other arrangements: others import nothing of this folder but what stands here.
export type { UpdatedParticipant } from './update-participant.js';

// All of them need the compiler, and load when they are asked for.
export const loadOneFile = () => import('./one-file.js');
export const loadJavaScript = () => import('./javascript.js');
export const loadUpdating = () => import('./update-participant.js');
