// The files of a style in other arrangements: others import nothing of this folder but what stands here.
export type { UpdatedParticipant } from './update-participant.js';
