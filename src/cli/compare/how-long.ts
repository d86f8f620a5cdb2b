/** When a search ends, in the milliseconds of its clock; its steps end it if no seconds are given. */
export const endOf = (start: number, seconds: number | undefined): number =>
  seconds === undefined ? Infinity : start + seconds * 1000;

/** A search that takes longer than this, in milliseconds, says how it can be made shorter. */
const patience = 5000;

/** How far a search has come, for the line of its progress. */
export function progressNote({
  steps,
  most,
  reached,
  ms,
}: Readonly<Record<'steps' | 'most' | 'reached' | 'ms', number>>): string {
  const rate = steps / ms;
  const note = `${reached} reached, ${Math.round(rate * 1000)} steps/s`;
  if (ms < patience || rate === 0) return note;
  const left = Math.ceil((most - steps) / rate / 1000);
  return `${left} s left, Ctrl+C ends it; ${note}; --steps sets how many`;
}
