import { isAdmitted, start, usedIn, type Deck, type DeckStore, type Vehicle } from './deck.js';

type Mutable = {
  -readonly [K in keyof Deck]: Deck[K] extends readonly (infer T)[] ? T[] : Deck[K];
};

/** A store behind a proxy as an expert writes one: copies on the first write, freezes what is new. */
export function createProxyByHand(newId: () => string): DeckStore {
  let committed: Deck = Object.freeze({ ...start });
  let used = { of: committed.vehicles, metres: 0 };
  const watchers = new Set<{ last: number; changed: (metres: number) => void }>();
  const usedM = () => {
    if (used.of !== committed.vehicles)
      used = { of: committed.vehicles, metres: usedIn(committed.vehicles) };
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
            Array.isArray(value) ? value.slice() : typeof value === 'object' ? { ...value } : value,
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
  const placeOf = (id: string) => committed.vehicles.findIndex((vehicle) => vehicle.id === id);
  return {
    admit: (payload) =>
      isAdmitted(payload) &&
      act((deck) => {
        deck.vehicles.push({ id: newId(), boarded: false, ...payload });
        deck.byLane = {
          ...deck.byLane,
          [payload.lane]: (deck.byLane[payload.lane] ?? 0) + payload.lengthM,
        };
      }),
    turn(id) {
      const place = placeOf(id);
      if (place < 0) return false;
      return act((deck) => {
        const vehicle = deck.vehicles[place] as Vehicle;
        deck.vehicles[place] = { ...vehicle, boarded: !vehicle.boarded };
      });
    },
    leave(id) {
      const place = placeOf(id);
      return place >= 0 && act((deck) => void deck.vehicles.splice(place, 1));
    },
    setCapacity: (metres) => metres >= usedM() && act((deck) => void (deck.capacityM = metres)),
    vehicles: () => committed.vehicles,
    freeM,
    watchFree(changed) {
      const watcher = { last: freeM(), changed };
      watchers.add(watcher);
      return () => void watchers.delete(watcher);
    },
  };
}
