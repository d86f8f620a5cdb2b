import { isAdmitted, start, usedIn, type Admitted, type Deck, type DeckStore } from './deck.js';

type Action =
  | { readonly type: 'admit'; readonly id: string; readonly payload: Admitted }
  | { readonly type: 'turn' | 'leave'; readonly id: string }
  | { readonly type: 'setCapacity'; readonly metres: number };

function reduce(deck: Deck, action: Action): Deck {
  switch (action.type) {
    case 'admit': {
      const { payload, id } = action;
      const byLane = {
        ...deck.byLane,
        [payload.lane]: (deck.byLane[payload.lane] ?? 0) + payload.lengthM,
      };
      return { ...deck, vehicles: [...deck.vehicles, { id, boarded: false, ...payload }], byLane };
    }
    case 'turn': {
      const place = deck.vehicles.findIndex(({ id }) => id === action.id);
      const vehicle = deck.vehicles[place];
      if (vehicle === undefined) return deck;
      const turned = { ...vehicle, boarded: !vehicle.boarded };
      return { ...deck, vehicles: deck.vehicles.with(place, turned) };
    }
    case 'leave': {
      const vehicles = deck.vehicles.filter(({ id }) => id !== action.id);
      return vehicles.length === deck.vehicles.length ? deck : { ...deck, vehicles };
    }
    case 'setCapacity':
      return action.metres === deck.capacityM ? deck : { ...deck, capacityM: action.metres };
  }
}

/** A reducer store as an expert writes one. */
export function createReducerByHand(newId: () => string): DeckStore {
  let deck = start;
  let used = { of: deck.vehicles, metres: 0 };
  const listeners = new Set<() => void>();
  const usedM = () => {
    if (used.of !== deck.vehicles) used = { of: deck.vehicles, metres: usedIn(deck.vehicles) };
    return used.metres;
  };
  const freeM = () => deck.capacityM - usedM();
  const dispatch = (action: Action) => {
    const before = deck;
    deck = reduce(deck, action);
    if (deck === before) return false;
    for (const listener of listeners) listener();
    return true;
  };
  return {
    admit: (payload) => isAdmitted(payload) && dispatch({ type: 'admit', id: newId(), payload }),
    turn: (id) => dispatch({ type: 'turn', id }),
    leave: (id) => dispatch({ type: 'leave', id }),
    setCapacity: (metres) => metres >= usedM() && dispatch({ type: 'setCapacity', metres }),
    vehicles: () => deck.vehicles,
    freeM,
    watchFree(changed) {
      let last = freeM();
      const listener = () => {
        const now = freeM();
        if (now !== last) changed((last = now));
      };
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
  };
}
