import type { Script } from '../comparing/index.js';
import { LoadError } from '../participants/index.js';
import { playSideBySide, type PlayedScript } from '../logs/index.js';
import { OneWorker } from './one-worker.js';
import { searchingOf, type Cast } from './searching-of.js';

/** Does a script side by side in this thread: with code that was generated, which comes back. */
export async function playHere(cast: Cast, script: Script): Promise<PlayedScript> {
  const { application, participants } = await searchingOf(cast);
  return playSideBySide(application, participants, script);
}

/** Does a script side by side in a worker: code of the user's may never come back. Throws {@link LoadError}. */
export async function playInWorker(cast: Cast, script: Script): Promise<PlayedScript> {
  const worker = await OneWorker.begin(cast);
  try {
    const answer = await worker.ask({ kind: 'replay', replay: { kind: 'play', script } });
    if (answer.kind === 'played') return answer.played;
    throw new LoadError(
      cast.external[0]?.path ?? '',
      'why' in answer ? answer.why : `a worker answers '${answer.kind}'`,
    );
  } finally {
    await worker.end();
  }
}
