import type { Running, Target } from '../../model/participant.js';

type Take = (value: unknown) => void;

/** Follows a target as an observer; who cannot be followed so is watched. Returns what stops it. */
export function followed(running: Running, target: Target, take: Take): (() => void) | undefined {
  const source = running.follow?.(target);
  if (source === undefined) return running.watch?.(target, take);
  const subscription = source.subscribe({ next: take });
  return () => {
    subscription.unsubscribe();
  };
}

/** Takes all new values of a target by iterating over it; who cannot be iterated over is watched. */
export async function iterated(running: Running, target: Target, take: Take): Promise<void> {
  const source = running.follow?.(target);
  if (source === undefined) running.watch?.(target, take);
  else for await (const value of source) take(value);
}
