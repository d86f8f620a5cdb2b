import { isAdmitted, start, type ByHand, type Deck } from './deck.js';

type Mutable = {
  -readonly [K in keyof Deck]: Deck[K] extends readonly (infer T)[] ? T[] : Deck[K];
};

/** A store behind a proxy as an expert writes one: copies on the first write, freezes what is new. */
export function createProxyByHand(newId: () => string): ByHand {
  let committed: Deck = Object.freeze({ ...start });
  let used = { of: committed.vehicles, metres: 0 };
  const watchers: { last: number; changed: (metres: number) => void }[] = [];
  const usedM = () => {
    if (used.of !== committed.vehicles) {
      const metres = committed.vehicles.reduce(
        (total, vehicle) => (vehicle.boarded ? total + vehicle.lengthM : total),
        0,
      );
      used = { of: committed.vehicles, metres };
    }
    return used.metres;
  };
  const freeM = () => committed.capacityM - usedM();
  const act = (change: (draft: Mutable) => void) => {
    const copies = new Map<PropertyKey, unknown>();
    const draft = new Proxy({} as Mutable, {
      get(_target, key) {
        if (!copies.has(key)) {
          const value: unknown = Reflect.get(committed, key);
          copies.set(
            key,
            Array.isArray(value)
              ? Array.from<unknown>(value)
              : typeof value === 'object'
                ? { ...value }
                : value,
          );
        }
        return copies.get(key);
      },
      set: (_target, key, value) => (copies.set(key, value), true),
    });
    change(draft);
    for (const value of copies.values()) {
      if (typeof value !== 'object' || value === null) continue;
      const parts: readonly unknown[] = Array.isArray(value) ? value : [];
      for (const part of parts)
        if (typeof part === 'object' && !Object.isFrozen(part)) Object.freeze(part);
      Object.freeze(value);
    }
    committed = Object.freeze({ ...committed, ...(Object.fromEntries(copies) as Partial<Deck>) });
    for (const watcher of watchers) {
      const now = freeM();
      if (now !== watcher.last) watcher.changed((watcher.last = now));
    }
    return true;
  };
  return {
    admit: (payload) =>
      isAdmitted(payload) &&
      act((deck) => {
        deck.vehicles.push({ ...payload, id: newId(), boarded: false });
        deck.byLane = {
          ...deck.byLane,
          [payload.lane]: (deck.byLane[payload.lane] ?? 0) + payload.lengthM,
        };
      }),
    setCapacity: (metres) => metres >= usedM() && act((deck) => void (deck.capacityM = metres)),
    freeM,
    watchFree: (changed) => void watchers.push({ last: freeM(), changed }),
  };
}
