import type { Participant } from '../model/participant.js';

/** Rejections that nobody handles in this thread, since they were last asked for. */
const rejections: string[] = [];
let isListening = false;

/** The participant, which also tells of promises that were rejected with nobody to handle it. */
export function withLeaks(participant: Participant): Participant {
  if (!isListening)
    process.on('unhandledRejection', (reason) => {
      rejections.push(
        reason instanceof Error ? `${reason.name}: ${reason.message}` : String(reason),
      );
    });
  isListening = true;
  return { ...participant, leaks: () => rejections.splice(0) };
}
