/** The longest time that timers can wait, in milliseconds. */
const longest = 2_147_483_647;

/** A time to wait, in whole milliseconds; `undefined` if no timer can wait that long, or not at all. */
export function delayOf(ms: unknown): number | undefined {
  const whole = Math.ceil(Number(ms));
  // -0 rounds up from what is just below 0, which is refused as such.
  return Number(ms) >= 0 && whole <= longest ? whole : undefined;
}
