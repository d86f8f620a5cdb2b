/** Whether everything is tried: `npm run soak`. */
export const isSoak = process.env.LEESHORE_SOAK !== undefined;

/** Which share of a sweep is tried otherwise. A CI server takes another one for each commit. */
const share = Number(process.env.LEESHORE_SHARE ?? 0);

/** What is tried of a sweep: all in a soak, else a few that are spread over all; which ones depends on the share. */
export function someOf<T>(all: readonly T[], count: number): readonly T[] {
  if (isSoak || count >= all.length) return all;
  const apart = all.length / count;
  const first = share % all.length;
  return Array.from(
    { length: count },
    (_, i) => all[(first + Math.floor(i * apart)) % all.length] as T,
  );
}

/** How much is tried: `few`, or `many` in a soak. */
export const howMany = (few: number, many: number): number => (isSoak ? many : few);
