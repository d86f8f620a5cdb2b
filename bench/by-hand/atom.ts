import { isAdmitted, start, usedIn, type DeckStore } from './deck.js';

class Cell<T> {
  readonly readers = new Set<Computed<unknown>>();
  constructor(public value: T) {}

  set(value: T, dirty: Set<Computed<unknown>>): void {
    if (value === this.value) return;
    this.value = value;
    for (const reader of this.readers) reader.spoil(dirty);
  }
}

class Computed<T> {
  readonly readers = new Set<Computed<unknown>>();
  #value: T | undefined;
  #fresh = false;
  constructor(
    readonly compute: () => T,
    sources: readonly { readonly readers: Set<Computed<unknown>> }[],
  ) {
    for (const source of sources) source.readers.add(this);
  }

  get(): T {
    if (!this.#fresh) {
      this.#value = this.compute();
      this.#fresh = true;
    }
    return this.#value as T;
  }

  spoil(dirty: Set<Computed<unknown>>): void {
    if (!this.#fresh) return;
    this.#fresh = false;
    dirty.add(this);
    for (const reader of this.readers) reader.spoil(dirty);
  }
}

/** An atom store as an expert writes one. */
export function createAtomByHand(newId: () => string): DeckStore {
  const vehicles = new Cell(start.vehicles);
  const capacityM = new Cell(start.capacityM);
  const byLane = new Cell(start.byLane);
  const usedM = new Computed(() => usedIn(vehicles.value), [vehicles]);
  const freeM = new Computed(() => capacityM.value - usedM.get(), [capacityM, usedM]);
  const watchers = new Set<{ last: number; changed: (metres: number) => void }>();
  const transact = (work: (dirty: Set<Computed<unknown>>) => void) => {
    const dirty = new Set<Computed<unknown>>();
    work(dirty);
    if (!dirty.has(freeM)) return true;
    for (const watcher of watchers) {
      const now = freeM.get();
      if (now !== watcher.last) watcher.changed((watcher.last = now));
    }
    return true;
  };
  return {
    admit: (payload) =>
      isAdmitted(payload) &&
      transact((dirty) => {
        vehicles.set([...vehicles.value, { id: newId(), boarded: false, ...payload }], dirty);
        byLane.set(
          { ...byLane.value, [payload.lane]: (byLane.value[payload.lane] ?? 0) + payload.lengthM },
          dirty,
        );
      }),
    turn(id) {
      const place = vehicles.value.findIndex((vehicle) => vehicle.id === id);
      const vehicle = vehicles.value[place];
      if (vehicle === undefined) return false;
      const turned = { ...vehicle, boarded: !vehicle.boarded };
      return transact((dirty) => vehicles.set(vehicles.value.with(place, turned), dirty));
    },
    leave(id) {
      const left = vehicles.value.filter((vehicle) => vehicle.id !== id);
      if (left.length === vehicles.value.length) return false;
      return transact((dirty) => vehicles.set(left, dirty));
    },
    setCapacity: (metres) =>
      metres >= usedM.get() && transact((dirty) => capacityM.set(metres, dirty)),
    vehicles: () => vehicles.value,
    freeM: () => freeM.get(),
    watchFree(changed) {
      const watcher = { last: freeM.get(), changed };
      watchers.add(watcher);
      return () => void watchers.delete(watcher);
    },
  };
}
