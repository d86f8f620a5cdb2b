// Who runs a search or a replay: this thread, or workers that can be stopped: others import nothing else of this folder.
export type { ExternalFile } from './searching-of.js';
export type { PlantedFault } from './try-faults.js';
