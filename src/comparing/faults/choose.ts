import { Random } from '../../base/random.js';

/** Some of many, of each kind about as many as of the others: the same ones for the same seed. */
export function chooseEvenly<T>(
  all: readonly T[],
  kindOf: (one: T) => string,
  most: number,
  seed: number,
): readonly T[] {
  if (all.length <= most) return all;
  const random = new Random(seed);
  const byKind = new Map<string, T[]>();
  for (const one of all) {
    const kind = byKind.get(kindOf(one)) ?? [];
    kind.push(one);
    byKind.set(kindOf(one), kind);
  }
  const chosen = new Set<T>();
  while (chosen.size < most)
    for (const kind of byKind.values()) {
      const [one] = kind.splice(random.below(kind.length), 1);
      if (one !== undefined && chosen.size < most) chosen.add(one);
    }
  return all.filter((one) => chosen.has(one));
}
