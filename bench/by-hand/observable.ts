import { isAdmitted, start, usedIn, type DeckStore } from './deck.js';

type Next<T> = (value: T) => void;

class Field<T> {
  readonly observers = new Set<Next<T>>();
  constructor(public value: T) {}

  next(value: T): void {
    if (value === this.value) return;
    this.value = value;
    for (const observer of this.observers) observer(value);
  }
}

/** A store of streams as an expert writes one: values are pushed, and combined once a transaction. */
export function createObservableByHand(newId: () => string): DeckStore {
  const vehicles = new Field(start.vehicles);
  const capacityM = new Field(start.capacityM);
  const byLane = new Field(start.byLane);
  const usedM = new Field(0);
  const freeM = new Field(start.capacityM);
  let isStale = false;
  vehicles.observers.add((list) => {
    usedM.next(usedIn(list));
  });
  for (const source of [capacityM, usedM]) source.observers.add(() => (isStale = true));
  const act = (work: () => void) => {
    work();
    if (isStale) freeM.next(capacityM.value - usedM.value);
    isStale = false;
    return true;
  };
  return {
    admit: (payload) =>
      isAdmitted(payload) &&
      act(() => {
        vehicles.next([...vehicles.value, { id: newId(), boarded: false, ...payload }]);
        byLane.next({
          ...byLane.value,
          [payload.lane]: (byLane.value[payload.lane] ?? 0) + payload.lengthM,
        });
      }),
    turn(id) {
      const place = vehicles.value.findIndex((vehicle) => vehicle.id === id);
      const vehicle = vehicles.value[place];
      if (vehicle === undefined) return false;
      const turned = { ...vehicle, boarded: !vehicle.boarded };
      return act(() => vehicles.next(vehicles.value.with(place, turned)));
    },
    leave(id) {
      const left = vehicles.value.filter((vehicle) => vehicle.id !== id);
      return left.length < vehicles.value.length && act(() => vehicles.next(left));
    },
    setCapacity: (metres) => metres >= usedM.value && act(() => capacityM.next(metres)),
    vehicles: () => vehicles.value,
    freeM: () => freeM.value,
    watchFree(changed) {
      freeM.observers.add(changed);
      return () => void freeM.observers.delete(changed);
    },
  };
}
