import { isAdmitted, start, type ByHand } from './deck.js';

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
export function createAtomByHand(newId: () => string): ByHand {
  const vehicles = new Cell(start.vehicles);
  const capacityM = new Cell(start.capacityM);
  const byLane = new Cell(start.byLane);
  const usedM = new Computed(
    () =>
      vehicles.value.reduce(
        (total, vehicle) => (vehicle.boarded ? total + vehicle.lengthM : total),
        0,
      ),
    [vehicles],
  );
  const freeM = new Computed(() => capacityM.value - usedM.get(), [capacityM, usedM]);
  const watchers: { last: number; changed: (metres: number) => void }[] = [];
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
        vehicles.set([...vehicles.value, { ...payload, id: newId(), boarded: false }], dirty);
        byLane.set(
          { ...byLane.value, [payload.lane]: (byLane.value[payload.lane] ?? 0) + payload.lengthM },
          dirty,
        );
      }),
    setCapacity: (metres) =>
      metres >= usedM.get() && transact((dirty) => capacityM.set(metres, dirty)),
    freeM: () => freeM.get(),
    watchFree: (changed) => void watchers.push({ last: freeM.get(), changed }),
  };
}
