// From code to participants: what loads generated and old stores and plays the world around them: others import nothing else of this folder.
export type { Span } from './branches/instrument.js';
export { WaysGone } from './branches/ways-gone.js';
export { waysTold } from './branches/ways-told.js';
export { KnownGlobals } from './changed-globals.js';
export { externalParticipant } from './external-participant.js';
export { type GeneratedFolder, generatedParticipant } from './generated-participant.js';
export { importText } from './import-text.js';
export { LoadError } from './load-error.js';
export { namesOf } from './names.js';
export { plainValue } from './plain-value.js';
export { unhandled } from './unhandled.js';
export {
  sharedMemory,
  SharedWatchdog,
  unwatched,
  type Watchdog,
  WatchedMemory,
} from './watchdog.js';
export { madeReady } from './without-types.js';
export { installDocument } from './world/install-document.js';
export { installGlobals } from './world/install-globals.js';
export { loadingIn } from './world/world.js';
